//! Which entities of a drawing are read, and why others are not.

use std::borrow::Cow;
use std::collections::HashMap;

use fondant_quantities::Length;
use fondant_shapes::geometry::{Point, Ring};

use super::pairs::{self, Pair, first, flags, text};
use super::place::{Matrix, plane};
use super::shapes::lines;
use super::tables::{self, Block, Entity, LayerEntry, unescaped};
use crate::drawing::joining::{Piece, Pieces};
use crate::drawing::{Drawing, JOINED, Layer, Omitted, Options, Why, shortened};
use crate::text::decoded;
use crate::{DXF_LIMIT, FLATTENED_TO, FileError, sized};

/// Blocks within blocks that are followed.
const MOST_DEPTH: usize = 16;
/// Insertions that are followed: nested blocks multiply.
const MOST_INSERTS: usize = 100_000;
/// Most layers.
const MOST_LAYERS: usize = 1_000;
/// Unit of a drawing whose file names none, until the maker says which it is.
const UNTIL_SAID: Length = Length::from_mm(1.0);
/// Bytes before the first entity in which the code page stands.
const HEAD: usize = 100_000;

/// A drawing. The y axis of DXF points up and ours down the sheet: it is turned over about its
/// origin, which stays where it is.
///
/// # Errors
/// [`FileError`]: why it was not read.
pub fn read(bytes: &[u8], options: &Options) -> Result<Drawing, FileError> {
    sized(bytes, DXF_LIMIT)?;
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(HEAD)]);
    let page = tables::code_page(&head);
    let text: Cow<'_, str>;
    let pairs = if bytes.starts_with(pairs::SENTINEL) {
        pairs::of_binary(bytes, |value| decoded(value, page.as_deref()))?
    } else {
        text = decoded(bytes, page.as_deref());
        pairs::of_text(&text)?
    };
    if !pairs.iter().any(|p| p.is(0, "SECTION")) {
        return Err(FileError::NotThis { wanted: "DXF".into() });
    }
    let said = tables::unit(&pairs);
    let unit = options.unit.or(said).unwrap_or(UNTIL_SAID);
    let mut reader = Reader {
        unit,
        layers: tables::layers(&pairs)?,
        by_name: HashMap::new(),
        ticked: options.layers.as_deref(),
        blocks: tables::blocks(&pairs)?,
        pieces: Pieces::default(),
        omitted: Omitted::default(),
        inserts: 0,
        placing: Vec::new(),
    };
    reader.layers.truncate(MOST_LAYERS);
    let index = |(i, layer): (usize, &LayerEntry)| (layer.name.to_lowercase(), i);
    reader.by_name = reader.layers.iter().enumerate().map(index).collect();
    for entity in tables::entities(tables::section(&pairs, "ENTITIES")) {
        reader.place(&entity, &Within { matrix: Matrix::ONE, layer: None, depth: 0 })?;
    }
    reader.drawing(options.join.unwrap_or(JOINED), said)
}

/// Where an entity stands: in the drawing, or in a block that is inserted.
struct Within {
    matrix: Matrix,
    /// The layer of the insertion, which what lies on layer 0 of a block takes.
    layer: Option<usize>,
    depth: usize,
}

struct Reader<'a> {
    unit: Length,
    layers: Vec<LayerEntry>,
    by_name: HashMap<String, usize>,
    ticked: Option<&'a [usize]>,
    blocks: HashMap<String, Block<'a>>,
    pieces: Pieces,
    omitted: Omitted,
    inserts: usize,
    /// Names of the blocks that are being placed, the innermost last.
    placing: Vec<String>,
}

impl Reader<'_> {
    /// The place of a layer; one that no table names is added.
    fn layer(&mut self, entity: &Entity<'_>, within: &Within) -> usize {
        let name = unescaped(text(entity.pairs, 8));
        let name = if name.is_empty() { "0".to_owned() } else { name };
        if let Some(inherited) = within.layer.filter(|_| name == "0") {
            return inherited;
        }
        let key = name.to_lowercase();
        if let Some(index) = self.by_name.get(&key) {
            return *index;
        }
        if self.layers.len() >= MOST_LAYERS {
            return self.layers.len() - 1;
        }
        self.layers.push(LayerEntry { name, is_off: false, is_frozen: false });
        self.by_name.insert(key, self.layers.len() - 1);
        self.layers.len() - 1
    }

    /// Why nothing of a layer is read.
    fn shut(&self, layer: usize) -> Option<Why> {
        let entry = &self.layers[layer];
        let why = if entry.is_frozen {
            Some(Why::LayerFrozen)
        } else if entry.is_off {
            Some(Why::LayerOff)
        } else {
            entry.name.eq_ignore_ascii_case("defpoints").then_some(Why::NeverPlotted)
        };
        match self.ticked {
            Some(ticked) if ticked.contains(&layer) => None,
            Some(_) => why.or(Some(Why::Unticked)),
            None => why,
        }
    }

    /// Why an entity is not read, whatever it is.
    fn refused(&self, entity: &Entity<'_>, layer: usize) -> Result<Option<Why>, FileError> {
        if flags(entity.pairs, 67)? == 1 {
            return Ok(Some(Why::OnLayout));
        }
        if flags(entity.pairs, 60)? == 1 {
            return Ok(Some(Why::Hidden));
        }
        // What is inserted from a layer that is off is seen where its own layers are on.
        let stays = |why: &Why| entity.name != "INSERT" || *why == Why::LayerFrozen;
        Ok(self.shut(layer).filter(stays))
    }

    fn omit(&mut self, entity: &Entity<'_>, layer: usize, why: Why) {
        self.omitted.add(entity.name, &self.layers[layer].name, why, 1);
    }

    fn place(&mut self, entity: &Entity<'_>, within: &Within) -> Result<(), FileError> {
        let layer = self.layer(entity, within);
        if let Some(why) = self.refused(entity, layer)? {
            self.omit(entity, layer, why);
            return Ok(());
        }
        if entity.name == "INSERT" {
            return self.insert(entity, layer, within);
        }
        let growth = within.matrix.growth().max(1e-9);
        let tolerance = FLATTENED_TO.m() / (self.unit.m() * growth);
        match lines(entity, tolerance)? {
            Ok((lines, own)) => {
                let map = within.matrix.after(&own);
                let unit = self.unit.m();
                let there = |p: Point| {
                    let p = map.of(p);
                    Point { x_m: p.x_m * unit, y_m: -p.y_m * unit }
                };
                for line in lines {
                    let line: Ring = line.into_iter().map(there).collect();
                    self.pieces.add(Piece { line, layer, name: None })?;
                }
            }
            Err(why) => self.omit(entity, layer, why),
        }
        Ok(())
    }

    /// Places a block, once or in rows and columns.
    fn insert(
        &mut self,
        entity: &Entity<'_>,
        layer: usize,
        within: &Within,
    ) -> Result<(), FileError> {
        let p = entity.pairs;
        let name = text(p, 2).to_uppercase();
        let Some(block) = self.blocks.remove(&name) else {
            // A block that is being placed has been taken out: it would hold itself.
            let is_itself = self.placing.contains(&name);
            let why = if is_itself { Why::BlockTooDeep } else { Why::BlockMissing };
            self.omit(entity, layer, why);
            return Ok(());
        };
        self.placing.push(name);
        let placed = match plane(p)? {
            Some(own) if within.depth < MOST_DEPTH => {
                let at = Point { x_m: first(p, 10, 0.0)?, y_m: first(p, 20, 0.0)? };
                let turned = Matrix::turned(first(p, 50, 0.0)?.to_radians());
                let there = within.matrix.after(&own).after(&Matrix::moved(at)).after(&turned);
                self.rows_and_columns(p, &block, (layer, within.depth), &there)
            }
            Some(_) => {
                self.omit(entity, layer, Why::BlockTooDeep);
                Ok(())
            }
            None => {
                self.omit(entity, layer, Why::Tilted);
                Ok(())
            }
        };
        self.blocks.extend(self.placing.pop().map(|name| (name, block)));
        placed
    }

    fn rows_and_columns(
        &mut self,
        p: &[Pair<'_>],
        block: &Block<'_>,
        (layer, depth): (usize, usize),
        there: &Matrix,
    ) -> Result<(), FileError> {
        let scale = Matrix::scaled(first(p, 41, 1.0)?, first(p, 42, 1.0)?);
        let own = scale.after(&Matrix::moved(block.base.times(-1.0)));
        let (columns, rows) = (flags(p, 70)?.clamp(1, 10_000), flags(p, 71)?.clamp(1, 10_000));
        let (along, across) = (first(p, 44, 0.0)?, first(p, 45, 0.0)?);
        for place in 0..columns * rows {
            self.inserts += 1;
            if self.inserts > MOST_INSERTS {
                return Err(FileError::TooMuch("too many blocks are inserted".into()));
            }
            let (column, row) = ((place % columns) as f64, (place / columns) as f64);
            let by = Point { x_m: column * along, y_m: row * across };
            let matrix = there.after(&Matrix::moved(by)).after(&own);
            let within = Within { matrix, layer: Some(layer), depth: depth + 1 };
            for entity in &block.entities {
                self.place(entity, &within)?;
            }
        }
        Ok(())
    }

    fn drawing(mut self, join: Length, said: Option<Length>) -> Result<Drawing, FileError> {
        let names: Vec<String> = self.layers.iter().map(|layer| layer.name.clone()).collect();
        let joined = std::mem::take(&mut self.pieces).joined(join, &names, &mut self.omitted)?;
        let layers = names.iter().enumerate().map(|(index, name)| Layer {
            name: shortened(name),
            is_read: self.shut(index).is_none(),
            rings: joined.rings.iter().filter(|closed| closed.layer == index).count(),
        });
        Ok(Drawing {
            unit: self.unit,
            said,
            layers: layers.collect(),
            rings: joined.rings,
            open: joined.open,
            left_out: self.omitted.sorted(),
            sheet: None,
        })
    }
}

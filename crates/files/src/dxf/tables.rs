//! What stands before the entities of a drawing: unit, code page, layers, blocks.

use std::collections::HashMap;

use fondant_quantities::Length;
use fondant_shapes::geometry::Point;

use super::pairs::{Pair, first, flags, text};
use crate::FileError;

/// A layer by its table.
#[derive(Debug, Clone)]
pub(super) struct LayerEntry {
    pub(super) name: String,
    pub(super) is_off: bool,
    pub(super) is_frozen: bool,
}

/// Something drawn: its name, its pairs, and the vertices that follow it.
#[derive(Debug)]
pub(super) struct Entity<'a> {
    pub(super) name: &'a str,
    pub(super) pairs: &'a [Pair<'a>],
    pub(super) vertices: Vec<&'a [Pair<'a>]>,
}

/// Entities under a name, to be inserted.
#[derive(Debug)]
pub(super) struct Block<'a> {
    pub(super) base: Point,
    pub(super) entities: Vec<Entity<'a>>,
}

/// The value of a header variable.
fn header<'a>(pairs: &'a [Pair<'a>], name: &str) -> Option<&'a Pair<'a>> {
    let at = pairs.iter().position(|p| p.is(9, name))?;
    pairs.get(at + 1)
}

/// Length of one unit of the drawing by its header; `None` where it does not say
/// or what it says is no unit that a thing for a bench is drawn in: the maker is asked then.
pub(super) fn unit(pairs: &[Pair<'_>]) -> Option<Length> {
    /// Of the United States, until 2022: 1200/3937 m.
    const SURVEY_FOOT_MM: f64 = 1_200_000.0 / 3937.0;
    let pair = header(pairs, "$INSUNITS")?;
    Some(Length::from_mm(match pair.value.trim() {
        "1" => 25.4,
        "2" => 304.8,
        "4" => 1.0,
        "5" => 10.0,
        "6" => 1000.0,
        "8" => 25.4e-6,
        "9" => 0.0254,
        "10" => 914.4,
        "13" => 1e-3,
        "14" => 100.0,
        "15" => 10_000.0,
        "21" => SURVEY_FOOT_MM,
        "22" => SURVEY_FOOT_MM / 12.0,
        "23" => 3.0 * SURVEY_FOOT_MM,
        _ => return None,
    }))
}

/// The encoding that the header names by a code page: `ANSI_1252`.
pub(super) fn code_page(head: &str) -> Option<String> {
    let value = head.split_once("$DWGCODEPAGE")?.1.lines().nth(2)?.trim();
    let number = value.rsplit('_').next()?;
    match value.to_ascii_lowercase().split('_').next()? {
        "ansi" => Some(match number {
            "932" => "shift_jis".to_owned(),
            "936" => "gbk".to_owned(),
            "949" => "euc-kr".to_owned(),
            "950" => "big5".to_owned(),
            _ => format!("windows-{number}"),
        }),
        _ => None,
    }
}

/// The pairs of a section, its name left out.
pub(super) fn section<'a>(pairs: &'a [Pair<'a>], name: &str) -> &'a [Pair<'a>] {
    let begin = pairs.windows(2).position(|w| w[0].is(0, "SECTION") && w[1].is(2, name));
    let Some(begin) = begin else { return &[] };
    let rest = &pairs[begin + 2..];
    let end = rest.iter().position(|p| p.is(0, "ENDSEC")).unwrap_or(rest.len());
    &rest[..end]
}

/// Stretches of pairs that begin with a name.
fn records<'a>(pairs: &'a [Pair<'a>]) -> impl Iterator<Item = (&'a str, &'a [Pair<'a>])> {
    let starts: Vec<usize> =
        pairs.iter().enumerate().filter(|(_, p)| p.code == 0).map(|(i, _)| i).collect();
    (0..starts.len()).map(move |i| {
        let end = starts.get(i + 1).copied().unwrap_or(pairs.len());
        (pairs[starts[i]].value.as_ref(), &pairs[starts[i] + 1..end])
    })
}

/// The layers of the table.
pub(super) fn layers(pairs: &[Pair<'_>]) -> Result<Vec<LayerEntry>, FileError> {
    let mut layers = Vec::new();
    for (name, record) in records(section(pairs, "TABLES")) {
        if name == "LAYER" {
            layers.push(LayerEntry {
                name: unescaped(text(record, 2)),
                is_off: first(record, 62, 7.0)? < 0.0,
                is_frozen: flags(record, 70)? & 1 == 1,
            });
        }
    }
    Ok(layers)
}

/// The entities among some pairs, vertices with the polyline that they belong to.
pub(super) fn entities<'a>(pairs: &'a [Pair<'a>]) -> Vec<Entity<'a>> {
    let mut all: Vec<Entity<'a>> = Vec::new();
    for (name, record) in records(pairs) {
        match name {
            "VERTEX" => {
                if let Some(polyline) = all.last_mut().filter(|e| e.name == "POLYLINE") {
                    polyline.vertices.push(record);
                }
            }
            "SEQEND" => {}
            _ => all.push(Entity { name, pairs: record, vertices: Vec::new() }),
        }
    }
    all
}

/// The blocks by their names in capitals.
pub(super) fn blocks<'a>(pairs: &'a [Pair<'a>]) -> Result<HashMap<String, Block<'a>>, FileError> {
    let mut blocks = HashMap::new();
    let mut open: Option<(String, Block<'a>)> = None;
    for entity in entities(section(pairs, "BLOCKS")) {
        match (entity.name, &mut open) {
            ("BLOCK", _) => {
                let base = Point {
                    x_m: first(entity.pairs, 10, 0.0)?,
                    y_m: first(entity.pairs, 20, 0.0)?,
                };
                let name = text(entity.pairs, 2).to_uppercase();
                open = Some((name, Block { base, entities: Vec::new() }));
            }
            ("ENDBLK", _) => blocks.extend(open.take()),
            (_, Some((_, block))) => block.entities.push(entity),
            _ => {}
        }
    }
    Ok(blocks)
}

/// A name in which characters beyond the code page are written as `\U+00F6`.
pub(super) fn unescaped(name: &str) -> String {
    let mut parts = name.split("\\U+");
    let mut plain = parts.next().unwrap_or_default().to_owned();
    for part in parts {
        let code = part.get(..4).and_then(|hex| u32::from_str_radix(hex, 16).ok());
        match code.and_then(char::from_u32) {
            Some(c) => {
                plain.push(c);
                plain.push_str(&part[4..]);
            }
            None => {
                plain.push_str("\\U+");
                plain.push_str(part);
            }
        }
    }
    plain
}

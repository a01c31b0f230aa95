//! Drawings from and to SVG. Transforms, styles and shapes are resolved by `usvg`; what it passes
//! over without a word is looked at before: layers, units that are missing, transforms with units,
//! what is hidden or is no line.
//!
//! - `source`: the file as `usvg` is to read it, its layers and what is no line
//! - `size`: how long a unit is; `css`: transforms as CSS writes them; `hidden`: what is not to be seen
//! - `paths`: what `usvg` makes of it, as pieces of line
//! - [`write()`]: boards as a drawing

mod css;
mod hidden;
mod paths;
mod size;
mod source;
mod write;

use fondant_shapes::geometry::{Bounds, Point};
use usvg::roxmltree::{Document, ParsingOptions};

use crate::drawing::joining::Pieces;
use crate::drawing::{Drawing, JOINED, Layer, Options, shortened};
use crate::text::{declared_by_xml, decoded};
use crate::{FileError, SVG_LIMIT, sized};
use source::Source;
use write::ORIGIN;

pub use size::PIXEL_M;
pub use write::{path_data, write};

/// No form lies farther from the corner of a sheet, mm (convention).
const FARTHEST_MM: f64 = 1e5;
/// Most elements: more than a drawing of 200 000 points has.
const MOST_NODES: u32 = 1_000_000;

/// A drawing.
///
/// # Errors
/// [`FileError`]: why it was not read.
pub fn read(bytes: &[u8], options: &Options) -> Result<Drawing, FileError> {
    sized(bytes, SVG_LIMIT)?;
    let text = decoded(bytes, declared_by_xml(bytes).as_deref());
    if !text.contains("<svg") && !text.contains(":svg") {
        return Err(FileError::NotThis { wanted: "SVG".into() });
    }
    let xml = ParsingOptions { allow_dtd: true, nodes_limit: MOST_NODES, ..Default::default() };
    let document = Document::parse_with_options(&text, xml)
        .map_err(|error| FileError::Broken(error.to_string()))?;
    let sheet = size::Sheet::of(document.root_element());
    let scale = sheet.scale(options.unit);
    let mut source = Source::of(&document, &scale, options.layers.as_deref())?;
    let tree = usvg::Tree::from_str(&source.text, &plain())
        .map_err(|error| FileError::Broken(error.to_string()))?;
    let origin = origin(&document);
    let mut pieces = Pieces::default();
    let mut found = paths::Found::new(&source, &scale, origin);
    found.gather(tree.root())?;
    let (lines, drawn, clipped) = found.done();
    for piece in lines {
        pieces.add(piece)?;
    }
    source.omit_undrawn(&drawn, &clipped);
    let names: Vec<String> = source.layers.iter().map(|layer| layer.name.clone()).collect();
    let join = options.join.unwrap_or(JOINED);
    let joined = pieces.joined(join, &names, &mut source.omitted)?;
    let layers = source.layers.iter().enumerate().map(|(index, layer)| Layer {
        name: shortened(&layer.name),
        is_read: layer.is_read,
        rings: joined.rings.iter().filter(|closed| closed.layer == index).count(),
    });
    let corner =
        Point { x_m: f64::from(tree.size().width()), y_m: f64::from(tree.size().height()) };
    let far = corner.times(scale.pixel.m()).minus(origin);
    Ok(Drawing {
        unit: scale.unit,
        said: sheet.said(),
        layers: layers.collect(),
        rings: joined.rings,
        open: joined.open,
        left_out: source.omitted.sorted(),
        sheet: Some(Bounds { min: Point::default().minus(origin), max: far }),
    })
}

/// How `usvg` reads: a drawing names no other file, and no picture in it is an outline.
fn plain() -> usvg::Options<'static> {
    usvg::Options {
        dpi: 96.0,
        image_href_resolver: usvg::ImageHrefResolver {
            resolve_data: Box::new(|_, _, _| None),
            resolve_string: Box::new(|_, _| None),
        },
        ..usvg::Options::default()
    }
}

/// Where a drawing that was written here says that the form's corner lies on its sheet; the corner
/// of the sheet in any other.
fn origin(document: &Document<'_>) -> Point {
    let said = || {
        let (x, y) = document.root_element().attribute(ORIGIN)?.split_once(' ')?;
        let mm = |text: &str| text.parse().ok().filter(|mm: &f64| mm.abs() < FARTHEST_MM);
        Some(Point::from_mm(mm(x)?, mm(y)?))
    };
    said().unwrap_or_default()
}

#[cfg(test)]
mod tests;

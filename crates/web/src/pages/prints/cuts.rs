//! The cut list of a cast's form: for the page, as a table, and as a drawing for a saw or a router.

use fondant_cast::{Document, measure};
use fondant_files::drawing::sheet::{Part, Sheet};
use fondant_quantities::Length;
use fondant_shapes::form::FREEBOARD;
use fondant_shapes::form::cut_list::{CutList, Stock, cut_list};
use fondant_shapes::geometry::{Outline, Point};
use serde::Serialize;

use crate::drawings::blanks::part_name;
use crate::ui::error::WebError;

/// Space between the sheets of a drawing.
const BETWEEN: Length = Length::from_mm(100.0);

/// What is sawn for a form.
pub(super) struct Cuts {
    pub(super) list: CutList,
    pub(super) stock: Stock,
    /// Of the sheet.
    pub(super) thickness: Length,
    /// Length, width and height inside.
    pub(super) inside: [Length; 3],
}

impl Cuts {
    pub(super) fn of(document: &Document) -> Result<Self, WebError> {
        let none = || WebError::NotFound("cut list");
        let build = document.contents.build().ok_or_else(none)?;
        let measured = measure(document).map_err(|_| none())?;
        let height = measured.fill.depth() + FREEBOARD;
        let stock = build.stock();
        Ok(Self {
            list: cut_list(&measured.cast, height, build.thickness, stock),
            stock,
            thickness: build.thickness,
            inside: [measured.cast.length, measured.cast.width, height],
        })
    }
}

/// A line of the table, in millimetres.
#[derive(Serialize)]
struct Line {
    part: String,
    count: usize,
    length_mm: String,
    width_mm: String,
    thickness_mm: String,
}

/// The cut list as a table for other programs.
pub(super) fn csv(cuts: &Cuts) -> Result<String, WebError> {
    let fault = |error: String| WebError::Fault(error);
    let mm = |length: Length| format!("{:.1}", length.mm());
    let mut out = csv::Writer::from_writer(Vec::new());
    for cut in &cuts.list.cuts {
        let line = Line {
            part: part_name(cut.part).to_string(),
            count: cut.count,
            length_mm: mm(cut.length),
            width_mm: mm(cut.width),
            thickness_mm: mm(cuts.thickness),
        };
        out.serialize(line).map_err(|error| fault(error.to_string()))?;
    }
    let bytes = out.into_inner().map_err(|error| fault(error.to_string()))?;
    String::from_utf8(bytes).map_err(|error| fault(error.to_string()))
}

/// The pieces where they lie on the stock, sheet beside sheet.
pub(super) fn sheet(cuts: &Cuts, name: &str) -> Sheet {
    let Cuts { list, stock, .. } = cuts;
    let left = |sheet: usize| (stock.length + BETWEEN) * sheet as f64;
    let at = |length: Length, width: Length, x: Length, y: Length| {
        let corner = Point { x_m: x.m(), y_m: y.m() };
        Outline::rectangle(length, width).map(|p| p.plus(corner))
    };
    let stocks = (0..list.nest.sheets).map(|number| Part {
        name: format!("sheet {}", number + 1),
        layer: "Stock".to_owned(),
        outline: at(stock.length, stock.width, left(number), Length::ZERO),
    });
    let pieces = list.nest.placed.iter().enumerate().map(|(index, placed)| {
        let cut = list.cut_of_item.get(placed.item).and_then(|cut| list.cuts.get(*cut));
        let part = cut.map_or_else(String::new, |cut| part_name(cut.part).to_string());
        Part {
            name: format!("{part} {}", index + 1),
            layer: "Cuts".to_owned(),
            outline: at(placed.length, placed.width, left(placed.sheet) + placed.x, placed.y),
        }
    });
    let parts = stocks.chain(pieces).collect();
    Sheet { title: format!("{name}: cut list"), form: (stock.length, stock.width), parts }
}

//! A worked cast for the tests of views and drawings.

use fondant_cast::document::{PourId, River};
use fondant_cast::pours::{Planned, as_given};
use fondant_cast::{Document, Evaluation, Inputs, Kind, NotEvaluated, Site, evaluate};
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_pours::{Given, Schedule, ShopHours, Workday};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::Timestamp;
use jiff::civil::Time;

use crate::ui::units::Shown;

pub(crate) const METRIC: Shown = Shown::METRIC;

/// Nine on a Monday morning.
pub(crate) fn begin() -> Timestamp {
    "2026-11-23T09:00:00Z".parse().unwrap()
}

/// A shop open every day between two hours.
pub(crate) fn hours(opens: i8, closes: i8) -> ShopHours {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    ShopHours::new([Some(day); 7], "UTC").unwrap()
}

/// A form of 1000 × 500 mm inside, 40 mm boards, a river of 200, 300 and 200 mm.
pub(crate) fn river_top() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(980.0), mm(480.0), mm(36.0), mm(10.0));
    let mut document = Document::river_top("Sample".into(), piece, begin());
    river(&mut document).stations = [(0.0, 200.0), (500.0, 300.0), (1000.0, 200.0)]
        .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
        .to_vec();
    document
}

/// The river of a document that has one.
pub(crate) fn river(document: &mut Document) -> &mut River {
    document.contents.river_mut().unwrap()
}

/// A small cast of a kind, as it begins.
pub(crate) fn of_kind(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(120.0), mm(80.0), mm(30.0), Length::ZERO);
    Document::begin(kind, "Sample".into(), piece, begin())
}

/// Everything that follows from a document with a resin that ships.
pub(crate) fn inputs(document: &Document, hours: &ShopHours) -> Inputs {
    let resin = shipped::find(&document.resin).unwrap();
    Inputs::new(document.clone(), resin, &Site::plain(hours.clone()))
}

/// What follows from a document with a resin that ships.
pub(crate) fn worked(document: &Document, hours: &ShopHours) -> Result<Evaluation, NotEvaluated> {
    evaluate(&inputs(document, hours), &Stop::new())
}

pub(crate) fn evaluated(document: &Document) -> Evaluation {
    worked(document, &hours(8, 18)).unwrap()
}

/// The pours of a schedule as if they had been taken.
pub(crate) fn planned(schedule: &Schedule) -> Vec<Planned> {
    let planned = |(place, given): (usize, Given)| Planned { id: PourId::of_place(place), given };
    as_given(schedule).into_iter().enumerate().map(planned).collect()
}

/// The attribute `name` of the first element of a class.
pub(crate) fn attribute(svg: &str, class: &str, name: &str) -> f64 {
    let element = svg
        .split(&format!("class=\"{class}\""))
        .nth(1)
        .unwrap_or_else(|| panic!("no element of class {class} in {svg}"));
    let value = element.split(&format!(" {name}=\"")).nth(1).unwrap();
    value.split('"').next().unwrap().parse().unwrap()
}

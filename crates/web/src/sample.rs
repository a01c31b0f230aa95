//! A worked cast for the tests of views and drawings.

use fondant_cast::{Conflict, Evaluation, Plan, evaluate};
use fondant_materials::resin::shipped;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::Timestamp;
use jiff::civil::Time;

use crate::views::format::Shown;

pub(crate) const METRIC: Shown = Shown { system: UnitSystem::Metric };

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
pub(crate) fn plan() -> Plan {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(980.0), mm(480.0), mm(36.0), mm(10.0));
    let mut plan = Plan::river_top("Sample".into(), piece, begin());
    plan.river.stations = [(0.0, 200.0), (500.0, 300.0), (1000.0, 200.0)]
        .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
        .to_vec();
    plan
}

/// A small cast of a kind, as it begins.
pub(crate) fn of_kind(kind: fondant_cast::Kind) -> Plan {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(120.0), mm(80.0), mm(30.0), Length::ZERO);
    Plan::begin(kind, "Sample".into(), piece, begin())
}

/// What follows from a plan with a resin that ships.
pub(crate) fn worked(plan: &Plan, hours: &ShopHours) -> Result<Evaluation, Vec<Conflict>> {
    let site = fondant_cast::Site::plain(hours.clone());
    evaluate(plan, &shipped::find(&plan.resin).unwrap(), &site)
}

pub(crate) fn evaluated(plan: &Plan) -> Evaluation {
    worked(plan, &hours(8, 18)).unwrap()
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

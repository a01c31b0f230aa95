//! Documents and workshops to test with.

use fondant_app::records::WorkshopSettings;
use fondant_cast::document::{Cavities, River};
use fondant_cast::{Contents, Document, Kind, ShopSettings};
use fondant_pours::Workday;
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::Timestamp;
use jiff::civil::Time;

/// Monday, 23 November 2026, nine in the morning in UTC: the tests' now.
///
/// # Panics
/// Never: the text is a time.
#[must_use]
pub fn now() -> Timestamp {
    "2026-11-23T09:00:00Z".parse().expect("a time")
}

/// Moulds of which some are to be "sea" and two clear: a cup each.
#[must_use]
pub fn moulds_of_two_colours() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(120.0), mm(80.0), mm(12.0), Length::ZERO);
    let mut document = Document::begin(Kind::Moulds, "Two".into(), piece, now());
    if let Contents::Moulds(moulds) = &mut document.contents {
        let clear = Cavities { count: 2, ..moulds.cavities[0].clone() };
        moulds.cavities[0].colour = "sea".into();
        moulds.cavities.push(clear);
    }
    document
}

/// A shop that is open every day between two hours, in UTC.
#[must_use]
pub fn workshop(opens: i8, closes: i8) -> WorkshopSettings {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    WorkshopSettings {
        name: "Test bench".into(),
        time_zone: "UTC".into(),
        days: [const { Vec::new() }; 7].map(|_: Vec<Workday>| vec![day]),
        shop: ShopSettings::default(),
        units: UnitSystem::Metric,
    }
}

/// 1500 × 760 × 34 mm finished, 38 mm boards, a river of 137 to 281 mm.
#[must_use]
pub fn river_top(name: &str) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1500.0), mm(760.0), mm(34.0), mm(10.0));
    let mut document = Document::river_top(name.into(), piece, now());
    river(&mut document).stations =
        [(0.0, 217.0), (500.0, 281.0), (1000.0, 137.0), (1520.0, 186.0)]
            .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
            .to_vec();
    document
}

/// The river of a document that has one.
///
/// # Panics
/// For other kinds than a river.
pub fn river(document: &mut Document) -> &mut River {
    document.contents.river_mut().expect("a river")
}

/// A cast of a kind as it begins, 120 × 80 × 30 mm.
#[must_use]
pub fn of_kind(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(120.0), mm(80.0), mm(30.0), Length::ZERO);
    Document::begin(kind, format!("A {}", kind.slug()), piece, now())
}

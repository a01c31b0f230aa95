//! What the maker says of a cast that has come to its end, and of a fault.

use fondant_app::Shop;
use fondant_app::ending::{Seen, Told};
use fondant_quantities::bounds;
use fondant_record::end::Outcome;
use fondant_record::fault::{Fault, Place};
use fondant_record::figures::{Figure, Figures};
use jiff::Timestamp;

use super::super::pours::form::moment;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::expected;
use crate::ui::reader::Reader;
use crate::ui::slug::{named, slug};
use crate::ui::units::InUnits;

/// Longest remark, characters.
const NOTE_CHARACTERS: usize = 2000;
/// Figures of the kind yes or no that nothing may have measured.
pub(crate) const FLAGS: [Figure; 8] = [
    Figure::Sealed,
    Figure::JointsSealed,
    Figure::Release,
    Figure::Level,
    Figure::SecondPot,
    Figure::Watched,
    Figure::Covered,
    Figure::Sanded,
];

/// The name of a flag's field.
pub(crate) fn flag_field(figure: Figure) -> String {
    format!("flag_{}", slug(figure))
}

/// What the maker saw of the cast. Who has chosen to put the entries over what is newer has seen it.
pub(crate) fn seen(entries: &Entries) -> Result<Seen, WebError> {
    let is_over = entries.get("over").is_some();
    let record = if is_over { None } else { Some(entries.number("record").unwrap_or_default()) };
    Ok(Seen { cast: expected(entries)?, record })
}

/// What is said at the end of a cast.
pub(crate) fn told(entries: &Entries, shop: &Shop, now: Timestamp) -> Result<Told, Refusals> {
    let mut reader = Reader::new(entries, shop.shown().system);
    let outcome = entries.get("outcome").and_then(named).unwrap_or(Outcome::Finished);
    let (mut people, mut note) = (String::new(), String::new());
    reader.text("people", "Who worked on it", bounds::NAME_CHARACTERS, true, &mut people);
    reader.text("note", "The remark", NOTE_CHARACTERS, true, &mut note);
    let ended_at = entries.get("ended").and_then(|text| moment(text, shop));
    match ended_at {
        None => reader.refusals.add("ended", "A day and a time, such as 28 Nov 2026, 18:00."),
        Some(at) if at > now + jiff::SignedDuration::from_hours(24) => {
            reader.refusals.add("ended", "That is still to come.");
        }
        Some(_) => {}
    }
    let mut figures = Figures::default();
    for figure in FLAGS {
        match entries.get(&flag_field(figure)) {
            Some("yes") => figures.set_flag(figure, true),
            Some("no") => figures.set_flag(figure, false),
            _ => {}
        }
    }
    let (mut humidity, mut grit, mut bucket) = (None, None, None);
    reader.maybe_number("humidity", &bounds::HUMIDITY_PERCENT, &mut humidity);
    reader.maybe_number("grit_step", &bounds::GRIT_STEP, &mut grit);
    reader.maybe("bucket", &bounds::RESIN_TEMPERATURE, &mut bucket);
    figures.set_if(Figure::Humidity, humidity.map(|percent| percent / 100.0));
    figures.set_if(Figure::GritStep, grit);
    figures.set_if(Figure::Bucket, bucket.map(|at: fondant_quantities::Temperature| at.k()));
    if !reader.refusals.is_empty() {
        return Err(reader.refusals);
    }
    Ok(Told { outcome, ended_at: ended_at.unwrap_or(now), people, note, figures })
}

/// A fault as it is marked.
pub(crate) fn fault(entries: &Entries, shop: &Shop) -> Result<Fault, Refusals> {
    let mut reader = Reader::new(entries, shop.shown().system);
    let kind = named(entries.get("kind").unwrap_or_default());
    if kind.is_none() {
        reader.refusals.add("kind", "Choose what is wrong.");
    }
    let (mut x, mut y, mut z, mut size) = (None, None, None, None);
    reader.maybe("at_x", &bounds::FAULT_PLACE, &mut x);
    reader.maybe("at_y", &bounds::FAULT_PLACE, &mut y);
    reader.maybe("at_z", &bounds::FAULT_HEIGHT, &mut z);
    reader.maybe("size", &bounds::FAULT_SIZE, &mut size);
    if x.is_some() != y.is_some() {
        let missing = if x.is_none() { "at_x" } else { "at_y" };
        reader.refusals.add(missing, "A place needs both distances, or none.");
    } else if z.is_some() && x.is_none() {
        reader.refusals.add("at_x", "A height needs a place: tap it, or type both distances.");
    }
    let mut note = String::new();
    reader.text("fault_note", "The remark", NOTE_CHARACTERS, true, &mut note);
    match kind {
        Some(kind) if reader.refusals.is_empty() => {
            let place = x.zip(y).map(|(x, y)| Place { x, y, z });
            Ok(Fault { kind, place, size, note })
        }
        _ => Err(reader.refusals),
    }
}

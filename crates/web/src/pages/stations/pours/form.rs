//! When work can begin, in what air, and how the depth is split.

use fondant_app::Shop;
use fondant_cast::document::AirFrom;
use fondant_cast::{Conflict, Document, Kind};
use fondant_pours::layers::Stages;
use fondant_quantities::{Span, bounds};
use jiff::Timestamp;
use jiff::civil::DateTime;

use super::{split, stages};
use crate::ui::reader::Reader;

/// How `datetime-local` fields write a moment.
pub(crate) const LOCAL: &str = "%Y-%m-%dT%H:%M";

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
    // The button "Plan from now" carries its own moment.
    let chosen = reader.entries.get("from_now").or_else(|| reader.entries.get("not_before"));
    let text = chosen.unwrap_or_default();
    match moment(text, shop) {
        Some(at) => document.pours.not_before = at,
        None => reader.refusals.add(
            "not_before",
            format!("“{text}” is not a date and time. Write it as 2026-11-24T08:00."),
        ),
    }
    if reader.entries.get("from_now").is_some() {
        document.pours.give_up();
    }
    let mut minutes = document.pours.sanding.s() / 60.0;
    reader.number("sanding", &bounds::SANDING_MINUTES, &mut minutes);
    document.pours.sanding = Span::from_s(minutes * 60.0);
    let sources = [("steady", AirFrom::Steady), ("shop", AirFrom::Shop)];
    reader.choice("air_from", &sources, &mut document.conditions.air_from);
    if reader.entries.get("heated").is_some() {
        reader.quantity("heated", &bounds::HEATED, &mut document.conditions.heated);
    }
    if reader.entries.get("dried").is_some() {
        let dried = &mut document.conditions.dried_to_percent;
        reader.maybe_number("dried", &bounds::DRIED_PERCENT, dried);
    }
    if reader.entries.get("lead").is_some() {
        let mut hours = document.pours.lead.map(Span::h);
        reader.maybe_number("lead", &bounds::LEAD_HOURS, &mut hours);
        document.pours.lead = hours.map(Span::from_h);
    }
    if reader.entries.get("outside_air").is_some() {
        let why = &mut document.pours.outside_air;
        reader.text("outside_air", "The reason", bounds::REASON_CHARACTERS, true, why);
    }
    // A coat comes after all that is in the form, whose times it leaves as they are.
    let in_form = |document: &Document| {
        (document.pours.split.clone(), Stages { flood: None, ..document.layered() })
    };
    let before = in_form(document);
    split::apply(reader, document);
    stages::apply(reader, document);
    if before != in_form(document) {
        // Times of other layers say nothing.
        document.pours.give_up();
    }
}

/// A moment as `datetime-local` fields write it, on the shop's clock.
pub(crate) fn moment(text: &str, shop: &Shop) -> Option<Timestamp> {
    let local: DateTime = text.parse().ok()?;
    local.to_zoned_datetime(shop.hours().zone().clone()).ok().map(|zoned| zoned.timestamp())
}

/// The figures of this form that only the document's own check refuses.
pub(super) fn field_of(conflict: &Conflict, _: Kind) -> String {
    match conflict {
        Conflict::Year { .. } => "not_before".to_owned(),
        _ => stages::field_of(conflict).unwrap_or_default(),
    }
}

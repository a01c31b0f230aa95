//! The fields of lots and colours, and what is read from them.

use fondant_app::Shop;
use fondant_materials::resin::ResinId;
use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind, Lot};
use fondant_quantities::{Money, Volume, bounds};
use jiff::civil::Date;

use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::words::measures::priced_mass;
use crate::words::resin;

/// Longest mark and name, characters.
const MARK_CHARACTERS: usize = 40;

pub(super) const KINDS: [(&str, &str, ColourKind); 4] = [
    ("powder", "powder or flakes", ColourKind::Powder),
    ("paste", "pigment paste", ColourKind::Paste),
    ("dye", "dye or ink", ColourKind::Dye),
    ("paint", "paint", ColourKind::Paint),
];
pub(super) const BASES: [(&str, &str, ColourBase); 4] = [
    ("dry", "dry", ColourBase::Dry),
    ("resin", "in resin", ColourBase::Resin),
    ("solvent", "in solvent", ColourBase::Solvent),
    ("water", "in water", ColourBase::Water),
];

pub(super) fn lot_fields(fields: &Fields<'_>, shop: &Shop, today: Date) -> Vec<Field> {
    let resins: Vec<(&str, &str)> =
        shop.shelf().offered().map(|r| (r.id.0.as_str(), r.name.as_str())).collect();
    let first = resins.first().map_or("", |r| r.0);
    vec![
        fields.choice("lot_resin", "Resin", first, &resins),
        fields.text("lot_mark", "Lot, as the bottle says", ""),
        fields.text("lot_bought", "Bought", &today.to_string()).kind("date"),
        fields.text("lot_opened", "Opened, if it is", "").kind("date"),
        fields
            .maybe_volume("lot_held", "It held, mixed", None)
            .hint("As bought: what it costs by volume follows."),
        fields.volume("lot_left", "Mixed volume left", Volume::from_l(3.0)),
        fields.money("lot_cost", "Cost", Money::from_units(0.0), &bounds::PRICE),
    ]
}

pub(super) fn colour_fields(fields: &Fields<'_>) -> Vec<Field> {
    let (by, _) = priced_mass(fields.shown.system);
    let ceiling = ColourKind::Powder.usual_ceiling_percent();
    vec![
        fields.text("colour_name", "What the shop calls it", ""),
        fields.choice("colour_kind", "Made of", "powder", &KINDS.map(|(v, l, _)| (v, l))),
        fields.choice("colour_base", "It comes", "dry", &BASES.map(|(v, l, _)| (v, l))),
        fields
            .number("colour_ceiling", "At most, of the mixed mass", ceiling, &bounds::DOSE_PERCENT)
            .hint("Powders and pastes about 5\u{202f}%, dyes 1–2\u{202f}%."),
        fields.text("colour_price", &format!("Price of a {by}"), "").hint("Empty: not known."),
    ]
}

fn date(reader: &mut Reader<'_>, name: &str, must: bool) -> Option<Date> {
    let text = reader.entries.get(name).unwrap_or_default().trim();
    if text.is_empty() && !must {
        return None;
    }
    let read = text.parse::<Date>().ok();
    if read.is_none() {
        reader
            .refusals
            .add(name, format!("“{text}” is not a date. Pick a day such as 2026-05-31."));
    }
    read
}

/// Reads a lot; `None` where the reader has refused something.
pub(super) fn read_lot(reader: &mut Reader<'_>, shop: &Shop) -> Option<Lot> {
    let id = ResinId(reader.entries.get("lot_resin").unwrap_or_default().to_owned());
    if shop.shelf().find(&id).is_err() {
        reader.refusals.add("lot_resin", resin::unknown(&id.0));
    }
    let (mut mark, mut left, mut cost) = (String::new(), Volume::ZERO, Money::from_units(0.0));
    reader.text("lot_mark", "The lot", MARK_CHARACTERS, false, &mut mark);
    let mut held = None;
    reader.maybe("lot_held", &bounds::OPENED, &mut held);
    reader.quantity("lot_left", &bounds::OPENED, &mut left);
    reader.money("lot_cost", &bounds::PRICE, &mut cost);
    let bought = date(reader, "lot_bought", true);
    let opened = date(reader, "lot_opened", false);
    if bought.zip(opened).is_some_and(|(bought, opened)| opened < bought) {
        reader.refusals.add("lot_opened", "It cannot be opened before it was bought.");
    }
    if held.is_some_and(|held| held < left) {
        reader.refusals.add("lot_held", "More is left than it held. Check both.");
    }
    let bought = bought.filter(|_| reader.refusals.is_empty())?;
    Some(Lot { resin: id, lot: mark, bought, opened, left, cost, held })
}

/// Reads a colour; `None` where the reader has refused something.
pub(super) fn read_colour(reader: &mut Reader<'_>) -> Option<Colour> {
    let mut colour = Colour {
        name: String::new(),
        kind: ColourKind::Powder,
        base: ColourBase::Dry,
        ceiling_percent: 5.0,
        price_kg: None,
    };
    reader.text("colour_name", "The name", MARK_CHARACTERS, false, &mut colour.name);
    reader.choice("colour_kind", &KINDS.map(|(v, _, k)| (v, k)), &mut colour.kind);
    reader.choice("colour_base", &BASES.map(|(v, _, b)| (v, b)), &mut colour.base);
    reader.number("colour_ceiling", &bounds::DOSE_PERCENT, &mut colour.ceiling_percent);
    let mut price = None;
    reader.maybe_number("colour_price", &bounds::PRICE, &mut price);
    let (_, a_kilogram) = priced_mass(reader.system);
    colour.price_kg = price.map(|price| Money::from_units(price * a_kilogram));
    let most = ColourKind::Paint.usual_ceiling_percent();
    if colour.base == ColourBase::Water && colour.ceiling_percent > most {
        reader.refusals.add(
            "colour_ceiling",
            format!(
                "Water clouds resin: keep it to {most}\u{202f}% and test it in a small cup first."
            ),
        );
    }
    reader.refusals.is_empty().then_some(colour)
}

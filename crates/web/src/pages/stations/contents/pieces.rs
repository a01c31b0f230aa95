//! Pieces pressed into moulds, row by row of cavities, and what each row takes.

use fondant_cast::document::{Cavities, Moulds, Pressed, PressedShape};
use fondant_cast::mix::parts;
use fondant_quantities::{Density, Length, Volume, bounds};
use fondant_shapes::volume::layout::What;

use super::each::each;
use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::ui::field::{Field, Fields};
use crate::ui::group::{List, ListRow};
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::counting::counted;

const SHAPES: [(&str, &str); 4] = [
    ("none", "nothing"),
    ("block", "a flat or square piece"),
    ("round", "a disc or dowel"),
    ("volume", "any shape, by its volume"),
];
/// Density of medium hardwood, for a piece of which nothing is said (convention).
const USUAL_DENSITY: Density = Density::from_kg_m3(650.0);
/// A piece that is chosen takes up this share of its cavity's sides until its own are typed.
const USUAL_RATIO: f64 = 0.5;

const fn shape_name(pressed: Option<&Pressed>) -> &'static str {
    match pressed {
        None => "none",
        Some(Pressed { shape: PressedShape::Block { .. }, .. }) => "block",
        Some(Pressed { shape: PressedShape::Round { .. }, .. }) => "round",
        Some(Pressed { shape: PressedShape::Volume { .. }, .. }) => "volume",
    }
}

pub(super) fn apply(reader: &mut Reader<'_>, moulds: &mut Moulds) {
    for number in reader.rows("pressed") {
        let row = number.parse().ok().and_then(|i: usize| moulds.cavities.get_mut(i));
        if let Some(row) = row {
            row.pressed = read(reader, &number, row);
        }
    }
}

/// Length, width and height of a piece, whatever its shape.
fn sides(row: &Cavities) -> [Length; 3] {
    let (length, width) = row.hollow.mouth();
    let usual = [length, width, row.hollow.depth()].map(|side| side * USUAL_RATIO);
    match row.pressed.map(|pressed| pressed.shape) {
        Some(PressedShape::Block { length, width, height }) => [length, width, height],
        Some(PressedShape::Round { diameter, height }) => [diameter, diameter, height],
        Some(PressedShape::Volume { .. }) | None => usual,
    }
}

fn read(reader: &mut Reader<'_>, number: &str, row: &Cavities) -> Option<Pressed> {
    let name = |field: &str| format!("{field}-{number}");
    let chosen = reader.entries.get(&name("pr_shape"))?.to_owned();
    if chosen == "none" {
        return None;
    }
    let before = row.pressed;
    let mut count = before.map_or(1, |pressed| pressed.count);
    let mut density = before.map_or(USUAL_DENSITY, |pressed| pressed.density);
    let [mut length, mut width, mut height] = sides(row);
    let mut volume = before.map_or(length * width * height, |pressed| pressed.each());
    // Which figures stand on the page depends on the shape that it shows.
    let has = |reader: &Reader<'_>, field: &str| reader.entries.get(&name(field)).is_some();
    for (field, place) in
        [("pr_length", &mut length), ("pr_width", &mut width), ("pr_height", &mut height)]
    {
        if has(reader, field) {
            reader.quantity(&name(field), &bounds::PRESSED_SIDE, place);
        }
    }
    if has(reader, "pr_volume") {
        reader.quantity(&name("pr_volume"), &bounds::WATER, &mut volume);
    }
    if has(reader, "pr_count") {
        reader.count(&name("pr_count"), &bounds::COUNT, &mut count);
        reader.quantity(&name("pr_density"), &bounds::TIMBER_DENSITY, &mut density);
    }
    let shape = match chosen.as_str() {
        "block" => PressedShape::Block { length, width, height },
        "round" => PressedShape::Round { diameter: length, height },
        _ => PressedShape::Volume { volume },
    };
    let is_sealed = has(reader, "pr_sealed");
    Some(Pressed { count, shape, density, is_sealed })
}

fn fields_of(fields: &Fields<'_>, number: &str, row: &Cavities) -> Vec<Field> {
    let name = |field: &str| format!("{field}-{number}");
    let pressed = row.pressed.as_ref();
    let mut all =
        vec![fields.choice(&name("pr_shape"), "In each cavity", shape_name(pressed), &SHAPES)];
    let Some(pressed) = pressed else { return all };
    all.push(fields.number(
        &name("pr_count"),
        "Pieces in each",
        f64::from(pressed.count),
        &bounds::COUNT,
    ));
    match pressed.shape {
        PressedShape::Block { length, width, height } => {
            all.push(fields.length(&name("pr_length"), "Length", length));
            all.push(fields.length(&name("pr_width"), "Width", width));
            all.push(fields.length(&name("pr_height"), "Height as it lies", height));
        }
        PressedShape::Round { diameter, height } => {
            all.push(fields.length(&name("pr_length"), "Across", diameter));
            all.push(fields.length(&name("pr_height"), "Height as it lies", height));
        }
        PressedShape::Volume { volume } => {
            all.push(
                fields
                    .volume(&name("pr_volume"), "Volume of one", volume)
                    .hint("By water, or mass ÷ density."),
            );
        }
    }
    all.push(fields.density(&name("pr_density"), "Density", pressed.density));
    all.push(fields.tick(&name("pr_sealed"), "sealed before", pressed.is_sealed));
    all
}

/// What the maker calls a row, or its number.
pub(crate) fn row_name(moulds: &Moulds, index: usize) -> String {
    match moulds.cavities.get(index) {
        Some(row) if !row.name.is_empty() => row.name.clone(),
        _ if moulds.cavities.len() == 1 => "the cavities".to_owned(),
        _ => format!("row {}", index + 1),
    }
}

/// The same at the beginning of a sentence.
fn row_title(moulds: &Moulds, index: usize) -> String {
    let mut name = row_name(moulds, index);
    if let Some(first) = name.get_mut(..1) {
        first.make_ascii_uppercase();
    }
    name
}

pub(super) fn inside(asked: &Asked<'_>, moulds: &Moulds) -> Inside {
    let fields = asked.fields();
    let row = |(index, row): (usize, &Cavities)| ListRow {
        fields: fields_of(&fields, &index.to_string(), row),
        number: index.to_string(),
        note: takes(asked, moulds, index, row),
    };
    let list = List {
        name: "pressed",
        title: "Pieces by row of cavities",
        why: String::new(),
        one: "",
        rows: moulds.cavities.iter().enumerate().map(row).collect(),
        may_be_empty: false,
    };
    let largest = moulds.hottest();
    Inside {
        title: "What is pressed into each?",
        list: Some(list),
        figures: largest.map(|row| each(asked, &row.hollow, row.taken())).into_iter().collect(),
        notes: notes(asked, moulds),
        cares: vec![
            "A thin layer first, then the pieces pressed in and weighted, then the rest: no air is \
             caught under them."
                .into(),
            "Silicone: a heat gun, not a flame, takes the bubbles; a flame scorches the mould."
                .into(),
        ],
        ..Inside::default()
    }
}

/// What the cups of a row take, its losses included.
fn takes(asked: &Asked<'_>, moulds: &Moulds, index: usize, row: &Cavities) -> String {
    let shown = asked.shown;
    let lost = asked.measured().mixed_ratio().poured;
    let parts = parts(row.each() * (f64::from(row.count) * lost), &asked.evaluation.resin);
    let colour = match row.colour.as_str() {
        "" => String::new(),
        colour => format!(", {colour}"),
    };
    format!(
        "{}{colour}: {} × {}; mix {} of A and {} of B, {} in all.",
        row_title(moulds, index),
        row.count,
        shown.volume_fine(row.each()),
        shown.weighed(parts.a_mass),
        shown.weighed(parts.b_mass),
        shown.weighed(parts.mass)
    )
}

fn notes(asked: &Asked<'_>, moulds: &Moulds) -> Vec<(&'static str, String)> {
    let shown = asked.shown;
    let mut notes = Vec::new();
    for held in &asked.evaluation.held {
        let What::Insert(index) = held.what else { continue };
        let Some((row, pressed)) = moulds.cavities.get(index).and_then(|r| Some((r, r.pressed?)))
        else {
            continue;
        };
        let pieces = f64::from(row.count) * f64::from(pressed.count);
        notes.push((
            "They float",
            format!(
                "{}: each piece wants {} on it, twice its lift, until the layer holds it.",
                row_title(moulds, index),
                shown.mass_fine(held.lift.hold_down / pieces)
            ),
        ));
    }
    if moulds.bare_pieces() > 0 {
        notes.push((
            "Seal them first",
            "Brush the pieces thinly on every side and let the coat set: bare timber breathes \
             bubbles into the resin round it. Tick “sealed before” once it is done."
                .into(),
        ));
    }
    notes.extend(cups(moulds, shown));
    notes
}

/// Cups by colour, where there is more than one.
fn cups(moulds: &Moulds, shown: Shown) -> Option<(&'static str, String)> {
    let colours = moulds.by_colour();
    let told = |(colour, volume, count): &(&str, Volume, u32)| {
        let colour = if colour.is_empty() { "clear" } else { colour };
        let cavities = match count {
            1 => "1 cavity".to_owned(),
            n => format!("{n} cavities"),
        };
        format!("{colour} {} for {cavities}", shown.volume_fine(*volume))
    };
    let all: Vec<String> = colours.iter().map(told).collect();
    let (first, colour) = ("Cups", counted(colours.len(), "colour"));
    (colours.len() > 1).then(|| (first, format!("{colour}: {}.", all.join("; "))))
}

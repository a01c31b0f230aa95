//! Cavities of moulds: how many, of which shape, how large.

use fondant_cast::Contents;
use fondant_cast::document::{Cavities, Moulds, Tubes};
use fondant_quantities::bounds;
use fondant_shapes::blanks::Hollow;

use crate::pages::stations::asked::Asked;
use crate::ui::field::{Field, Fields};
use crate::ui::group::{List, ListRow};
use crate::ui::reader::Reader;

const SHAPES: [(&str, &str); 4] = [
    ("round", "round, standing"),
    ("box", "square or long"),
    ("trough", "trough, round floor"),
    ("water", "any shape, by water"),
];

/// Longest name and colour of a row, characters.
const NAME_CHARACTERS: usize = 40;

/// Names the fields of one row of cavities; tubes have one row, whose fields carry no number.
struct Named<'a>(&'a str);

impl Named<'_> {
    fn of(&self, field: &str) -> String {
        if self.0.is_empty() { field.to_owned() } else { format!("{field}-{}", self.0) }
    }
}

const fn shape_name(hollow: &Hollow) -> &'static str {
    match hollow {
        Hollow::Box { .. } => "box",
        Hollow::Round { .. } => "round",
        Hollow::Trough { .. } => "trough",
        Hollow::Water { .. } => "water",
    }
}

/// The fields of the cavities of tube blanks.
pub(super) fn tube_fields(fields: &Fields<'_>, tubes: &Tubes) -> Vec<Field> {
    let mut all = row_fields(fields, &Named(""), tubes.count, &tubes.hollow);
    all.push(wall(fields, tubes.wall));
    all
}

fn wall(fields: &Fields<'_>, wall: fondant_quantities::Length) -> Field {
    fields
        .length("mould_wall", "Mould round a cavity", wall)
        .hint("For the drawing and the pressure pot.")
}

/// The wall of moulds, which all their rows share.
pub(super) fn mould_fields(fields: &Fields<'_>, moulds: &Moulds) -> Vec<Field> {
    vec![wall(fields, moulds.wall)]
}

/// The rows of cavities of moulds.
pub(super) fn list(asked: &Asked<'_>, moulds: &Moulds) -> List {
    let (fields, shown) = (asked.fields(), asked.shown);
    let rows = asked.rows("row", moulds.cavities.len()).into_iter().filter_map(|number| {
        let kept = number.parse().ok().and_then(|i: usize| moulds.cavities.get(i));
        let row = kept.or(moulds.cavities.last())?;
        let named = Named(&number);
        let mut all = vec![
            fields.text(&named.of("row_name"), "What", &row.name),
            fields
                .text(&named.of("row_colour"), "Colour of its resin", &row.colour)
                .hint("Empty for clear. Each colour gets cups of its own."),
        ];
        all.extend(row_fields(&fields, &named, row.count, &row.hollow));
        let note = kept.map_or_else(String::new, |row| {
            format!(
                "{} in each, net of what is pressed into it: {}",
                shown.volume_fine(row.each()),
                shown.volume_fine(row.each() * f64::from(row.count))
            )
        });
        Some(ListRow { fields: all, number, note })
    });
    List {
        name: "row",
        title: "Which cavities are filled together?",
        why: "A row for each shape, size or colour.".to_owned(),
        one: "row of cavities",
        rows: rows.collect(),
        may_be_empty: false,
    }
}

fn row_fields(fields: &Fields<'_>, named: &Named<'_>, count: u32, hollow: &Hollow) -> Vec<Field> {
    let name = |field: &str| named.of(field);
    let mut all = vec![
        fields.number(&name("count"), "Cavities", f64::from(count), &bounds::MOULD_COUNT),
        fields.choice(&name("hollow"), "Shape of a cavity", shape_name(hollow), &SHAPES),
    ];
    match *hollow {
        Hollow::Box { length, width, .. } | Hollow::Trough { length, width, .. } => {
            all.push(fields.length(&name("length"), "Length inside", length));
            all.push(fields.length(&name("width"), "Width inside", width));
        }
        Hollow::Round { diameter, .. } => {
            all.push(fields.length(&name("length"), "Across inside", diameter));
        }
        Hollow::Water { volume, .. } => {
            all.push(fields.volume(&name("water"), "Water it holds", volume).hint(
                "Fill one to where the resin will stand, and weigh it: a gram is a millilitre.",
            ));
        }
    }
    all.push(fields.length(&name("depth"), "Depth as poured", hollow.depth()));
    all
}

/// Reads the cavities of a kind that has them.
pub(super) fn apply(reader: &mut Reader<'_>, contents: &mut Contents) {
    match contents {
        Contents::Tubes(tubes) => {
            reader.quantity("mould_wall", &bounds::MOULD_WALL, &mut tubes.wall);
            read_row(reader, &Named(""), &mut tubes.count, &mut tubes.hollow);
        }
        Contents::Moulds(moulds) => {
            reader.quantity("mould_wall", &bounds::MOULD_WALL, &mut moulds.wall);
            let kept = std::mem::take(&mut moulds.cavities);
            for number in reader.rows("row") {
                let before = number.parse().ok().and_then(|i: usize| kept.get(i).cloned());
                // A new row is like the last, with nothing pressed in yet.
                let like = kept.last().map(|row| Cavities { pressed: None, ..row.clone() });
                let Some(mut row) = before.or(like) else { continue };
                let named = Named(&number);
                let (name, colour) = (named.of("row_name"), named.of("row_colour"));
                reader.text(&name, "The name", NAME_CHARACTERS, true, &mut row.name);
                reader.text(&colour, "The colour", NAME_CHARACTERS, true, &mut row.colour);
                read_row(reader, &named, &mut row.count, &mut row.hollow);
                moulds.cavities.push(row);
            }
        }
        _ => {}
    }
}

/// The cavity of a mould: a box, a cylinder, a trough, or any shape of a known volume.
fn read_row(reader: &mut Reader<'_>, named: &Named<'_>, count: &mut u32, hollow: &mut Hollow) {
    reader.count(&named.of("count"), &bounds::MOULD_COUNT, count);
    let mut depth = hollow.depth();
    reader.quantity(&named.of("depth"), &bounds::HOLLOW_DEPTH, &mut depth);
    let (mut length, mut width) = hollow.mouth();
    let mut volume = hollow.volume();
    // A figure of the shape before stays on the page until it is typed over.
    for (field, place) in [("length", &mut length), ("width", &mut width)] {
        let field = named.of(field);
        if reader.entries.get(&field).is_some() {
            reader.quantity(&field, &bounds::HOLLOW_SIDE, place);
        }
    }
    if reader.entries.get(&named.of("water")).is_some() {
        reader.quantity(&named.of("water"), &bounds::WATER, &mut volume);
    }
    *hollow = match reader.entries.get(&named.of("hollow")) {
        Some("box") => Hollow::Box { length, width, depth },
        Some("trough") => Hollow::Trough { length, width, depth },
        Some("water") => Hollow::Water { volume, depth },
        _ => Hollow::Round { diameter: length, depth },
    };
}

//! Objects in the resin: how their volume is known, whether they float.

use fondant_cast::document::Embed;
use fondant_quantities::units::{MassUnit, Unit, UnitSystem};
use fondant_quantities::{Density, Length, Mass, Volume, bounds};
use fondant_shapes::timber::insert::Buoyancy;
use fondant_shapes::timber::{Insert, InsertShape};

use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::paths::casts::{Files, Station};
use crate::ui::field::{Field, Fields};
use crate::ui::figure::Figure;
use crate::ui::group::{List, ListRow};
use crate::ui::reader::Reader;
use crate::ui::units::Shown;

/// Longest name of an object, characters.
const NAME_CHARACTERS: usize = 40;

const SHAPES: [(&str, &str); 6] = [
    ("ball", "ball"),
    ("cylinder", "cylinder, standing"),
    ("block", "block"),
    ("water", "by water it displaces"),
    ("weight", "by mass and density"),
    ("mesh", "by a mesh (STL)"),
];

const fn shape_name(shape: &InsertShape) -> &'static str {
    match shape {
        InsertShape::Ball { .. } => "ball",
        InsertShape::Cylinder { .. } => "cylinder",
        InsertShape::Block { .. } => "block",
        InsertShape::Water { .. } => "water",
        InsertShape::Weight { .. } => "weight",
        InsertShape::Mesh { .. } => "mesh",
    }
}

/// What a new object is called until somebody says what it is.
const NAMELESS: &str = "object";

/// What a new object weighs: a little less than resin, so that its lift is seen.
const FRESH_DENSITY: Density = Density::from_kg_m3(900.0);

/// Nobody has said yet what it is: its size and mass are those that a new one begins with.
fn is_guess(insert: &Insert) -> bool {
    insert.name == NAMELESS && matches!(insert.shape, InsertShape::Ball { .. })
}

/// An object as it begins in a cast of a depth: it lies in the resin.
fn fresh(units: UnitSystem, depth: Length) -> Insert {
    let at_most = |mm: f64, share: f64| units.rounded(Length::from_mm(mm).min(depth * share));
    let diameter = at_most(40.0, 0.6).max(bounds::INSERT_SIDE.min);
    let shape = InsertShape::Ball { diameter };
    let mut insert = Insert {
        name: NAMELESS.into(),
        count: 1,
        shape,
        mass: Mass::ZERO,
        density: Density::from_kg_m3(700.0),
        above_floor: at_most(10.0, 0.2),
    };
    let (unit, parts) = match units {
        UnitSystem::Metric => (MassUnit::Gram, 1.0),
        UnitSystem::UsCustomary => (MassUnit::Ounce, 10.0),
    };
    let mass = unit.write(insert.volume() * FRESH_DENSITY);
    insert.mass = unit.read((mass * parts).round() / parts).max(bounds::MASS.min);
    insert
}

/// Reads the list; a button adds the first one to an empty list.
pub(crate) fn apply(reader: &mut Reader<'_>, inserts: &mut Vec<Insert>, depth: Length) {
    let numbers = reader.rows("ins");
    let kept = std::mem::take(inserts);
    *inserts = numbers
        .iter()
        .map(|number| {
            let before = number.parse().ok().and_then(|i: usize| kept.get(i).cloned());
            read(reader, number, before.unwrap_or_else(|| fresh(reader.system, depth)))
        })
        .collect();
    if reader.entries.get("add") == Some("ins") {
        inserts.push(fresh(reader.system, depth));
    }
}

fn read(reader: &mut Reader<'_>, number: &str, mut insert: Insert) -> Insert {
    let name = |field: &str| format!("{field}-{number}");
    reader.text(&name("ins_name"), "The name", NAME_CHARACTERS, false, &mut insert.name);
    reader.count(&name("ins_count"), &bounds::COUNT, &mut insert.count);
    reader.quantity(&name("ins_mass"), &bounds::MASS, &mut insert.mass);
    reader.quantity(&name("ins_above"), &bounds::ABOVE_FLOOR, &mut insert.above_floor);
    let (length, width) = insert.footprint();
    let (mut a, mut b, mut height) = (length, width, insert.height());
    // Which figures stand on the page depends on the shape that it shows.
    let side = |reader: &mut Reader<'_>, field: &str, place: &mut Length| {
        if reader.entries.get(&name(field)).is_some() {
            reader.quantity(&name(field), &bounds::INSERT_SIDE, place);
        }
    };
    side(reader, "ins_a", &mut a);
    side(reader, "ins_b", &mut b);
    side(reader, "ins_h", &mut height);
    let mut water = insert.volume();
    if reader.entries.get(&name("ins_water")).is_some() {
        reader.quantity(&name("ins_water"), &bounds::WATER, &mut water);
    }
    if reader.entries.get(&name("ins_density")).is_some() {
        reader.quantity(&name("ins_density"), &bounds::TIMBER_DENSITY, &mut insert.density);
    }
    let chosen = reader.entries.get(&name("ins_shape")).unwrap_or_default().to_owned();
    insert.shape = match (chosen.as_str(), insert.shape) {
        ("ball", _) => InsertShape::Ball { diameter: a },
        ("cylinder", _) => InsertShape::Cylinder { diameter: a, height },
        ("block", _) => InsertShape::Block { length: a, width: b, height },
        ("water", _) => InsertShape::Water { volume: water, height },
        ("weight", _) => InsertShape::Weight { height },
        ("mesh", shape @ InsertShape::Mesh { .. }) => shape,
        ("mesh", shape) => {
            reader.refusals.add(
                &name("ins_shape"),
                "A mesh comes from a file: open “photo and files” and choose its STL there.",
            );
            shape
        }
        (_, shape) => shape,
    };
    insert
}

fn shape_fields(fields: &Fields<'_>, insert: &Insert, number: &str) -> Vec<Field> {
    let length =
        |field: &str, label: &str, value| fields.length(&format!("{field}-{number}"), label, value);
    match &insert.shape {
        InsertShape::Ball { diameter } => vec![length("ins_a", "Across", *diameter)],
        InsertShape::Cylinder { diameter, height } => {
            vec![length("ins_a", "Across", *diameter), length("ins_h", "Height", *height)]
        }
        InsertShape::Block { length: l, width, height } => vec![
            length("ins_a", "Length", *l),
            length("ins_b", "Width", *width),
            length("ins_h", "Height", *height),
        ],
        InsertShape::Water { volume, height } => vec![
            fields.volume(&format!("ins_water-{number}"), "Water it displaces", *volume),
            length("ins_h", "Height as it lies", *height),
        ],
        InsertShape::Weight { height } => vec![
            fields.density(
                &format!("ins_density-{number}"),
                "Density of its material",
                insert.density,
            ),
            length("ins_h", "Height as it lies", *height),
        ],
        InsertShape::Mesh { .. } => Vec::new(),
    }
}

/// The list of objects, for a deep embed and for rivers.
pub(crate) fn list(asked: &Asked<'_>, inserts: &[Insert]) -> List {
    let (fields, shown) = (asked.fields(), asked.shown);
    let rows = asked.rows("ins", inserts.len()).into_iter().map(|number| {
        let kept = number.parse().ok().and_then(|i: usize| inserts.get(i).cloned());
        let insert = kept.unwrap_or_else(|| fresh(shown.system, asked.document.piece.thickness));
        let name = |field: &str| format!("{field}-{number}");
        let mut all = vec![
            fields.text(&name("ins_name"), "What", &insert.name),
            fields.choice(
                &name("ins_shape"),
                "Its volume is known",
                shape_name(&insert.shape),
                &SHAPES,
            ),
            fields.number(&name("ins_count"), "How many", f64::from(insert.count), &bounds::COUNT),
            fields.mass(&name("ins_mass"), "Mass of one", insert.mass),
            fields.length(&name("ins_above"), "Above the floor", insert.above_floor),
        ];
        all.extend(shape_fields(&fields, &insert, &number));
        let from = match &insert.shape {
            InsertShape::Mesh { file, size, triangles, was_inside_out, .. } => format!(
                " from {file}: closed, {triangles} triangles{}, {} × {} × {}",
                if *was_inside_out { " that were inside out and were turned" } else { "" },
                shown.length_figure(size[0]),
                shown.length_figure(size[1]),
                shown.length(size[2])
            ),
            _ => String::new(),
        };
        ListRow {
            fields: all,
            note: format!(
                "{}{} each{from}, {} on average",
                if is_guess(&insert) { "A guess until you say what it is: " } else { "" },
                shown.volume(insert.volume()),
                shown.density(insert.mean_density())
            ),
            number,
        }
    });
    List {
        name: "ins",
        title: "Objects",
        why:
            "What it displaces, and its mass as it goes in: dry, clean, and sealed if it is porous."
                .to_owned(),
        one: "object",
        rows: rows.collect(),
        may_be_empty: true,
    }
}

/// What an object does in the resin, and what holds it where it shall lie.
fn behaves(insert: &Insert, resin: Density, shown: Shown) -> (&'static str, String) {
    let (heading, says) = match insert.buoyancy(resin) {
        Buoyancy::Floats => (
            "It floats",
            format!(
                "{} is lighter than the resin ({} against {}). Pour a thin layer, let it grow \
                 sticky, press the object in, and pour on; or pin it with points that alone \
                 touch the resin.",
                insert.name,
                shown.density(insert.mean_density()),
                shown.density(resin)
            ),
        ),
        Buoyancy::Sinks => (
            "It sinks",
            format!(
                "{} is heavier than the resin. Let a layer set under it to the height where it \
                 shall lie, or stand it on clear stubs of cured resin.",
                insert.name
            ),
        ),
        Buoyancy::Hovers => (
            "It drifts",
            format!(
                "{} is as dense as the resin, within what a kitchen scale can tell: it stays \
                 nowhere by itself. Hold it by points or in a sticky layer.",
                insert.name
            ),
        ),
    };
    let guess = if is_guess(insert) {
        " That goes by a guess: type its size and mass above, and what it is."
    } else {
        ""
    };
    (heading, format!("{says}{guess}"))
}

pub(super) fn inside(asked: &Asked<'_>, embed: &Embed) -> Inside {
    let shown = asked.shown;
    let resin = asked.evaluation.resin.density;
    let total: Volume = embed.inserts.iter().map(Insert::volume_of_all).sum();
    let notes = embed.inserts.iter().map(|insert| behaves(insert, resin, shown)).collect();
    Inside {
        title: "What lies in the resin?",
        list: Some(list(asked, &embed.inserts)),
        figures: vec![
            Figure::new("displaced", shown.volume(total), "displaced by it".into(), "What the objects displace")
                .formula("Σ count × volume".into())
                .note("A ball, a cylinder and a block by their formulas; a closed mesh by the divergence theorem; by water or by mass over density as measured.")
                .note("Taken to be known to 3\u{202f}%."),
        ],
        notes,
        cares: vec![
            "Flowers, paper and the like go in at the sticky stage, which holds them. Damp clouds \
             and bubbles: dry it through first."
                .to_owned(),
        ],
        links: vec![("Photo and files: bring in a mesh", Files { cast: asked.cast }.to_string()), (
            "Hold-down and volume",
            Station::of(asked.cast, "form").to_string(),
        )],
        ..Inside::default()
    }
}

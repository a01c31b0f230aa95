//! The page of a mesh that is being looked at.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::casts::Open;
use fondant_app::casts::meshes::LookedMesh;
use fondant_app::records::DrawingId;
use fondant_files::stl::UNTIL_SAID;
use fondant_quantities::{Length, Mass};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::mesh::Solid;

use crate::paths::casts::{Files, TakeMesh};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Choice, Field, Fields};
use crate::ui::page::{Page, Place};
use crate::ui::units::{InUnits, Shown};

/// Units that a mesh can be in: their word in the form, in words, and their length in mm.
pub(super) const UNITS: [(&str, &str, f64); 4] = [
    ("mm", "millimetres", 1.0),
    ("in", "inches", 25.4),
    ("cm", "centimetres", 10.0),
    ("m", "metres", 1000.0),
];
/// Smallest object that is likely, mm (convention: nothing smaller is modelled to be cast in).
const SMALLEST_MM: f64 = 8.0;

#[derive(Template, WebTemplate)]
#[template(path = "pages/mesh/mesh.html")]
pub(super) struct MeshPage {
    page: Page,
    files: Files,
    take: TakeMesh,
    name: String,
    cast_name: String,
    revision: i32,
    refusal: String,
    about: Vec<String>,
    fields: Vec<Field>,
}

impl MeshPage {
    pub(super) fn new(
        open: &Open,
        (mesh, looked): (DrawingId, &LookedMesh),
        (typed, refusals): (Option<&Entries>, &Refusals),
    ) -> Self {
        let (cast, shown) = (open.record.id, open.shop.shown());
        let fields = Fields::of(shown, typed, refusals);
        let size = CastSize::of(&open.record.document.piece);
        let chosen = typed.and_then(|entries| entries.get("unit"));
        let chosen = chosen.unwrap_or_else(|| likely(&looked.solid, size));
        let mass = fields
            .mass("mass", "Mass of the object", Mass::from_kg(0.1))
            .hint("As it goes in: dry, and sealed if it is porous.");
        Self {
            page: Page::new("A mesh", Place::Casts),
            files: Files { cast },
            take: TakeMesh { cast, mesh },
            name: looked.name.clone(),
            cast_name: open.record.document.name.clone(),
            revision: open.record.revision,
            refusal: refusals.of(""),
            about: about(&looked.solid),
            fields: vec![unit_field(&looked.solid, chosen, refusals, shown), mass],
        }
    }
}

/// The unit in which a solid is no speck and goes into the form.
fn likely(solid: &Solid, cast: CastSize) -> &'static str {
    let room = cast.length.max(cast.width).max(cast.thickness).mm();
    let fits = |(_, _, mm): &&(&str, &str, f64)| {
        let sides = solid.in_unit(UNTIL_SAID, Length::from_mm(*mm)).size.map(Length::mm);
        let largest = sides.into_iter().fold(0.0, f64::max);
        (SMALLEST_MM..=room).contains(&largest)
    };
    UNITS.iter().find(fits).map_or("mm", |unit| unit.0)
}

fn unit_field(solid: &Solid, chosen: &str, refusals: &Refusals, shown: Shown) -> Field {
    let option = |(word, name, mm): &(&str, &str, f64)| {
        let solid = solid.in_unit(UNTIL_SAID, Length::from_mm(*mm));
        let [x, y, z] = solid.size;
        let label = format!(
            "{name}: {} × {} × {}, {}",
            shown.length_figure(x),
            shown.length_figure(y),
            shown.length(z),
            shown.volume(solid.volume)
        );
        Choice { value: (*word).to_owned(), label, is_chosen: *word == chosen }
    };
    Field {
        name: "unit".into(),
        label: "Its unit".into(),
        hint: "STL does not say: this is the likely one. Measure the object before you take it."
            .into(),
        refusal: refusals.of("unit"),
        kind: "select",
        options: UNITS.iter().map(option).collect(),
        ..Field::default()
    }
}

/// What is odd about a solid, in sentences.
fn about(solid: &Solid) -> Vec<String> {
    let mut about = vec![match solid.shells {
        1 => format!("One closed surface of {} triangles.", solid.triangles),
        n => format!("{n} closed surfaces of {} triangles.", solid.triangles),
    }];
    let parts = |n: usize, one: &str, many: &str| match n {
        0 => None,
        1 => Some(one.to_owned()),
        n => Some(format!("{n} {many}")),
    };
    about.extend(parts(
        solid.hollows,
        "One is a hollow; it takes away.",
        "are hollows; they take away.",
    ));
    about.extend(parts(
        solid.within,
        "One part lies within another and adds nothing.",
        "parts lie within others and add nothing.",
    ));
    about.extend(parts(
        solid.repeated,
        "One triangle is there twice; it counts once.",
        "triangles are there twice; they count once.",
    ));
    about.extend(solid.was_inside_out.then(|| "It was inside out and has been turned.".to_owned()));
    about
}

//! What the station shows: the steps, and the schools of the last surface side by side.

use askama::Template;
use fondant_cast::Evaluation;
use fondant_finish::steps::{Finish, finish};
use fondant_finish::surface::{School, Surface};
use fondant_materials::resin::shipped;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Area, Length, Mass, Span, Volume};

use super::super::asked::Asked;
use crate::svg::Markup;
use crate::ui::units::{Shown, span, with_unit};

#[derive(Template)]
#[template(path = "pages/stations/finish/finish.html")]
struct FinishStation {
    steps: Vec<Step>,
    schools: Vec<SchoolView>,
    /// Why there is nothing to flatten or sand.
    none: &'static str,
}

struct Step {
    name: &'static str,
    says: String,
    takes: String,
}

struct SchoolView {
    name: &'static str,
    gives: &'static str,
    grits: String,
    discs: String,
    uses: String,
    takes: String,
}

pub(super) fn view(asked: &Asked<'_>) -> askama::Result<Markup> {
    let found = finish(asked.document, resin_face(asked));
    let mut steps = vec![opening(asked)];
    steps.extend(found.as_ref().and_then(|found| flattening(found, asked.shown)));
    steps.push(last(asked));
    let page = FinishStation {
        steps,
        schools: found.as_ref().map_or_else(Vec::new, |found| {
            found.schools.iter().map(|one| school(one, asked.shown)).collect()
        }),
        none: match found {
            Some(_) => "",
            None => "Blanks are turned: the lathe flattens, and sanding is done on it.",
        },
    };
    Markup::of(&page)
}

/// Resin of the finished upper face: what the millimetre under it holds.
fn resin_face(asked: &Asked<'_>) -> Area {
    let piece = &asked.document.piece;
    let (fill, thin) = (&asked.measured().fill, Length::from_mm(1.0));
    let top = (piece.flattening + piece.thickness).min(fill.depth());
    let from = (top - thin).max(Length::ZERO);
    let depth = (top - from).max(Length::from_mm(0.01));
    Area::from_m2(fill.volume_between(from, top).m3() / depth.m())
}

fn opening(asked: &Asked<'_>) -> Step {
    let zone = asked.shop.hours().zone();
    let says = match &asked.evaluation.pours {
        Ok(schedule) => format!(
            "Not before {}, when the coolest rim is hard. A thumbnail that leaves no mark at the rim \
             says the same.",
            asked.shown.date_and_time(schedule.form_opens(), zone)
        ),
        Err(_) => "There are no pour times yet, so the hour is not known.".to_owned(),
    };
    Step { name: "Out of the form", says, takes: String::new() }
}

fn flattening(found: &Finish, shown: Shown) -> Option<Step> {
    let (faces, one) = found.flattened?;
    let both = if faces > 1 { "each of two faces" } else { "the upper face" };
    Some(Step {
        name: "Flatten",
        says: format!(
            "{} of {} on {both}: the bit travels {} on each; {} go to chips.",
            counted(one.passes, "pass", "passes"),
            counted(one.lanes, "lane", "lanes"),
            way(one.path, shown),
            shown.volume(Volume::from_m3(one.chips.m3() * f64::from(faces)))
        ),
        takes: span(found.flattening()),
    })
}

/// A long way: nobody counts it in millimetres.
fn way(path: Length, shown: Shown) -> String {
    const FOOT_M: f64 = 0.3048;
    match shown.system {
        UnitSystem::Metric => with_unit(&format!("{:.0}", path.m()), "m"),
        UnitSystem::UsCustomary => with_unit(&format!("{:.0}", path.m() / FOOT_M), "ft"),
    }
}

fn counted(count: u32, one: &str, many: &str) -> String {
    format!("{count} {}", if count == 1 { one } else { many })
}

/// Load, heat and food wait for the cure to be over.
fn last(asked: &Asked<'_>) -> Step {
    let Evaluation { resin, .. } = asked.evaluation;
    Step {
        name: "Full cure",
        says: format!(
            "Load, warm things and food wait until {} is cured through, by its datasheet.",
            resin.name
        ),
        takes: String::new(),
    }
}

fn school(one: &Surface, shown: Shown) -> SchoolView {
    let (name, gives) = match one.school {
        School::Polished => {
            ("Polished", "The deepest gloss, shows every scratch, is repaired by polishing again.")
        }
        School::FloodCoat => (
            "Flood coat",
            "A level gloss over timber and resin alike; needs a dust-free day; a scratch is sanded and \
             coated again.",
        ),
        School::Oiled => {
            ("Oiled", "Satin, warm to the hand, hides small scratches; is oiled again every year.")
        }
    };
    let grits: Vec<String> = one.sanded.iter().map(|grit| grit.grit.to_string()).collect();
    let discs: u32 = one.sanded.iter().map(|grit| grit.discs).sum();
    let uses = match one.school {
        School::Polished => "cutting and finishing compound".to_owned(),
        School::FloodCoat => {
            let density = shipped::model(fondant_materials::resin::ResinClass::Coating).density;
            let mass: Mass = one.resin * density;
            format!("{} of coating resin, {}", shown.volume(one.resin), shown.weighed(mass))
        }
        School::Oiled => format!("{} of oil", shown.volume(one.oil)),
    };
    SchoolView {
        name,
        gives,
        grits: grits.join(", "),
        discs: counted(discs, "disc", "discs"),
        uses,
        takes: if one.takes > Span::ZERO { span(one.takes) } else { String::new() },
    }
}

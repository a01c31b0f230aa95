//! What the station shows: the steps with what was done of them, and the last surfaces side by side.

use askama::Template;
use fondant_app::finishing::{Finishing, PlannedCoat, flood_coat};
use fondant_app::records::{PhotoRecord, Shows};
use fondant_cast::Standing;
use fondant_cast::planning::CuredThrough;
use fondant_finish::pace::{Pace, of_the_trade};
use fondant_finish::square::COOL;
use fondant_finish::steps::{Finish, chosen, finish, ordered, resin_face};
use fondant_finish::surface::{School, Surface};
use fondant_finish::work::{StepKind, StepWork};
use fondant_materials::resin::shipped;
use fondant_pours::ScheduledPour;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, Mass, Span, Volume};

use super::super::asked::Asked;
use crate::pages::stations::shown::ShownPhotos;
use crate::paths::casts::{ShowStep, Station, TellFinish};
use crate::svg::Markup;
use crate::ui::field::Field;
use crate::ui::numbers::{span, with_unit};
use crate::ui::slug::slug;
use crate::ui::units::Shown;
use crate::words::counting::counted;
use crate::words::finishing;
use crate::words::measures::{disc, paces};

#[derive(Template)]
#[template(path = "pages/stations/finish/finish.html")]
struct FinishStation {
    tell: TellFinish,
    request: String,
    steps: Vec<Step>,
    /// Hours of all steps, and those that are over.
    totals: String,
    /// Whether there is an entry to take back, and its number.
    last: Option<i64>,
    schools: Vec<SchoolView>,
    /// Why there is nothing to flatten or sand.
    /// A disc as it is sold, and paces before any step was timed.
    disc: &'static str,
    paces: &'static str,
    none: &'static str,
    /// A refusal that belongs to no field.
    refusal: String,
}

struct Step {
    slug: String,
    name: &'static str,
    says: String,
    takes: String,
    /// What was worked, in words.
    worked: String,
    pace: String,
    notes: Vec<String>,
    /// It has work that can be timed.
    is_work: bool,
    is_running: bool,
    is_done: bool,
    /// The field for a typed time, and for a remark.
    took: Field,
    note: Field,
    /// What was typed was refused: the fields stay open.
    is_open: bool,
    /// Where it is done, and what the link says: a flood coat is a pour.
    done_at: Option<(Station, &'static str)>,
    photos: ShownPhotos,
}

struct SchoolView {
    slug: String,
    name: &'static str,
    is_chosen: bool,
    gives: &'static str,
    grits: String,
    discs: String,
    uses: String,
    takes: String,
}

pub(super) fn view(
    asked: &Asked<'_>,
    finishing: &Finishing,
    (cured, photos): (Option<CuredThrough>, &[PhotoRecord]),
) -> askama::Result<Markup> {
    let found = finish(asked.document, resin_face(asked.document, asked.measured()));
    let school = chosen(asked.document, &finishing.work);
    let all = ordered(found.as_ref(), school);
    let told = Known { asked, finishing, photos, found: found.as_ref(), school, cured };
    let steps = all.iter().map(|one| step(&told, *one)).collect();
    let page = FinishStation {
        tell: TellFinish { cast: asked.cast },
        request: fondant_app::Request::new_key().unwrap_or_default(),
        steps,
        totals: totals(finishing, &all),
        last: finishing.work.last,
        schools: found.as_ref().map_or_else(Vec::new, |found| {
            found
                .schools
                .iter()
                .map(|one| school_view((one, found.faces), school, asked.shown))
                .collect()
        }),
        disc: disc(asked.shown),
        paces: paces(asked.shown.system),
        none: match found {
            Some(_) => "",
            None => "Blanks are turned: the lathe flattens, and sanding is done on it.",
        },
        refusal: asked.refusals.of("told"),
    };
    Markup::of(&page)
}

/// What steps are told from.
struct Known<'a> {
    asked: &'a Asked<'a>,
    finishing: &'a Finishing,
    photos: &'a [PhotoRecord],
    /// `None` for what is turned.
    found: Option<&'a Finish>,
    school: School,
    cured: Option<CuredThrough>,
}

fn step(told: &Known<'_>, (kind, planned): (StepKind, Span)) -> Step {
    let Known { asked, finishing, school, .. } = *told;
    let own = finishing.work.steps.get(&kind).cloned().unwrap_or_default();
    let pace = finishing.paces.get(&kind).copied().unwrap_or_else(of_the_trade);
    let name = slug(kind);
    let (took, note) = (format!("took_{name}"), format!("note_{name}"));
    let mut took = asked.fields().text(&took, "Time it took", "").hint("90, 1 h 30 min, 45 min");
    let note = asked.fields().text(&note, "Remark", "");
    if planned == Span::ZERO {
        took.hint = String::new();
    }
    Step {
        name: finishing::step(kind, school),
        says: says(told, kind),
        takes: if planned > Span::ZERO { span(planned * pace.factor) } else { String::new() },
        worked: worked(asked, &own),
        pace: finishing::pace(pace),
        is_work: planned > Span::ZERO,
        is_running: own.since.is_some(),
        is_done: own.done.is_some(),
        is_open: took.is_refused() || note.is_refused(),
        notes: own.notes,
        done_at: poured_at(asked, kind, school),
        photos: photos(told, kind),
        slug: name,
        took,
        note,
    }
}

fn photos(told: &Known<'_>, kind: StepKind) -> ShownPhotos {
    let add = ShowStep { cast: told.asked.cast }.to_string();
    let what = (Shows::Step(kind), finishing::step(kind, told.school));
    let field = format!("photo-step-{}", slug(kind));
    let shown = ShownPhotos::new(told.asked, told.photos, what, (add, field));
    ShownPhotos { step: slug(kind), ..shown }
}

fn worked(asked: &Asked<'_>, own: &StepWork) -> String {
    let took = (own.took > Span::ZERO).then(|| format!("worked {}", span(own.took)));
    let since = own.since.map(|since| {
        let zone = asked.shop.hours().zone();
        format!("in progress since {}", asked.shown.date_and_time(since, zone))
    });
    took.into_iter().chain(since).collect::<Vec<_>>().join(", ")
}

fn totals(finishing: &Finishing, all: &[(StepKind, Span)]) -> String {
    let pace = |kind| finishing.paces.get(kind).map_or(1.0, |pace: &Pace| pace.factor);
    let planned: f64 = all.iter().map(|(kind, span)| span.s() * pace(kind)).sum();
    let took = finishing.work.took();
    match (planned > 0.0, took > Span::ZERO) {
        (false, _) => String::new(),
        (true, false) => format!("{} of work in all.", span(Span::from_s(planned))),
        (true, true) => {
            format!("{} of work in all, {} done.", span(Span::from_s(planned)), span(took))
        }
    }
}

fn says(told: &Known<'_>, kind: StepKind) -> String {
    let Known { asked, found, school, .. } = *told;
    let shown = asked.shown;
    let surface = found.and_then(|found| found.schools.iter().find(|one| one.school == school));
    match kind {
        StepKind::Demould => opening(asked),
        StepKind::Saw => found.and_then(|f| f.squared).map_or_else(String::new, |one| {
            format!(
                "Four sides, {} each, {} of cut; the kerf takes {}. Let it cure through \
                 and cool first: within {} of its glass transition it smears and closes behind the blade.",
                passes(one.passes),
                way(one.path, shown),
                shown.volume(one.kerf),
                shown.degrees(COOL.k())
            )
        }),
        StepKind::Flatten => found.and_then(|found| flattening(found, shown)).unwrap_or_default(),
        StepKind::Sand => surface.map_or_else(String::new, |one| {
            let discs: u32 = one.sanded.iter().map(|grit| grit.discs).sum();
            format!(
                "{}, both directions, {} of {}.",
                grits(one),
                counted(discs, "disc"),
                disc(shown)
            )
        }),
        StepKind::Surface => match flood_coat(asked.evaluation) {
            Some(pour) if school == School::FloodCoat => planned_coat(asked, pour),
            _ => surface
                .zip(found)
                .map_or_else(String::new, |(one, found)| uses(one, found.faces, shown)),
        },
        StepKind::Edges => "Router or plane, then P120 along every edge of both faces.".to_owned(),
        StepKind::Cure => curing(asked, told.cured),
        StepKind::HandOver => {
            "With its record on paper: what it is made of, and how to look after it.".to_owned()
        }
    }
}

/// From when on it is cured through, and what waits for it.
fn curing(asked: &Asked<'_>, cured: Option<CuredThrough>) -> String {
    let waits = "Load and warm things wait until then";
    let resin = &asked.evaluation.resin.name;
    let says = match cured {
        Some(CuredThrough { at: Some(at), is_by_datasheet }) => format!(
            "Cured through from about {}, {}. {waits}",
            asked.shown.date_and_time(at, asked.shop.hours().zone()),
            if is_by_datasheet { "as the datasheet says" } else { "by the model, in this air" },
        ),
        Some(CuredThrough { at: None, .. }) => format!(
            "In this air {resin} does not cure through: keep the piece warmer, as its datasheet says. \
             {waits}"
        ),
        None => format!("When {resin} is cured through, its datasheet says. {waits}"),
    };
    says + "; food too, and only on a resin whose maker allows it, cured as its datasheet says."
}

fn planned_coat(asked: &Asked<'_>, pour: &ScheduledPour) -> String {
    let shown = asked.shown;
    format!(
        "{} of {} over the upper face, {} thick, {} {}.",
        shown.volume(pour.mixed),
        asked.evaluation.need_of(&pour.layer).resin.name,
        shown.length(pour.layer.depth()),
        match asked.evaluation.standing {
            Standing::Taken => "in the plan for",
            Standing::Proposed | Standing::Outdated => "proposed for",
        },
        shown.date_and_time(pour.at, asked.shop.hours().zone())
    )
}

/// A flood coat is poured at the bench once the plan has it, and put into the plan before.
fn poured_at(asked: &Asked<'_>, kind: StepKind, school: School) -> Option<(Station, &'static str)> {
    let coat = PlannedCoat::of(asked.document, asked.evaluation, school);
    coat.filter(|_| kind == StepKind::Surface).map(|coat| match coat {
        PlannedCoat::Taken => (Station::of(asked.cast, "bench"), "Pour it at the bench"),
        PlannedCoat::Proposed => (Station::of(asked.cast, "pours"), "Take its hours at Pours"),
        PlannedCoat::Missing => (
            Station::of(asked.cast, "pours"),
            "Put it into the plan at Pours, for its hours and its run at the bench",
        ),
    })
}

fn opening(asked: &Asked<'_>) -> String {
    let zone = asked.shop.hours().zone();
    match &asked.evaluation.pours {
        Ok(schedule) => format!(
            "Not before {}, when the coolest rim is hard. A thumbnail that leaves no mark at the rim \
             says the same.",
            asked.shown.date_and_time(schedule.form_opens(), zone)
        ),
        Err(_) => "There are no pour times yet, so the hour is not known.".to_owned(),
    }
}

fn flattening(found: &Finish, shown: Shown) -> Option<String> {
    let (faces, one) = found.flattened?;
    let both = if faces > 1 { "each of two faces" } else { "the upper face" };
    Some(format!(
        "{} of {} on {both}: the bit travels {} on each; {} go to chips.",
        passes(one.passes),
        counted(one.lanes, "lane"),
        way(one.path, shown),
        shown.volume(Volume::from_m3(one.chips.m3() * f64::from(faces)))
    ))
}

fn passes(count: u32) -> String {
    if count == 1 { "1 pass".to_owned() } else { format!("{count} passes") }
}

/// A long way: nobody counts it in millimetres.
fn way(path: Length, shown: Shown) -> String {
    const FOOT_M: f64 = 0.3048;
    match shown.system {
        UnitSystem::Metric => with_unit(&format!("{:.0}", path.m()), "m"),
        UnitSystem::UsCustomary => with_unit(&format!("{:.0}", path.m() / FOOT_M), "ft"),
    }
}

fn grits(one: &Surface) -> String {
    let grits: Vec<String> = one.sanded.iter().map(|grit| format!("P{}", grit.grit)).collect();
    grits.join(", ")
}

fn uses(one: &Surface, faces: u32, shown: Shown) -> String {
    match one.school {
        School::Polished => "Cutting and finishing compound, a pad for each.".to_owned(),
        School::FloodCoat => {
            let density = shipped::model(fondant_materials::resin::ResinClass::Coating).density;
            let mass: Mass = one.resin * density;
            let over = if faces > 1 { "both faces" } else { "the upper face" };
            let volume = shown.volume(one.resin);
            format!("{volume} of coating resin over {over}, {}.", shown.weighed(mass))
        }
        School::Oiled => {
            format!("{} of oil in two coats, wiped off after 10 min.", shown.volume(one.oil))
        }
    }
}

fn school_view((one, faces): (&Surface, u32), chosen: School, shown: Shown) -> SchoolView {
    let discs: u32 = one.sanded.iter().map(|grit| grit.discs).sum();
    SchoolView {
        slug: slug(one.school),
        name: finishing::school(one.school),
        is_chosen: one.school == chosen,
        gives: finishing::gives(one.school),
        grits: grits(one),
        discs: counted(discs, "disc"),
        uses: uses(one, faces, shown),
        takes: if one.takes > Span::ZERO { span(one.takes) } else { String::new() },
    }
}

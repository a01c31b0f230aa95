//! The plan on paper: what has to be ready, what goes into each bucket, and what is done in which order,
//! with boxes to tick. What is poured is ticked with its time, and what is late is marked.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use fondant_app::App;
use fondant_cast::agenda::Agenda;
use fondant_cast::facts::poured_of;
use fondant_cast::{Evaluation, Standing};
use fondant_pours::Schedule;
use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::pages::day_sheet::Mark;
use crate::pages::stations::asked::{Asked, Beside, Looking, Visit};
use crate::pages::stations::pours::{PourRow, picture, row};
use crate::paths::casts::{PlanSheet, Station};
use crate::svg::Markup;
use crate::ui::entries::Refusals;
use crate::ui::error::WebError;
use crate::ui::units::Shown;
use crate::words::cautions::at_the_pour;
use crate::words::mixing::a_and_b;
use crate::words::{kinds, plans, pours};

// Many fields: each is one part of the page.
#[derive(Template, WebTemplate)]
#[template(path = "pages/prints/plan.html")]
pub(super) struct PlanPage {
    back: Station,
    name: String,
    what: String,
    shop: String,
    printed: String,
    is_taken: bool,
    troubles: Vec<String>,
    layers: Markup,
    /// Resin, volume, and its two parts.
    ready: Vec<(String, String, String)>,
    pours: Vec<PourRow>,
    days: Vec<Day>,
    cautions: Vec<&'static str>,
}

/// What is done on one day.
struct Day {
    date: String,
    acts: Vec<ActRow>,
}

struct ActRow {
    when: String,
    what: String,
    mark: Mark,
}

pub(super) async fn show(path: PlanSheet, State(app): State<App>) -> Result<PlanPage, WebError> {
    let visit = Visit::of(&app, path.cast, Looking::default()).await?;
    let beside = Beside { typed: None, refusals: &Refusals::default(), marks: &[] };
    let asked = Asked::new(&visit, beside);
    let schedule = asked.evaluation.pours.as_ref().map_err(|_| WebError::NotFound("pour plan"))?;
    Ok(page(&asked, schedule))
}

fn page(asked: &Asked<'_>, schedule: &Schedule) -> PlanPage {
    let (document, evaluation, shown) = (asked.document, asked.evaluation, asked.shown);
    let zone = asked.shop.hours().zone();
    let planned = evaluation.planned.as_deref().unwrap_or_default();
    let poured = poured_of(planned, &asked.visit.facts);
    let is_taken = evaluation.standing == Standing::Taken;
    let agenda = is_taken.then(|| Agenda::of(document, planned, schedule, poured, asked.now));
    let resin = &evaluation.resin.name;
    let depth = asked.measured().fill.depth();
    let broken = |trouble| plans::broken(trouble, schedule, shown, zone);
    PlanPage {
        back: Station::of(asked.cast, "pours"),
        name: document.name.clone(),
        what: format!("{} · {resin} · {} deep", kinds::name(document.kind()), shown.length(depth)),
        shop: asked.shop.workshop.settings.name.clone(),
        printed: shown.date_and_time(asked.now, zone),
        is_taken,
        troubles: schedule.breaks.iter().map(broken).collect(),
        layers: picture(schedule, depth, shown),
        ready: ready(evaluation, shown),
        pours: (0..schedule.pours.len()).map(|i| row(asked, schedule, i, i < poured)).collect(),
        days: agenda.map(|agenda| days(&agenda, asked.now, zone)).unwrap_or_default(),
        cautions: at_the_pour(document, evaluation.needs.iter().map(|need| &*need.resin)),
    }
}

/// Each resin with all that is mixed of it.
fn ready(evaluation: &Evaluation, shown: Shown) -> Vec<(String, String, String)> {
    let line = |need: &fondant_cast::Need| {
        let parts = a_and_b(&need.parts, &need.resin, shown);
        (need.resin.name.clone(), shown.volume(need.parts.volume), parts)
    };
    evaluation.mixed().map(line).collect()
}

/// All acts, day by day.
fn days(agenda: &Agenda, now: Timestamp, zone: &TimeZone) -> Vec<Day> {
    let mut days: Vec<Day> = Vec::new();
    for act in agenda.acts() {
        let at = act.at.to_zoned_datetime(zone.clone());
        let date = at.strftime("%A, %-d %B").to_string();
        let row = ActRow {
            when: at.strftime("%H:%M").to_string(),
            what: pours::act(act.kind, agenda.pours[act.pour].layer),
            mark: Mark::of(&act, agenda.poured, now),
        };
        match days.last_mut().filter(|day| day.date == date) {
            Some(day) => day.acts.push(row),
            None => days.push(Day { date, acts: vec![row] }),
        }
    }
    days
}

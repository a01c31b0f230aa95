//! Writing down what happened to a pour, and withdrawing what was wrong.

use axum::extract::State;
use axum::response::Response;
use axum_htmx::HxRequest;
use fondant_app::casts::facts;
use fondant_app::{App, Request};
use fondant_cast::document::PourId;
use fondant_cast::facts::Fact;
use fondant_cast::facts::rest::Question;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Mass, Temperature, bounds};
use jiff::{SignedDuration, Timestamp};

use super::act::{asking, done};
use crate::pages::stations::asked::{Looking, Visit};
use crate::pages::stations::pours::form::moment;
use crate::pages::stations::pours::{QUESTIONED, ids};
use crate::pages::workspace::answer::{Showing, answer};
use crate::paths::casts::{LogFact, WithdrawFact};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::{layers, pours};

/// A clock in the shop may be fast by this.
const FAST_CLOCK: SignedDuration = SignedDuration::from_mins(10);
/// Nothing is written down that lies further from the plan than this.
const FAR: SignedDuration = SignedDuration::from_hours(30 * 24);

/// Writes down what happened.
pub(super) async fn log(
    path: LogFact,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let asking = asking(path.cast, is_fragment);
    let visit = Visit::of(&app, path.cast, Looking::default()).await?;
    let fact = match read(&visit, &entries) {
        Ok(fact) => fact,
        Err(refusals) => {
            let showing = Showing::Refused { typed: &entries, refusals: &refusals, marks: &[] };
            return answer(&app, asking, showing).await;
        }
    };
    if entries.get("fact_sure").is_none()
        && let Some(question) = facts::question(&app, &visit.planned, &visit.facts, fact).await?
    {
        let refusals = Refusals::at(QUESTIONED, questioned(&visit, &question));
        let showing = Showing::Refused { typed: &entries, refusals: &refusals, marks: &[] };
        return answer(&app, asking, showing).await;
    }
    let request = Request::keyed(entries.get("request"));
    let outcome = facts::log(&app, path.cast, expected(&entries)?, &request, fact).await;
    done(&app, &path, (asking, &entries), outcome).await
}

/// What a touch that does not fit would mean, and what is probably wrong.
fn questioned(visit: &Visit, question: &Question) -> String {
    let shop = &visit.open.shop;
    let name = |id: PourId| match (
        visit.worked.evaluation.pours.as_ref(),
        ids(&visit.worked.evaluation).iter().position(|known| *known == id),
    ) {
        (Ok(schedule), Some(place)) => layers::of(place, schedule),
        _ => "a layer".to_owned(),
    };
    let suspect = question.suspect.and_then(|row| match row.fact {
        Fact::Touched { pour, at, found, .. } => Some(format!(
            "{} was {} on {}",
            name(pour),
            pours::touch(found),
            shop.shown().date_and_time(at, shop.hours().zone())
        )),
        Fact::Poured { .. } | Fact::Withdrawn { .. } => None,
    });
    pours::question(question, suspect.as_deref())
}

/// What can be written down of a pour.
#[derive(Clone, Copy)]
enum What {
    Poured,
    Touched(Touch),
}

impl What {
    fn of(name: &str) -> Option<Self> {
        Some(match name {
            "poured" => Self::Poured,
            "clear" => Self::Touched(Touch::Clear),
            "tacky" => Self::Touched(Touch::Tacky),
            "hard" => Self::Touched(Touch::Hard),
            _ => return None,
        })
    }
}

fn read(visit: &Visit, entries: &Entries) -> Result<Fact, Refusals> {
    let mut reader = Reader::new(entries, visit.open.shop.shown().system);
    let pour = read_pour(&mut reader, visit);
    let at = read_moment(&mut reader, visit);
    let what = What::of(entries.get("fact_what").unwrap_or_default());
    if what.is_none() {
        reader.refusals.add("fact_what", "Choose what happened.");
    }
    let mut resin_at: Option<Temperature> = None;
    let mut cup: Option<Mass> = None;
    if matches!(what, Some(What::Poured)) {
        reader.maybe("fact_resin", &bounds::RESIN_TEMPERATURE, &mut resin_at);
    }
    if matches!(what, Some(What::Touched(_))) {
        reader.maybe("fact_cup", &bounds::WITNESS_CUP, &mut cup);
    }
    let (Some((pour, planned)), Some(at), Some(what)) = (pour, at, what) else {
        return Err(reader.refusals);
    };
    if at.duration_since(planned).abs() > FAR {
        let far =
            "That is more than a month from the plan. Check the date, or move the pour first.";
        reader.refusals.add("fact_at", far);
    }
    if matches!(what, What::Touched(_)) && at < planned {
        let later = "That layer goes in later by the plan. Write down first when it was poured.";
        reader.refusals.add("fact_at", later);
    }
    if !reader.refusals.is_empty() {
        return Err(reader.refusals);
    }
    Ok(match what {
        What::Poured => Fact::Poured { pour, at, resin_at },
        What::Touched(found) => Fact::Touched { pour, at, found, cup },
    })
}

/// The pour and when it went or goes in, by what has happened.
fn read_pour(reader: &mut Reader<'_>, visit: &Visit) -> Option<(PourId, Timestamp)> {
    let id = reader.entries.get("fact_pour").and_then(|text| text.parse().ok()).map(PourId);
    let planned = visit.worked.evaluation.planned.as_deref().unwrap_or_default();
    let found = planned.iter().find(|pour| Some(pour.id) == id && !pour.id.is_proposed());
    if found.is_none() {
        let none = "The plan you took has no such layer. Choose one.";
        reader.refusals.add("fact_pour", none);
    }
    let place = planned.iter().position(|pour| Some(pour.id) == id);
    let now = visit.worked.evaluation.pours.as_ref().ok();
    let at = place.and_then(|place| now?.pours.get(place)).map(|pour| pour.at);
    found.map(|pour| (pour.id, at.unwrap_or(pour.given.at)))
}

fn read_moment(reader: &mut Reader<'_>, visit: &Visit) -> Option<Timestamp> {
    let text = reader.entries.get("fact_at").unwrap_or_default();
    let at = moment(text, &visit.open.shop);
    match at {
        None => reader.refusals.add(
            "fact_at",
            format!("“{text}” is not a date and time. Write it as 2026-11-24T08:00."),
        ),
        Some(at) if at > visit.now + FAST_CLOCK => reader
            .refusals
            .add("fact_at", "That is in the future. Write it down once it has happened."),
        Some(_) => {}
    }
    at
}

/// Withdraws what was written down wrongly.
pub(super) async fn withdraw(
    path: WithdrawFact,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let outcome = facts::withdraw(&app, path.cast, expected(&entries)?, path.row).await;
    done(&app, &path, (asking(path.cast, is_fragment), &entries), outcome).await
}

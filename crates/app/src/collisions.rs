//! A pour that collides with others moved out of their way.

use fondant_cast::agenda::{Agenda, AtBench, collisions};
use fondant_cast::document::PourId;
use fondant_cast::facts::FactRow;
use fondant_cast::pours::as_given;
use fondant_pours::Schedule;
use fondant_store::repos::CastId;
use jiff::{SignedDuration, Timestamp};

use crate::agendas::CastAgenda;
use crate::app::App;
use crate::bench::at_bench;
use crate::casts::open::{Open, open};
use crate::casts::pours::{refitted, shown, taken};
use crate::casts::write::{Act, Changed, Draft, write};
use crate::error::AppError;
use crate::request::Request;

/// Step between the moves that are tried, and their number.
const STEP: SignedDuration = SignedDuration::from_mins(30);
const TRIES: i32 = 60;

/// A move that collides with nothing and breaks nothing.
#[derive(Debug, Clone)]
pub struct Way {
    /// When the pour goes in then.
    pub at: Timestamp,
    /// The cast's pours then.
    pub schedule: Schedule,
    /// When the form opened before.
    pub opened: Timestamp,
    /// The revision of the cast that it was found for.
    pub revision: i32,
}

/// The first later time of a pour that collides with nothing and breaks nothing; `None` where
/// there is none within thirty hours.
///
/// # Errors
/// [`AppError::NotFound`] where the cast has no such pour.
pub async fn way_out(app: &App, cast: CastId, pour: PourId) -> Result<Option<Way>, AppError> {
    find(app, &open(app, cast).await?, pour).await
}

async fn find(app: &App, open: &Open, pour: PourId) -> Result<Option<Way>, AppError> {
    let worked = open.worked(app).await?;
    let evaluation = &worked.evaluation;
    let (Some(task), Some(planned), Ok(schedule)) =
        (evaluation.pour_task.clone(), evaluation.planned.clone(), &evaluation.pours)
    else {
        return Ok(None);
    };
    let given = shown(&worked)?;
    let place = planned.iter().position(|planned| planned.id == pour);
    let place = place.ok_or(AppError::NotFound("pour"))?;
    let from = given[place].at;
    let (opened, revision, hands) = (schedule.hard, open.record.revision, open.shop.site().hands);
    let now = app.now();
    let others = app.agendas(&open.shop, now).await?;
    let others: Vec<CastAgenda> =
        others.into_iter().filter(|other| other.cast != open.record.id).collect();
    let busy = at_bench(app, &open.shop, &others).await?;
    // What this cast has at the bench is no other: its next pour waits for it by its own plan.
    let busy: Vec<AtBench> = busy
        .into_iter()
        .filter(|(cast, _)| *cast != open.record.id)
        .map(|(_, busy)| busy)
        .collect();
    let others: Vec<Agenda> = others.into_iter().map(|other| other.agenda).collect();
    let document = open.record.document.clone();
    let search = app.compute_beside(move |stop| {
        let task = task.until(stop);
        (1..=TRIES).take_while(|_| !stop.is_requested()).find_map(|step| {
            let mut tried = given.clone();
            tried[place].at = from + STEP * step;
            let schedule = refitted(&task, &tried, place).ok()?;
            let mut all = others.clone();
            all.push(Agenda::of(&document, &planned, &schedule, 0, now));
            let mine = all.len() - 1;
            let collides = collisions(&all, &busy, hands).iter().any(|c| c.gives_way().0 == mine);
            let is_way = schedule.breaks.is_empty() && !collides;
            is_way.then(|| Way { at: tried[place].at, schedule, opened, revision })
        })
    });
    search.await
}

/// Moves the pour there: what was offered, or nothing.
///
/// # Errors
/// [`AppError::OfferGone`] where the day has changed, [`AppError::Stale`] where the cast has;
/// nothing is written then.
pub async fn make_way(
    app: &App,
    cast: CastId,
    expected: i32,
    (pour, at): (PourId, Timestamp),
) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), MakeWay { pour, at }).await
}

struct MakeWay {
    pour: PourId,
    at: Timestamp,
}

impl Act for MakeWay {
    async fn draft(&self, app: &App, open: &Open, _: &[FactRow]) -> Result<Draft, AppError> {
        let way = find(app, open, self.pour).await?.filter(|way| way.at == self.at);
        taken(app, open, &as_given(&way.ok_or(AppError::OfferGone)?.schedule)).await
    }
}

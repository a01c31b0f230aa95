//! What is done to a piece once it is out of its form: told step by step, with its hours, from which the
//! shop's own pace is learnt.

use std::collections::BTreeMap;

use fondant_cast::{Document, Evaluation, Standing};
use fondant_finish::pace::{Pace, paces};
use fondant_finish::steps::{chosen, dated, left};
use fondant_finish::surface::School;
use fondant_finish::work::{StepKind, Told, Work, WorkRefused};
use fondant_pours::ScheduledPour;
use fondant_quantities::Span;
use fondant_store::repos::{CastId, WorkshopId};
use jiff::Timestamp;

use crate::app::App;
use crate::casts::open::{Open, open};
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// Rows from which the shop's pace is taken: those of some two hundred pieces.
const MOST_ROWS: u64 = 3000;

/// How the finishing of a cast stands, and the pace of its shop.
#[derive(Debug, Clone, PartialEq)]
pub struct Finishing {
    /// Finishing so far, folded from its rows.
    pub work: Work,
    /// The shop's pace, by step.
    pub paces: BTreeMap<StepKind, Pace>,
}

/// How the finishing of a cast stands.
///
/// # Errors
/// [`AppError`].
pub async fn finishing(app: &App, open: &Open) -> Result<Finishing, AppError> {
    let workshop = open.shop.id;
    let rows = app.store.read().finish_rows(workshop, open.record.id).await?;
    Ok(Finishing { work: Work::of(&rows), paces: pace_of(app, workshop).await? })
}

async fn pace_of(app: &App, workshop: WorkshopId) -> Result<BTreeMap<StepKind, Pace>, AppError> {
    let all = app.store.read().finish_rows_of_all(workshop, MOST_ROWS).await?;
    let works: Vec<Work> = all.iter().map(|rows| Work::of(rows)).collect();
    Ok(paces(works.iter()))
}

/// Writes down what was told. The same request sent again writes it once; the inner error says why it
/// cannot be as things stand.
///
/// # Errors
/// [`AppError`].
pub async fn tell_of(
    app: &App,
    cast: CastId,
    told: &Told,
    request: &Request,
) -> Result<Result<(), WorkRefused>, AppError> {
    let Open { shop, .. } = open(app, cast).await?;
    let now = app.now();
    let transaction = app.store.begin().await?;
    if request.answered(&transaction, shop.id, now).await?.is_some() {
        return Ok(Ok(()));
    }
    let revision = transaction.lock_cast(shop.id, cast).await?;
    let rows = transaction.finish_rows(shop.id, cast).await?;
    if let Some(refused) = Work::of(&rows).refuses(told) {
        return Ok(Err(refused));
    }
    let row = transaction.add_finish_row(cast, told, now).await?;
    request.keep_answer(&transaction, shop.id, row, now).await?;
    tell(&transaction, &Event::CastChanged { workshop: shop.id, cast, revision }).await?;
    transaction.commit().await?;
    Ok(Ok(()))
}

/// How far the flood coat of a cast has come in its plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PlannedCoat {
    /// The plan has none.
    Missing,
    /// Its hours are proposed, and not taken.
    Proposed,
    /// Its hours are taken.
    Taken,
}

impl PlannedCoat {
    /// How far it has come; `None` where the last surface is another, or the cast takes no coat.
    #[must_use]
    pub fn of(document: &Document, evaluation: &Evaluation, school: School) -> Option<Self> {
        let is_wanted = school == School::FloodCoat && document.takes_flood();
        is_wanted.then(|| match (flood_coat(evaluation), evaluation.standing) {
            (None, _) => Self::Missing,
            (Some(_), Standing::Taken) => Self::Taken,
            (Some(_), Standing::Proposed | Standing::Outdated) => Self::Proposed,
        })
    }
}

/// The flood coat among the pours of a cast.
#[must_use]
pub fn flood_coat(evaluation: &Evaluation) -> Option<&ScheduledPour> {
    let pours = &evaluation.pours.as_ref().ok()?.pours;
    pours.last().filter(|pour| pour.layer.kind.is_flood())
}

/// What is left to be done to a cast that is out of its form, or soon will be.
#[derive(Debug, Clone, PartialEq)]
pub struct Due {
    /// The cast.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
    /// The steps that are left, with when they are worked on in the hours of the shop, one cast by
    /// itself, at the shop's own pace.
    pub steps: Vec<(StepKind, [Timestamp; 2])>,
    /// The last surface.
    pub school: School,
    /// How far the flood coat has come in the plan, where one is still to come.
    pub coat: Option<PlannedCoat>,
    /// Work that is left of the first of them.
    pub takes: Span,
    /// Since when somebody works on the first of them.
    pub since: Option<Timestamp>,
    /// When something was told of it last; `None` where nothing was.
    pub told_at: Option<Timestamp>,
}

/// What is left of casts, each from a moment on. A cast that cannot be worked out is left out.
///
/// # Errors
/// [`AppError`].
pub async fn due(
    app: &App,
    shop: &Shop,
    casts: &[(CastId, Timestamp)],
) -> Result<Vec<Due>, AppError> {
    let paces = pace_of(app, shop.id).await?;
    let mut all = Vec::new();
    for (cast, from) in casts {
        match due_of(app, (*cast, *from), &paces).await {
            Ok(due) => all.extend(due),
            Err(AppError::Conflicts(_) | AppError::NotFound(_)) => {}
            Err(error) => return Err(error),
        }
    }
    Ok(all)
}

async fn due_of(
    app: &App,
    (cast, from): (CastId, Timestamp),
    paces: &BTreeMap<StepKind, Pace>,
) -> Result<Option<Due>, AppError> {
    let open = open(app, cast).await?;
    let worked = open.worked(app).await?;
    let rows = app.store.read().finish_rows(open.shop.id, cast).await?;
    let work = Work::of(&rows);
    let document = &open.record.document;
    let mut steps = left(document, &worked.evaluation.measured, &work);
    for (kind, takes) in &mut steps {
        let took = work.steps.get(kind).map_or(Span::ZERO, |step| step.took);
        let factor = paces.get(kind).map_or(1.0, |pace| pace.factor);
        *takes = (*takes * factor - took).max(Span::ZERO);
    }
    let first = steps.first().and_then(|(kind, _)| work.steps.get(kind));
    let school = chosen(document, &work);
    Ok(steps.first().map(|(_, takes)| Due {
        cast,
        takes: *takes,
        name: document.name.clone(),
        steps: dated(&steps, open.shop.hours(), from),
        school,
        coat: steps
            .iter()
            .find(|(kind, _)| *kind == StepKind::Surface)
            .and_then(|_| PlannedCoat::of(document, &worked.evaluation, school)),
        since: first.and_then(|step| step.since),
        told_at: rows.last().map(|row| row.at),
    }))
}

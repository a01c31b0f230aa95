//! What is done to a piece once it is out of its form: told step by step, with its hours, from which the
//! shop's own pace is learnt.

use std::collections::BTreeMap;

use fondant_finish::pace::{Pace, paces};
use fondant_finish::work::{StepKind, Told, Work, WorkRefused};
use fondant_store::repos::{CastId, WorkshopId};

use crate::app::App;
use crate::casts::open::{Open, open};
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;

/// Rows from which the shop's pace is taken: those of some two hundred pieces.
const MOST_ROWS: u64 = 3000;

/// How the finishing of a cast stands, and the pace of its shop.
#[derive(Debug, Clone, PartialEq)]
pub struct Finishing {
    /// What was told.
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

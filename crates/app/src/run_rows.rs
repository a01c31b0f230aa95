//! How a row of a run is written in a transaction: by itself, or with the fact of the pour that it is.

use fondant_bench::{Happening, Run};
use fondant_store::Transaction;
use fondant_store::repos::{CastId, NewRow, RunId, WorkshopId};
use jiff::Timestamp;

use crate::error::AppError;
use crate::events::{Event, tell};

/// Writes a row down in a transaction, where it can happen and is not there yet.
pub(crate) async fn append(
    transaction: &Transaction,
    workshop: WorkshopId,
    (cast, run): (CastId, RunId),
    row: &NewRow,
    now: Timestamp,
) -> Result<(), AppError> {
    let kept = transaction.lock_run(workshop, cast, run).await?;
    if transaction.run_row(run, &row.key).await?.is_some() {
        return Ok(());
    }
    let state = Run::of(kept.plan, &kept.rows);
    if let Some(refused) = state.refuses(&row.what, &kept.rows) {
        return Err(refused.into());
    }
    transaction.add_run_row(run, row, now).await?;
    draw_down(transaction, workshop, (&state, &kept.rows), &row.what, now).await?;
    if matches!(row.what, Happening::Finished | Happening::Abandoned { .. }) {
        transaction.end_run(run, row.at, state.hard_at()).await?;
    }
    tell(transaction, &Event::RunChanged { workshop, cast, run }).await
}

/// Takes what a bucket was mixed of from its lot; what was mixed by a slip goes back.
async fn draw_down(
    transaction: &Transaction,
    workshop: WorkshopId,
    (run, rows): (&Run, &[fondant_bench::Row]),
    what: &Happening,
    now: Timestamp,
) -> Result<(), AppError> {
    let (met, sign) = match what {
        Happening::Withdrawn { row, .. } => {
            let withdrawn = rows.iter().find(|other| other.number == *row);
            (withdrawn.map(|row| &row.what), -1.0)
        }
        other => (Some(other), 1.0),
    };
    let Some(Happening::MixBegun { batch, lot: Some(lot), .. }) = met else { return Ok(()) };
    let Some(batch) = run.batch(*batch) else { return Ok(()) };
    let mixed = batch.mass(&run.plan) / run.plan.resin.density;
    Ok(transaction.draw_lot(workshop, lot, mixed * sign, now).await?)
}

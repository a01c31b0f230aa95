//! What happened to a cast, written down and withdrawn.

use std::sync::Arc;

use fondant_cast::facts::rest::{self, Question};
use fondant_cast::facts::{Fact, FactRow, standing};
use fondant_store::repos::CastId;

use crate::app::App;
use crate::casts::open::Open;
use crate::casts::write::{Act, Changed, Draft, write};
use crate::error::AppError;
use crate::evaluating::Worked;
use crate::request::Request;

/// Writes down what happened to a cast. The same thing written down twice stands once.
///
/// # Errors
/// [`AppError::Stale`] where the cast has changed since, [`AppError::NotFound`] for a pour that
/// the plan does not have; nothing is written then.
pub async fn log(
    app: &App,
    cast: CastId,
    expected: i32,
    request: &Request,
    fact: Fact,
) -> Result<Changed, AppError> {
    write(app, cast, expected, request, Log(fact)).await
}

struct Log(Fact);

impl Act for Log {
    async fn draft(&self, _: &App, open: &Open, rows: &[FactRow]) -> Result<Draft, AppError> {
        let draft = Draft::document(open.record.document.clone());
        let stands = standing(rows).iter().any(|row| row.fact == self.0);
        if stands {
            return Ok(draft);
        }
        if let Some(pour) = self.0.pour() {
            let taken = &open.record.document.pours.taken;
            let is_planned = taken.iter().any(|taken| taken.id == pour);
            is_planned.then_some(()).ok_or(AppError::NotFound("pour"))?;
        }
        Ok(Draft { fact: Some(self.0), ..draft })
    }
}

/// What is wrong with something that is about to be written down; `None` where it fits what is
/// known, or no plan is taken.
///
/// # Errors
/// [`AppError`].
pub async fn question(
    app: &App,
    planned: &Worked,
    rows: &[FactRow],
    fact: Fact,
) -> Result<Option<Question>, AppError> {
    let (evaluation, rows) = (Arc::clone(&planned.evaluation), rows.to_vec());
    let asked = app.compute(move |stop| {
        let task = evaluation.pour_task.as_ref()?.until(stop);
        // What the model cannot follow is no reason to refuse what somebody has felt.
        rest::question(&task, evaluation.planned.as_ref()?, &rows, &fact).ok().flatten()
    });
    asked.await
}

/// Withdraws what was written down wrongly. What is withdrawn already stays so.
///
/// # Errors
/// [`AppError::NotFound`] where the cast has no such row, [`AppError::Stale`] where it has changed
/// since; nothing is written then.
pub async fn withdraw(
    app: &App,
    cast: CastId,
    expected: i32,
    row: i64,
) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), Withdraw { row }).await
}

struct Withdraw {
    row: i64,
}

impl Act for Withdraw {
    async fn draft(&self, _: &App, open: &Open, rows: &[FactRow]) -> Result<Draft, AppError> {
        let row = self.row;
        let draft = Draft::document(open.record.document.clone());
        let written = rows.iter().find(|written| written.number == row);
        let is_something =
            written.is_some_and(|written| !matches!(written.fact, Fact::Withdrawn { .. }));
        is_something.then_some(()).ok_or(AppError::NotFound("note"))?;
        let is_withdrawn =
            |other: &FactRow| matches!(other.fact, Fact::Withdrawn { row: gone } if gone == row);
        if rows.iter().any(is_withdrawn) {
            return Ok(draft);
        }
        Ok(Draft { fact: Some(Fact::Withdrawn { row }), ..draft })
    }
}

//! A cast with everything that its pages show.

use fondant_cast::Standing;
use fondant_cast::facts::{self, FactRow, poured_of};
use fondant_store::repos::{CastId, CastRecord};

use crate::app::App;
use crate::error::Boxed;
use crate::evaluating::Worked;
use crate::shop::Shop;

/// A cast and its shop.
#[derive(Debug, Clone)]
pub struct Open {
    /// The shop.
    pub shop: Shop,
    /// The cast.
    pub record: CastRecord,
}

/// Opens a cast.
///
/// # Errors
/// [`AppError::NotFound`](crate::error::AppError::NotFound) where the workshop has none of that number.
pub fn open(app: &App, cast: CastId) -> Boxed<'_, Open> {
    Box::pin(async move {
        let shop = app.shop().await?;
        let record = app.store.read().cast(shop.id, cast).await?;
        Ok(Open { shop, record })
    })
}

impl Open {
    /// What follows from its document.
    ///
    /// # Errors
    /// [`AppError`](crate::error::AppError).
    pub fn worked<'a>(&'a self, app: &'a App) -> Boxed<'a, Worked> {
        app.evaluate(&self.record.document, &self.shop)
    }

    /// What has happened to it, in the order in which it was written down.
    ///
    /// # Errors
    /// [`AppError`](crate::error::AppError).
    pub fn facts<'a>(&'a self, app: &'a App) -> Boxed<'a, Vec<FactRow>> {
        Box::pin(async { Ok(app.store.read().facts(self.shop.id, self.record.id).await?) })
    }
}

/// How many pours of a worked cast have happened.
#[must_use]
pub fn poured(worked: &Worked, rows: &[FactRow]) -> usize {
    worked.evaluation.planned.as_ref().map_or(0, |planned| poured_of(planned, rows))
}

/// Whether any of the plan that was taken is poured.
#[must_use]
pub fn has_begun(worked: &Worked, rows: &[FactRow]) -> bool {
    let poured = facts::poured(rows);
    worked.inputs.document.pours.taken.iter().any(|taken| poured.contains(&taken.id))
}

/// Whether something is poured over which the cast as it is now has no plan, though it has one of its own.
#[must_use]
pub fn misfits(worked: &Worked, rows: &[FactRow]) -> bool {
    let evaluation = &worked.evaluation;
    let is_planned = evaluation.standing != Standing::Outdated || evaluation.planned.is_some();
    !is_planned && evaluation.pours.is_ok() && has_begun(worked, rows)
}

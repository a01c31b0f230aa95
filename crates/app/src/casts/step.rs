//! Changes of a cast undone and redone.

use fondant_cast::facts::FactRow;
use fondant_store::repos::{CastId, Step};

use crate::app::App;
use crate::casts::open::Open;
use crate::casts::write::{Act, Changed, Draft, Origin, write};
use crate::error::AppError;
use crate::request::Request;

/// Takes the last change of a cast back, or makes it again.
///
/// # Errors
/// [`AppError::Stale`] where somebody has changed it since, [`AppError::Nothing`] where there is
/// no such change.
pub async fn step(app: &App, cast: CastId, expected: i32, step: Step) -> Result<Changed, AppError> {
    write(app, cast, expected, &Request::default(), StepFrom { expected, step }).await
}

struct StepFrom {
    expected: i32,
    step: Step,
}

impl Act for StepFrom {
    async fn draft(&self, app: &App, open: &Open, _: &[FactRow]) -> Result<Draft, AppError> {
        let Self { expected, step } = *self;
        let (shop, cast) = (open.shop.id, open.record.id);
        let mut document = app.store.read().step_target(shop, cast, expected, step).await?;
        // What is in is no change that could be taken back.
        document.pours.poured_of.clone_from(&open.record.document.pours.poured_of);
        Ok(Draft { origin: Origin::Stepped(step), ..Draft::document(document) })
    }
}

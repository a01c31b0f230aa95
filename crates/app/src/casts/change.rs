//! A cast's document changed.

use fondant_cast::Document;
use fondant_cast::facts::FactRow;
use fondant_store::repos::CastId;

use crate::app::App;
use crate::casts::open::Open;
use crate::casts::write::{Act, Changed, Draft, write};
use crate::error::AppError;
use crate::request::Request;

/// Changes the document of a cast that is still at `expected`.
///
/// # Errors
/// [`AppError::Stale`] where somebody has changed it since, [`AppError::Conflicts`] where it would
/// contradict itself, and what `edit` says; nothing is written then.
pub async fn change<E: From<AppError> + Send>(
    app: &App,
    cast: CastId,
    expected: i32,
    edit: impl Fn(&Open) -> Result<Document, E> + Sync,
) -> Result<Changed, E> {
    write(app, cast, expected, &Request::default(), Edit(edit)).await
}

struct Edit<F>(F);

impl<E: Send, F: Fn(&Open) -> Result<Document, E> + Sync> Act<E> for Edit<F> {
    fn draft(
        &self,
        _: &App,
        open: &Open,
        _: &[FactRow],
    ) -> impl Future<Output = Result<Draft, E>> + Send {
        let edited = (self.0)(open).map(Draft::document);
        async { edited }
    }
}

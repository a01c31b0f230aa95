//! What is in stays of the resin that it was poured with.

use fondant_cast::Document;
use fondant_cast::facts::{self, FactRow, resins};

use super::open::Open;
use crate::app::App;
use crate::error::AppError;

/// A document of a cast, with a note of which resins its pours are that are in: so that the cast can get
/// another one.
///
/// # Errors
/// [`AppError`].
pub async fn noted(
    app: &App,
    open: &Open,
    rows: &[FactRow],
    mut document: Document,
) -> Result<Document, AppError> {
    let poured = facts::poured(rows);
    if poured.is_empty() {
        return Ok(document);
    }
    let worked = open.worked(app).await?;
    let over = app.over_poured(&worked, rows).await?;
    let over = over.as_ref().as_ref().map(|(planned, _)| planned);
    if let Some(planned) = worked.evaluation.planned.as_ref().or(over) {
        resins::keep(&mut document, (&open.record.document, planned), &poured);
    }
    Ok(document)
}

/// A changed document: where its resins may be others, with a note of what is in; without one of what was
/// not poured after all. `rows` is what has happened, `after` with what is about to be written down.
pub(super) async fn kept(
    app: &App,
    open: &Open,
    (rows, after): (&[FactRow], &[FactRow]),
    document: Document,
) -> Result<Document, AppError> {
    let mut document = match resins::may_differ(&open.record.document, &document) {
        true => noted(app, open, rows, document).await?,
        false => document,
    };
    resins::forget(&mut document, &facts::poured(after));
    Ok(document)
}

//! A cast begun.

use fondant_cast::{Document, refusals};
use fondant_store::Transaction;
use fondant_store::repos::CastId;
use jiff::Timestamp;

use crate::app::App;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// Begins a cast. The same request sent twice begins one.
///
/// # Errors
/// [`AppError::Conflicts`] where the document contradicts itself.
pub async fn create(
    app: &App,
    shop: &Shop,
    document: &Document,
    request: &Request,
) -> Result<CastId, AppError> {
    check(app, document).await?;
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, app.now()).await? {
        return Ok(CastId(before));
    }
    let cast = begin(&transaction, shop, document, (request, app.now())).await?;
    transaction.commit().await?;
    Ok(cast)
}

/// Refuses a document that contradicts itself.
pub(super) async fn check(app: &App, document: &Document) -> Result<(), AppError> {
    let checked = document.clone();
    let conflicts = app.compute(move |_| refusals(&checked)).await?;
    if conflicts.is_empty() { Ok(()) } else { Err(AppError::Conflicts(conflicts)) }
}

/// Begins a cast in a transaction.
pub(super) async fn begin(
    transaction: &Transaction,
    shop: &Shop,
    document: &Document,
    (request, now): (&Request, Timestamp),
) -> Result<CastId, AppError> {
    let cast = transaction.create_cast(shop.id, document, now).await?;
    request.keep_answer(transaction, shop.id, cast.0, now).await?;
    tell(transaction, &Event::CastChanged { workshop: shop.id, cast, revision: 1 }).await?;
    Ok(cast)
}

//! Casts renamed, copied, put away, deleted and brought back.

use fondant_cast::Document;
use fondant_store::repos::{CastId, Keep};

use crate::app::App;
use crate::casts::open::open;
use crate::casts::{Changed, change, create};
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// Gives a cast that is still at `expected` another name.
///
/// # Errors
/// [`AppError::Stale`] where somebody has changed it since; [`AppError::Conflicts`] where the name
/// cannot be.
pub async fn rename(
    app: &App,
    cast: CastId,
    expected: i32,
    name: String,
) -> Result<Changed, AppError> {
    change(app, cast, expected, |open| {
        Ok(Document { name: name.clone(), ..open.record.document.clone() })
    })
    .await
}

/// Begins a cast like another, changed as is wanted, its name at least: what was planned and written down stays with
/// the other. The same request sent twice begins one.
///
/// # Errors
/// [`AppError::NotFound`]; [`AppError::Conflicts`] where the other contradicts itself.
pub async fn copy(
    app: &App,
    cast: CastId,
    request: &Request,
    change: impl FnOnce(&mut Document),
) -> Result<CastId, AppError> {
    let open = open(app, cast).await?;
    let mut document = open.record.document.clone();
    change(&mut document);
    document.pours.forget();
    create(app, &open.shop, &document, request).await
}

/// Keeps a cast in another place. One that is put away or deleted asks nothing of the shop: it leaves
/// Today and the calendar and lets go of its form, which it does not take again when it is brought
/// back.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn keep(app: &App, shop: &Shop, cast: CastId, keep: Keep) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    let was = transaction.kept_cast(shop.id, cast).await?;
    if let Some(revision) = transaction.keep_cast(shop.id, cast, keep, app.now()).await? {
        if keep != Keep::Open {
            transaction.release_form(shop.id, cast).await?;
        } else if was.is_some_and(|(_, was)| was == Keep::PutAway) {
            // One that had come to its end is worked on again.
            transaction.reopen_record(cast).await?;
        }
        let event = Event::CastChanged { workshop: shop.id, cast, revision };
        tell(&transaction, &event).await?;
    }
    transaction.commit().await?;
    Ok(())
}

/// Name of a cast, deleted or not, and where it is kept.
///
/// # Errors
/// [`AppError`].
pub async fn kept(
    app: &App,
    shop: &Shop,
    cast: CastId,
) -> Result<Option<(String, Keep)>, AppError> {
    Ok(app.store.read().kept_cast(shop.id, cast).await?)
}

/// Deletes for good what was deleted thirty days ago.
pub(crate) async fn forget_deleted(app: &App) -> Result<u64, AppError> {
    let transaction = app.store.begin().await?;
    let gone = transaction.forget_deleted_casts(app.now()).await?;
    transaction.commit().await?;
    Ok(gone)
}

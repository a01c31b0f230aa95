//! Whole casts from and to files: what goes with a cast, and where it goes.

use std::collections::BTreeSet;

use fondant_files::records::archive::Archive;
use fondant_files::records::cast;
use fondant_materials::resin::ResinId;
use fondant_materials::resin::shelf::OwnResin;
use fondant_store::Transaction;
use fondant_store::repos::CastId;
use jiff::Timestamp;

use crate::app::App;
use crate::casts::named::resins;
use crate::casts::open::Open;
use crate::casts::{archived, create};
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// A resin that a cast's file names is neither in it nor on the shelf.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("the resin {} is neither in the file nor on the shelf", .0.0)]
pub struct NoResin(pub ResinId);

/// A cast's plan as a file, with the resins that it names.
///
/// # Errors
/// [`AppError`].
pub fn write(open: &Open) -> Result<String, AppError> {
    let document = &open.record.document;
    cast::write(document, resins(open.shop.shelf(), document)).map_err(AppError::fault)
}

/// Begins a cast from a file, with all that the file tells of it. Resins that the shelf has under the same
/// name are taken from there; the others are put on it, with the cast or not at all. The same request sent
/// twice begins one.
///
/// # Errors
/// [`AppError::Conflicts`] where the document contradicts itself; the inner error says which resin
/// is missing.
pub async fn import(
    app: &App,
    shop: &Shop,
    mut read: Archive,
    request: &Request,
) -> Result<Result<CastId, NoResin>, AppError> {
    create::check(app, &read.document).await?;
    let now = app.now();
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(Ok(CastId(before)));
    }
    let workshop = transaction.lock_workshop(shop.id).await?;
    // The shelf as it is now, which nobody else changes before this is done.
    let shop = app.shop_of(workshop).await?;
    if let Err(missing) = put_on_shelf(&transaction, &shop, &read, now).await? {
        return Ok(Err(missing));
    }
    let ids = transaction.pour_ids(read.pours().len()).await?;
    read.renumber(&ids);
    let cast = create::begin(&transaction, &shop, &read.document, (request, now)).await?;
    archived::put(&transaction, (shop.id, cast), &read, now).await?;
    transaction.commit().await?;
    Ok(Ok(cast))
}

async fn put_on_shelf(
    transaction: &Transaction,
    shop: &Shop,
    read: &Archive,
    now: Timestamp,
) -> Result<Result<(), NoResin>, AppError> {
    let shelf = shop.shelf();
    let missing = read.document.named_resins().filter(|id| shelf.find(id).is_err());
    let missing: BTreeSet<&str> = missing.map(|id| id.0.as_str()).collect();
    for id in &missing {
        let brought = read.resins.iter().find(|resin| resin.id.0 == *id && resin.check().is_ok());
        let Some(resin) = brought.cloned() else {
            return Ok(Err(NoResin(ResinId((*id).to_owned()))));
        };
        let own = OwnResin { resin, is_put_away: false };
        transaction.put_on_shelf(shop.id, id, 0, &own, now).await?;
    }
    if !missing.is_empty() {
        tell(transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    }
    Ok(Ok(()))
}

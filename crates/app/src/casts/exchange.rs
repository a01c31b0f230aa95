//! Whole casts from and to files: what goes with a cast, and where it goes.

use std::collections::BTreeSet;

use fondant_files::records::cast::{self, CastFile};
use fondant_materials::resin::shelf::OwnResin;
use fondant_materials::resin::{Record, ResinId};
use fondant_store::repos::CastId;

use crate::app::App;
use crate::casts::create;
use crate::casts::open::Open;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// A resin that a cast's file names is neither in it nor on the shelf.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("the resin {} is neither in the file nor on the shelf", .0.0)]
pub struct NoResin(pub ResinId);

/// A cast as a file, with the resins that it names.
///
/// # Errors
/// [`AppError`].
pub fn write(open: &Open) -> Result<String, AppError> {
    let document = &open.record.document;
    let mut resins = Vec::new();
    for id in std::iter::once(&document.resin).chain(document.stages.named_resins()) {
        if let Ok(found) = open.shop.shelf().find(id)
            && !resins.iter().any(|resin: &Record| resin.id == *id)
        {
            resins.push(found.clone());
        }
    }
    cast::write(document, resins).map_err(AppError::fault)
}

/// Begins a cast from a file. Resins that the shelf has under the same name are taken from there;
/// the others are put on it, with the cast or not at all. The same request sent twice begins one.
///
/// # Errors
/// [`AppError::Conflicts`] where the document contradicts itself; the inner error says which resin
/// is missing.
pub async fn import(
    app: &App,
    shop: &Shop,
    read: CastFile,
    request: &Request,
) -> Result<Result<CastId, NoResin>, AppError> {
    let CastFile { document, resins } = read;
    create::check(app, &document).await?;
    let now = app.now();
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(Ok(CastId(before)));
    }
    let workshop = transaction.lock_workshop(shop.id).await?;
    // The shelf as it is now, which nobody else changes before this is done.
    let shelf = app.shop_of(workshop).await?.stock.shelf.clone();
    let named = std::iter::once(&document.resin).chain(document.stages.named_resins());
    let missing: BTreeSet<&str> =
        named.filter(|id| shelf.find(id).is_err()).map(|id| id.0.as_str()).collect();
    for id in &missing {
        let brought = resins.iter().find(|resin| resin.id.0 == *id && resin.check().is_ok());
        let Some(resin) = brought.cloned() else {
            return Ok(Err(NoResin(ResinId((*id).to_owned()))));
        };
        let own = OwnResin { resin, is_put_away: false };
        transaction.put_on_shelf(shop.id, id, 0, &own, now).await?;
    }
    if !missing.is_empty() {
        tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    }
    let cast = create::begin(&transaction, shop, &document, (request, now)).await?;
    transaction.commit().await?;
    Ok(Ok(cast))
}

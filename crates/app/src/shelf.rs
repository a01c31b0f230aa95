//! The shelf: resins, what is in the bottles, colours, and what logs have taught.

use fondant_heat::calibration::Refusal;
use fondant_heat::calibration::cup::{Cup, WaterTest};
use fondant_heat::calibration::learning::{Lesson, learn};
use fondant_heat::calibration::log::Log;
use fondant_heat::calibration::sheet::{self, SheetError};
use fondant_materials::resin::shelf::{LessonRecord, Lot, OnShelf, OwnResin};
use fondant_materials::resin::{Calibration, Datasheet, Record, ResinId, shipped};
use fondant_store::Transaction;
use fondant_store::repos::{Kept, ShelfItem, Shelved};

use crate::app::App;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::{Request, random_hex};
use crate::shop::Shop;

/// Bytes of chance in the short name of a lot or a colour.
const NAME_BYTES: usize = 8;

/// A cup's log, and what it is read with.
#[derive(Debug, Clone)]
pub struct CupLog {
    /// The resin.
    pub resin: Record,
    /// The cup.
    pub cup: Cup,
    /// Readings of the cup.
    pub log: Log,
    /// The same cup with warm water in it.
    pub water: Option<WaterTest>,
}

/// The items of a kind.
///
/// # Errors
/// [`AppError`].
pub async fn items<T: ShelfItem>(app: &App, shop: &Shop) -> Result<Shelved<T>, AppError> {
    Ok(app.store.read().shelf_items(shop.id).await?)
}

/// A resin on the shelf.
///
/// # Errors
/// [`AppError::NotFound`].
pub fn find<'a>(shop: &'a Shop, id: &str) -> Result<&'a OnShelf, AppError> {
    shop.shelf().all().iter().find(|on| on.resin.id.0 == id).ok_or(AppError::NotFound("resin"))
}

/// The shop's own record of a resin and its revision; `None` where it has none.
///
/// # Errors
/// [`AppError`].
pub async fn own(app: &App, shop: &Shop, id: &str) -> Result<Option<Kept<OwnResin>>, AppError> {
    let own = items::<OwnResin>(app, shop).await?.items;
    Ok(own.into_iter().find(|kept| kept.slug == id))
}

/// The model of its class fitted to the datasheet. A sheet without times leaves it as it is; one
/// that has not changed keeps what was fitted and learnt.
///
/// # Errors
/// The inner one says why the sheet makes no model.
pub async fn fitted(
    app: &App,
    read: Record,
    before: Record,
) -> Result<Result<Record, SheetError>, AppError> {
    app.compute_beside(move |stop| {
        let times = |sheet: &Datasheet| Datasheet { rule_of_thumb: None, ..*sheet };
        if read.class == before.class && times(&read.datasheet) == times(&before.datasheet) {
            let mut kept = read;
            kept.cure = before.cure;
            return Ok(Record { calibration: before.calibration, ..kept });
        }
        match sheet::fit(&read, &times(&read.datasheet), stop) {
            Ok(fit) => {
                let mut resin = fit.resin;
                resin.datasheet = read.datasheet;
                Ok(resin)
            }
            Err(SheetError::Nothing) => Ok(read),
            Err(error) => Err(error),
        }
    })
    .await
}

/// Puts a new resin on the shelf under a short name that no other has. The same request sent twice
/// adds one, and the second time the answer is `None`.
///
/// # Errors
/// [`AppError`].
pub async fn add_resin(
    app: &App,
    shop: &Shop,
    mut resin: Record,
    request: &Request,
) -> Result<Option<ResinId>, AppError> {
    let now = app.now();
    let wished = if resin.id.0.is_empty() { resin.name.clone() } else { resin.id.0.clone() };
    let transaction = app.store.begin().await?;
    if request.answered(&transaction, shop.id, now).await?.is_some() {
        return Ok(None);
    }
    let workshop = transaction.lock_workshop(shop.id).await?;
    // The shelf as it is now, which nobody else changes before this is done.
    let shelf = app.shop_of(workshop).await?.stock.shelf.clone();
    resin.id = shelf.free_id(&wished);
    let id = resin.id.clone();
    let own = OwnResin { resin, is_put_away: false };
    transaction.put_on_shelf(shop.id, &id.0, 0, &own, now).await?;
    request.keep_answer(&transaction, shop.id, 0, now).await?;
    done(transaction, shop).await?;
    Ok(Some(id))
}

/// Changes the shop's record of a resin, if nobody has since `expected`; 0 expects that it has
/// none of its own.
///
/// # Errors
/// [`AppError::Stale`] where somebody has; nothing is written then.
pub async fn save_resin(
    app: &App,
    shop: &Shop,
    expected: i32,
    own: &OwnResin,
) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshop(shop.id).await?;
    transaction.put_on_shelf(shop.id, &own.resin.id.0, expected, own, app.now()).await?;
    done(transaction, shop).await
}

/// Puts a resin away, or brings it back.
///
/// # Errors
/// [`AppError::Stale`] where it was changed since `expected`; nothing is written then.
pub async fn put_away(app: &App, shop: &Shop, id: &str, expected: i32) -> Result<(), AppError> {
    let on = find(shop, id)?;
    let own = OwnResin { resin: on.resin.clone(), is_put_away: !on.is_put_away };
    save_resin(app, shop, expected, &own).await
}

/// Takes the shop's own record of a generic resin off, so that it stands as it ships.
///
/// # Errors
/// [`AppError::NotFound`] where it does not ship, or the shop has no record of its own.
pub async fn restore(app: &App, shop: &Shop, id: &str) -> Result<(), AppError> {
    shipped::find(&ResinId(id.to_owned())).map_err(|_| AppError::NotFound("generic resin"))?;
    take_off::<OwnResin>(app, shop, id).await
}

/// The calibration from a cup's log.
///
/// # Errors
/// The inner one says why the log cannot say.
pub async fn lesson(app: &App, read: CupLog) -> Result<Result<Lesson, Refusal>, AppError> {
    app.compute_beside(move |stop| {
        learn(&read.resin, &read.cup, &read.log, read.water.as_ref(), stop)
    })
    .await
}

/// Saves a calibration and the resin that goes by it, in one transaction.
///
/// # Errors
/// [`AppError::Stale`] where the resin was changed since `expected`; the inner one says why the
/// log cannot say. Nothing is written then.
pub async fn accept_lesson(
    app: &App,
    shop: &Shop,
    (read, lot): (CupLog, String),
    (expected, request): (i32, &Request),
) -> Result<Result<(), Refusal>, AppError> {
    let (cup, readings) = (read.cup, read.log.readings.iter().map(|r| (r.t_s, r.t_k)).collect());
    let on = find(shop, &read.resin.id.0)?.clone();
    // Worked out once more: figures that a page sends back are not relied on.
    let lesson = match lesson(app, read).await? {
        Ok(lesson) => lesson,
        Err(refusal) => return Ok(Err(refusal)),
    };
    let now = app.now();
    let calibration = Calibration {
        rate: lesson.factors.rate,
        heat: lesson.factors.heat,
        covariance: lesson.covariance,
        lot,
        at: now,
    };
    let (id, learnt) = (on.resin.id.clone(), calibration.clone());
    let record = LessonRecord {
        resin: id.clone(),
        calibration: learnt,
        mass: cup.mass,
        air: cup.air,
        readings,
    };
    let resin = Record { calibration: Some(calibration), ..on.resin };
    let own = OwnResin { resin, is_put_away: on.is_put_away };
    let transaction = app.store.begin().await?;
    if request.answered(&transaction, shop.id, now).await?.is_some() {
        return Ok(Ok(()));
    }
    transaction.lock_workshop(shop.id).await?;
    let slug = format!("{}-{}", id.0, random_hex(NAME_BYTES)?);
    transaction.put_on_shelf(shop.id, &slug, 0, &record, now).await?;
    transaction.put_on_shelf(shop.id, &id.0, expected, &own, now).await?;
    request.keep_answer(&transaction, shop.id, 0, now).await?;
    done(transaction, shop).await?;
    Ok(Ok(()))
}

/// Forgets what a resin has learnt; its lessons stay on record.
///
/// # Errors
/// [`AppError::Stale`] where it was changed since `expected`; nothing is written then.
pub async fn forget(app: &App, shop: &Shop, id: &str, expected: i32) -> Result<(), AppError> {
    let on = find(shop, id)?;
    let resin = Record { calibration: None, ..on.resin.clone() };
    save_resin(app, shop, expected, &OwnResin { resin, is_put_away: on.is_put_away }).await
}

/// Changes a lot, if nobody has since `expected`.
///
/// # Errors
/// [`AppError::Stale`] where somebody has; nothing is written then.
pub async fn save_lot(
    app: &App,
    shop: &Shop,
    (slug, expected): (&str, i32),
    lot: &Lot,
) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshop(shop.id).await?;
    transaction.put_on_shelf(shop.id, slug, expected, lot, app.now()).await?;
    done(transaction, shop).await
}

/// Takes an item off the shelf.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn take_off<T: ShelfItem>(app: &App, shop: &Shop, slug: &str) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshop(shop.id).await?;
    transaction.take_off_shelf::<T>(shop.id, slug).await?;
    done(transaction, shop).await
}

/// Adds a lot or a colour. The same request sent twice adds one.
///
/// # Errors
/// [`AppError`].
pub async fn add<T: ShelfItem>(
    app: &App,
    shop: &Shop,
    item: &T,
    request: &Request,
) -> Result<(), AppError> {
    let now = app.now();
    let transaction = app.store.begin().await?;
    if request.answered(&transaction, shop.id, now).await?.is_some() {
        return Ok(());
    }
    transaction.lock_workshop(shop.id).await?;
    let slug = format!("{}-{}", T::KIND, random_hex(NAME_BYTES)?);
    transaction.put_on_shelf(shop.id, &slug, 0, item, now).await?;
    request.keep_answer(&transaction, shop.id, 0, now).await?;
    done(transaction, shop).await
}

async fn done(transaction: Transaction, shop: &Shop) -> Result<(), AppError> {
    tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    Ok(transaction.commit().await?)
}

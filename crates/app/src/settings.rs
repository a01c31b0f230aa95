//! What a workshop says of itself, and of its air.

use fondant_files::logs::air::ReadAir;
use fondant_heat::climate::indoor::{FitError, Fitted};
use fondant_heat::climate::profile::Way;
use fondant_heat::climate::{AirAt, AirSeries};
use fondant_store::repos::{AirLogId, KeptLog, NewLog, WorkshopId, WorkshopSettings};
use jiff::SignedDuration;

use crate::app::App;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::{Request, random_hex};
use crate::shop::Shop;

/// Span of the readings to which the room is fitted.
const FITTED_TO: SignedDuration = SignedDuration::from_hours(10 * 24);
/// Span of the readings that the page shows.
const TOLD_OF: SignedDuration = SignedDuration::from_hours(90 * 24);
/// Bytes of chance in the calendar's private address.
const TOKEN_BYTES: usize = 18;

/// Changes the settings, if nobody has since `expected`. Returns their revision.
///
/// # Errors
/// [`AppError::Stale`] where somebody has; nothing is written then.
pub async fn save(
    app: &App,
    workshop: WorkshopId,
    expected: i32,
    settings: &WorkshopSettings,
) -> Result<i32, AppError> {
    let transaction = app.store.begin().await?;
    let revision = transaction.save_workshop(workshop, expected, settings).await?;
    tell(&transaction, &Event::ShopChanged { workshop }).await?;
    transaction.commit().await?;
    Ok(revision)
}

/// The readings of the shop's air in the last months, in order.
///
/// # Errors
/// [`AppError`].
pub async fn readings(app: &App, shop: &Shop) -> Result<Vec<AirAt>, AppError> {
    Ok(app.store.read().air_since(shop.id, app.now() - TOLD_OF).await?)
}

/// The logs of the shop's air, the newest first.
///
/// # Errors
/// [`AppError`].
pub async fn logs(app: &App, shop: &Shop) -> Result<Vec<KeptLog>, AppError> {
    Ok(app.store.read().air_logs(shop.id).await?)
}

/// Brings a log of the shop's air in, all of it or nothing. The settings stay what they are.
/// `told` is the order of its dates, where the maker told it.
///
/// # Errors
/// [`AppError`].
pub async fn keep_log(
    app: &App,
    shop: &Shop,
    (read, told): (&ReadAir, Option<&str>),
    request: &Request,
) -> Result<AirLogId, AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshop(shop.id).await?;
    if let Some(before) = request.answered(&transaction, shop.id, app.now()).await? {
        return Ok(AirLogId(before));
    }
    let log = NewLog {
        heading: &read.heading,
        date_order: told,
        rows: read.log.rows,
        readings: &read.log.readings,
    };
    let id = transaction.add_air(shop.id, &log, app.now()).await?;
    request.keep_answer(&transaction, shop.id, id.0, app.now()).await?;
    tell(&transaction, &Event::ReadingArrived { workshop: shop.id }).await?;
    transaction.commit().await?;
    Ok(id)
}

/// Takes a log out again, with its readings.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn withdraw_log(app: &App, shop: &Shop, log: AirLogId) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshop(shop.id).await?;
    transaction.remove_air_log(shop.id, log).await?;
    tell(&transaction, &Event::ReadingArrived { workshop: shop.id }).await?;
    Ok(transaction.commit().await?)
}

/// Why no room was fitted.
#[derive(Debug, Clone, PartialEq)]
pub enum NotFitted {
    /// The weather outside is not known.
    NoForecast,
    /// The readings do not say.
    Fit(FitError),
}

/// Fits the room to the shop's readings, and takes the weather through it for the shop's air.
///
/// # Errors
/// [`AppError::Stale`] where the settings were changed since; the inner one says why no room was
/// fitted. Nothing is written then.
pub async fn fit_room(
    app: &App,
    shop: &Shop,
    expected: i32,
) -> Result<Result<Fitted, NotFitted>, AppError> {
    let readings = app.store.read().air_since(shop.id, app.now() - FITTED_TO).await?;
    let room = shop.workshop.settings.shop.air.indoor;
    let Some(outside): Option<AirSeries> = app.outside() else {
        return Ok(Err(NotFitted::NoForecast));
    };
    let fitted = match app.compute_beside(move |_| room.fit(&outside, &readings)).await? {
        Ok(fitted) => fitted,
        Err(error) => return Ok(Err(NotFitted::Fit(error))),
    };
    let mut settings = shop.workshop.settings.clone();
    settings.shop.air.by = Way::Forecast;
    settings.shop.air.indoor = fitted.indoor;
    save(app, shop.id, expected, &settings).await?;
    Ok(Ok(fitted))
}

/// The private part of the calendar's address; one is made where there is none yet.
///
/// # Errors
/// [`AppError`].
pub async fn feed_token(app: &App, shop: &Shop) -> Result<String, AppError> {
    if let Some(token) = app.store.read().feed_token(shop.id).await? {
        return Ok(token);
    }
    let transaction = app.store.begin().await?;
    // Of two pages opened at once, the second finds the token of the first.
    transaction.lock_workshop(shop.id).await?;
    if let Some(token) = transaction.feed_token(shop.id).await? {
        return Ok(token);
    }
    let token = random_hex(TOKEN_BYTES)?;
    transaction.set_feed_token(shop.id, &token).await?;
    transaction.commit().await?;
    Ok(token)
}

/// Whether a token is that of the calendar.
///
/// # Errors
/// [`AppError`].
pub async fn is_feed_token(app: &App, shop: &Shop, token: &str) -> Result<bool, AppError> {
    Ok(app.store.read().feed_token(shop.id).await?.as_deref() == Some(token))
}

/// Gives the calendar a new address; the former one ends.
///
/// # Errors
/// [`AppError`].
pub async fn renew_feed(app: &App, shop: &Shop) -> Result<(), AppError> {
    let token = random_hex(TOKEN_BYTES)?;
    let transaction = app.store.begin().await?;
    transaction.set_feed_token(shop.id, &token).await?;
    tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    Ok(transaction.commit().await?)
}

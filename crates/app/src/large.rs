//! A workshop grown large, to measure pages against.

use fondant_bench::reading::Place;
use jiff::SignedDuration;

use crate::app::App;
use crate::devices;
use crate::error::AppError;
use crate::shop::Shop;

/// Readings of one transaction.
const CHUNK: i64 = 500_000;
/// The instrument that has sent them.
const NAME: &str = "Loaded probe";

/// Copies ended casts, and lets an instrument have sent readings, one a second until now; returns how many
/// casts were made.
///
/// # Errors
/// [`AppError`].
pub async fn fill(app: &App, shop: &Shop, (casts, readings): (i64, i64)) -> Result<u64, AppError> {
    let transaction = app.store.begin().await?;
    let made = transaction.copy_ended_casts(shop.id, casts).await?;
    transaction.commit().await?;
    let device = devices::renew(app, shop, NAME, Place::Surface).await?.device;
    let begun = app.now() - SignedDuration::from_secs(readings);
    let mut first = 1;
    while first <= readings {
        let last = (first + CHUNK - 1).min(readings);
        let transaction = app.store.begin().await?;
        transaction.fill_readings(device, begun, (first, last)).await?;
        transaction.commit().await?;
        first = last + 1;
    }
    Ok(made)
}

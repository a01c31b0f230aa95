//! Forms and moulds that the shop has, and the casts that book them.

use fondant_shapes::form::owned::OwnedForm;
use fondant_store::Transaction;
use fondant_store::repos::{CastId, FormId, Forms};

use crate::app::App;
use crate::casts::open::open;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// What a cast does with the shop's forms.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Booking {
    /// It takes this one, and lets go of any other.
    Take(FormId),
    /// It lets go of the one that it has.
    LetGo,
}

/// The forms of a shop.
///
/// # Errors
/// [`AppError`].
pub async fn all(app: &App, shop: &Shop) -> Result<Forms, AppError> {
    Ok(app.store.read().forms(shop.id).await?)
}

/// Adds a form. The same request sent twice adds one.
///
/// # Errors
/// [`AppError`].
pub async fn add(
    app: &App,
    shop: &Shop,
    form: &OwnedForm,
    request: &Request,
) -> Result<FormId, AppError> {
    let now = app.now();
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(FormId(before));
    }
    let id = transaction.add_form(shop.id, form).await?;
    request.keep_answer(&transaction, shop.id, id.0, now).await?;
    done(transaction, shop).await?;
    Ok(id)
}

/// Changes a form, if nobody has since `expected`.
///
/// # Errors
/// [`AppError::Stale`] where somebody has; nothing is written then.
pub async fn save(
    app: &App,
    shop: &Shop,
    (id, expected): (FormId, i32),
    form: &OwnedForm,
) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.save_form(shop.id, id, expected, form).await?;
    done(transaction, shop).await
}

/// Removes a form that no cast uses.
///
/// # Errors
/// [`AppError::Booked`] where one does; nothing is written then.
pub async fn remove(app: &App, shop: &Shop, id: FormId) -> Result<(), AppError> {
    let transaction = app.store.begin().await?;
    transaction.remove_form(shop.id, id).await?;
    done(transaction, shop).await
}

/// A cast books a form, or lets go of the one it has. Bookings of one cast happen one after the
/// other, so that it always has the last one that it asked for.
///
/// # Errors
/// [`AppError::Booked`] where another cast uses the form; nothing is written then.
pub async fn book(app: &App, cast: CastId, booking: Booking) -> Result<(), AppError> {
    let shop = open(app, cast).await?.shop;
    let transaction = app.store.begin().await?;
    let revision = transaction.lock_cast(shop.id, cast).await?;
    match booking {
        Booking::Take(form) => transaction.book_form(shop.id, form, cast).await?,
        Booking::LetGo => transaction.release_form(shop.id, cast).await?,
    }
    let workshop = shop.id;
    tell(&transaction, &Event::CastChanged { workshop, cast, revision }).await?;
    done(transaction, &shop).await
}

async fn done(transaction: Transaction, shop: &Shop) -> Result<(), AppError> {
    tell(&transaction, &Event::ShopChanged { workshop: shop.id }).await?;
    Ok(transaction.commit().await?)
}

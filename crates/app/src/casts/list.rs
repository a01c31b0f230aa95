//! The casts of a workshop.

use fondant_store::repos::{Asked, CastSummary, Counts, Cursor};

use crate::app::App;
use crate::error::AppError;
use crate::shop::Shop;

/// Casts on one page of the list.
pub const PAGE: u64 = 60;

/// A page of the list.
#[derive(Debug, Clone)]
pub struct CastsPage {
    /// The casts, the one changed last first.
    pub casts: Vec<CastSummary>,
    /// Where the next page begins; `None` where this is the last.
    pub next: Option<Cursor>,
}

/// Casts of a workshop, the one changed last first: a page of them.
///
/// # Errors
/// [`AppError`].
pub async fn list(app: &App, shop: &Shop, asked: &Asked) -> Result<CastsPage, AppError> {
    let mut casts = app.store.read().casts(shop.id, asked, (PAGE + 1, app.now())).await?;
    let has_more = casts.len() as u64 > PAGE;
    casts.truncate(usize::try_from(PAGE).unwrap_or(usize::MAX));
    let last = casts.last().filter(|_| has_more);
    let next = last.map(|cast| Cursor { updated_at: cast.updated_at, id: cast.id });
    Ok(CastsPage { casts, next })
}

/// How many casts each list has.
///
/// # Errors
/// [`AppError`].
pub async fn counts(app: &App, shop: &Shop) -> Result<Counts, AppError> {
    Ok(app.store.read().count_casts(shop.id, app.now()).await?)
}

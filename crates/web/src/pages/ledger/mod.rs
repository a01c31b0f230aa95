//! The ledger: casts that have come to their end, found, sorted, counted; two of them side by side.
//!
//! - `asking`: what an address asks for; `list`: the page and the table for other programs
//! - `charts`: bars by month, resin and kind; a figure over casts with its limits
//! - `compare`: two casts, figure by figure

mod asking;
mod charts;
mod compare;
mod list;

use axum::Router;

use crate::Web;
use crate::routing::Routes;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(list::show).typed_get(list::csv).typed_get(compare::show)
}

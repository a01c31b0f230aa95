//! What is done with pour times beside the station's own form.
//!
//! - `act`: what all of them share
//! - `handlers`: a pour moved, a plan taken or given up, a change that helps applied
//! - `facts`: what happened, written down and withdrawn
//! - `tried`: a pour while it is dragged; the plan as a table

mod act;
mod facts;
mod handlers;
mod tried;

use axum::Router;

use crate::Web;
use crate::routing::Routes;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_post(handlers::shift)
        .typed_post(handlers::take)
        .typed_post(handlers::settle)
        .typed_post(handlers::release)
        .typed_post(handlers::fit)
        .typed_post(handlers::fix)
        .typed_post(facts::log)
        .typed_post(facts::withdraw)
        .typed_get(tried::tried)
        .typed_get(tried::csv)
}

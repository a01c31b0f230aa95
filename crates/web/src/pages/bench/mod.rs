//! The bench: one run, one act at a time, for a tablet and gloved hands.
//!
//! - `form`: what was tapped → what happened
//! - `act`: the act at hand; `view`: everything beside it; `drawing`: the form as it fills
//! - `model`: open buckets as the model sees them
//! - `worker.js`: the page opens without a connection
//! - `bench.js`: rows are kept on the device until the server has them; clocks

mod act;
mod drawing;
mod form;
mod handlers;
mod model;
mod view;

use axum::Router;
use axum_extra::routing::RouterExt;

use crate::Web;

pub(crate) use model::modelled;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_post(handlers::begin)
        .typed_get(handlers::show)
        .typed_post(handlers::write_down)
        .typed_get(handlers::worker)
}

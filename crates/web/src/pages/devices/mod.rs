//! Instruments of the shop: added, placed, calibrated, silenced, revoked; and the door through which
//! they send what they read.
//!
//! - `door`: readings taken; `handlers`, `view`: the page
//! - `play`: instruments played by hand

mod door;
mod handlers;
mod play;
mod view;

use axum::Router;

use crate::Web;
use crate::routing::Routes;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(handlers::show)
        .typed_post(handlers::add)
        .typed_post(handlers::change)
        .typed_post(play::begin)
        .typed_post(door::take)
}

//! The list of casts, and the few questions with which a new one begins.

mod import;
mod list;
mod new;

use axum::Router;
use axum_extra::routing::RouterExt;

use crate::Web;

pub(crate) use import::uploads;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(list::list).typed_get(new::new).typed_post(new::create)
}

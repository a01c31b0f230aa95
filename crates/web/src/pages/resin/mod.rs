//! A resin by its datasheet.
//!
//! - `handlers`: entered, fitted, changed, put away; `file`: as JSON, out and in
//! - `class`: another class chosen while a new one is typed
//! - `form`: the fields of a datasheet, and what is read from them; `view`: the page

mod class;
mod file;
mod form;
mod handlers;
mod view;

use axum::Router;

use crate::Web;

pub(crate) fn routes() -> Router<Web> {
    handlers::routes().merge(file::routes())
}

/// Routes that take files.
pub(crate) fn uploads() -> Router<Web> {
    file::uploads()
}

//! The record of a cast beside its station.
//!
//! - `handlers`: the cast closed, worked on again, faults marked and explained
//! - `sheet`: the record on one page of paper, to go with the piece

mod handlers;
mod sheet;

use axum::Router;

use crate::Web;

pub(crate) fn routes() -> Router<Web> {
    handlers::routes().merge(sheet::routes())
}

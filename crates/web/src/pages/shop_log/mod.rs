//! Logs of the shop's air: looked at, kept, withdrawn; and the room fitted to them.
//!
//! - `form`: how a log is to be read; `handlers`: looked at, kept, withdrawn, fitted
//! - `view`: the page; `drawing`: the readings as a curve

mod drawing;
mod form;
mod handlers;
mod view;

pub(crate) use handlers::routes;

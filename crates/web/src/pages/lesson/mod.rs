//! Calibration of a resin from a cup's log: previewed first, saved when accepted.
//!
//! - `handlers`: shown, tried, accepted
//! - `form`: the fields and what is read from them
//! - `view`: the page; `drawing`: readings and curves

mod drawing;
mod form;
mod handlers;
mod view;

pub(crate) use handlers::routes;

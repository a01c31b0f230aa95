//! What a cup's log teaches a resin: shown first, kept when accepted.
//!
//! - `handlers`: shown, tried, accepted
//! - `form`: the fields and what is read from them
//! - `view`: the page; `drawing`: readings and curves

mod drawing;
mod form;
mod handlers;
mod view;

pub(crate) use handlers::routes;

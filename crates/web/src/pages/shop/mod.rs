//! The shop: its hours, clock and units, hands and machines, and its air.
//!
//! - `handlers`: shown and saved; `form`: what is read; `view`: the page
//! - `whole`: the whole workshop as one file
//! - `air`: the air, read and shown; `week`: hours and air of the coming days, drawn

mod air;
mod form;
mod handlers;
mod view;
mod week;
mod whole;

pub(crate) use handlers::routes;
pub(crate) use whole::routes as downloads;

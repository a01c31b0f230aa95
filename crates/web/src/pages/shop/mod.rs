//! The shop: its hours, clock and units, hands and machines, and its air.
//!
//! - `handlers`: shown and saved; `form`: what is read; `view`: the page
//! - `air`: the air, read and shown; `week`: hours and air of the coming days, drawn

mod air;
mod form;
mod handlers;
mod view;
mod week;

pub(crate) use handlers::routes;

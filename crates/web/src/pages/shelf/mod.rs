//! The shelf: resins, what is in the bottles, colours.
//!
//! - `handlers`: lots and colours added, changed, removed; `form`: their fields
//! - `repair`: glue spots and small repairs under a lamp
//! - `view`: the page

mod form;
mod handlers;
mod repair;
mod view;

pub(crate) use handlers::{refused_with, routes};
pub(crate) use view::lot_name;

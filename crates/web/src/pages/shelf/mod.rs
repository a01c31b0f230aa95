//! The shelf: resins, what is in the bottles, colours.
//!
//! - `handlers`: lots and colours added, changed, removed; `form`: their fields
//! - `view`: the page

mod form;
mod handlers;
mod view;

pub(crate) use handlers::{refused_with, routes};
pub(crate) use view::lot_name;

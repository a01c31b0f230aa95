//! Every address of the application, written once: each type is the route of its page and, printed,
//! the link to it.
//!
//! - [`casts`]: casts, their stations, pours, photos, files
//! - [`shop`]: today, the calendar, forms, the shelf, the shop

pub(crate) mod casts;
pub(crate) mod shop;

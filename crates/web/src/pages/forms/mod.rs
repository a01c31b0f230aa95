//! Forms and moulds that the shop has.
//!
//! - `handlers`: shown, added, changed, removed, booked
//! - `form`: fields, and what is read from them; `view`: the page

mod form;
mod handlers;
mod view;

pub(crate) use handlers::routes;

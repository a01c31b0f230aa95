//! A drawing that was brought in: what was read of it, what was not and why, before anything is
//! taken.
//!
//! - `form`: how it is to be read, and what its lines are; `handlers`: looked at and taken
//! - `view`: the page; `picture`: the drawing with what its lines are

mod form;
mod handlers;
mod picture;
mod view;

pub(crate) use handlers::routes;

//! Fragments of the pours: plans compared, and changes that would help.

mod handlers;
mod view;

pub(crate) use handlers::routes;

//! A mesh that was brought in: how large it is in which unit, before it is taken for an object.

mod handlers;
mod view;

pub(crate) use handlers::routes;

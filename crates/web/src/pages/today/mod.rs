//! Today: all casts on one time axis, the next acts, and what collides.

mod drawing;
mod finishing;
mod handlers;
mod runs;
mod view;

pub(crate) use handlers::routes;
pub(crate) use view::{pour_of, poured, weighed_out};

//! A photo: its four corners, the picture squared up, the timber found in it.
//!
//! - `handlers`: squared up, traced, taken, removed; `form`: the corners that were dragged
//! - `view`: the page; `shown`: photos of steps and of faults

mod form;
mod handlers;
mod shown;
mod view;

pub(crate) use handlers::routes;
pub(crate) use shown::uploads;

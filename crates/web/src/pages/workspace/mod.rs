//! A cast's workspace: one page with a station in it, its rail and its strip.
//!
//! - `handlers`: shown, saved, undone
//! - [`answer`]: the page with what was asked for, refused, or changed by others meanwhile
//! - `rail`, [`strip`]: the parts of every station's page

pub(crate) mod answer;
mod handlers;
mod rail;
mod strip;

pub(crate) use handlers::routes;
pub(crate) use strip::mini;

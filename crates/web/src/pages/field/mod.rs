//! A cast's section or block as a field of temperatures, and the map of deepest layers.
//!
//! - `handlers`: asked for, abandoned
//! - `view`: what the canvas draws; `drawing`: its curves; `words`: what it shows, in sentences
//! - `map`: the deepest layer for every air and resin temperature

mod drawing;
mod handlers;
mod map;
mod view;
mod words;

pub(crate) use handlers::routes;

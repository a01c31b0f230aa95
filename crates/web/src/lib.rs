//! Pages, fragments and drawings of Fondant, rendered on the server.
//!
//! - [`serve`], [`router`]: the application on a listener, or as a service
//! - `paths`: every address, once; `routing`: how handlers come to theirs
//! - `pages`: a folder a page: handlers, form, view, drawing, template, script
//! - `ui`: fields, figures, units; `words`: sentences; `svg`, `drawings`: drawings
//! - `middleware`: what every request passes through; `assets`: styles, scripts, fonts
//!
//! One of its tests, as an example:
//!
//! ```
#![doc = include_str!("../tests/web/front_page.rs")]
//! ```

mod assets;
mod drawings;
mod middleware;
mod pages;
mod paths;
mod router;
mod routing;
#[cfg(test)]
mod sample;
mod serve;
mod state;
mod svg;
mod ui;
mod words;

pub use router::{guarded, router};
pub use serve::serve;
pub use state::{Settings, Web};

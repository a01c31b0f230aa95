//! What pages show, as ready strings: tested without HTTP or a browser.

pub mod fields;
pub mod figure;
pub mod format;
pub mod rail;
pub mod strip;
pub mod words;

//! What pages show, as ready strings: tested without HTTP or a browser.

pub mod fields;
pub mod figure;
pub mod file_words;
pub mod format;
pub mod kinds;
pub mod pour_words;
pub mod rail;
pub mod strip;
pub mod words;

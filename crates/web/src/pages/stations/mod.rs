//! The stations of a cast.
//!
//! - [`station`]: what a station is; [`table`]: all of them, in order
//! - [`asked`]: what a station shows itself from
//! - a folder each: `form` reads, `view` shows
//!
//! A new station is a folder and a line in the table.

pub(crate) mod asked;
mod bench;
mod contents;
pub(crate) mod finish;
mod form;
mod heat;
pub(crate) mod piece;
pub(crate) mod pours;
pub(crate) mod record;
mod resin;
pub(crate) mod shown;
mod standing;
pub(crate) mod station;
pub(crate) mod table;
pub(crate) mod timber;

//! What lies in the form and how much resin it leaves room for, kind by kind.
//!
//! - `measured`: what measuring finds
//! - `in_place`, `boards`, `ways`: boards in a form, by stations or outlines; other ways of measuring them
//! - `inserts`, `cavities`, `hollows`: objects, cavities of a board, blocks, moulds, coats
//! - `all`: [`measure`], whatever the kind

mod all;
mod boards;
mod cavities;
mod hollows;
mod in_place;
mod inserts;
mod measured;
mod outlines;
mod ways;

pub use all::{measure, refusals};
pub(crate) use hollows::COAT_RATIO;
pub(crate) use hollows::{grid as mould_grid, timber_in};
pub use measured::{Measured, Submerged, Ways};

#[cfg(test)]
mod tests;

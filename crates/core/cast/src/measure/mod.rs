//! What lies in the form and how much resin it leaves room for, kind by kind.
//!
//! - `measured`: what measuring finds
//! - `in_place`, `boards`, `ways`: boards in a form, by stations or outlines; other ways of measuring them
//! - `inserts`, `cavities`, `hollows`, `moulds`: objects, cavities of a board, blocks and coats, moulds
//! - `potting`: what of them stands in a pressure pot
//! - `all`: [`measure`], whatever the kind

mod all;
mod boards;
mod cavities;
mod hollows;
mod in_place;
mod inserts;
mod measured;
mod moulds;
mod outlines;
mod potting;
mod ways;

pub use all::{measure, refusals};
pub(crate) use hollows::COAT_RATIO;
pub use measured::{Measured, Submerged, Surfaces, Ways};
pub(crate) use moulds::{grid as mould_grid, pressed_in};
pub use potting::{standing as standing_in_pot, standing_name};

#[cfg(test)]
mod tests;

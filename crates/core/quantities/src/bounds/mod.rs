//! The range of every figure that a maker can enter. Forms, imports and the
//! document's own check share these.
//!
//! - `bound`: a range, and reading a text into it
//! - `table`: the ranges

mod bound;
mod table;

pub use bound::{Bound, EntryError, Extent, Limits, NumberBound, OutOfRange, ShopMeasured};
pub use table::*;

#[cfg(test)]
mod tests;

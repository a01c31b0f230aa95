//! Where a document contradicts itself or leaves its bounds.
//!
//! - `conflict`: [`Conflict`], what can be wrong
//! - `bounds`, `building`, `mould_bounds`: every figure against its bound
//! - `contents`: contradictions between figures, kind by kind
//! - `stages`: pours beside the main fill
//! - `check`: all of it

mod bounds;
mod building;
mod check;
mod conflict;
mod contents;
mod mould_bounds;
pub(crate) mod stages;

pub use conflict::{Conflict, Countable, StagesError, Written};

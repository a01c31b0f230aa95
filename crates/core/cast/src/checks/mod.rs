//! Where a document contradicts itself or leaves its bounds.
//!
//! - `conflict`: [`Conflict`], what can be wrong
//! - `bounds`: every figure against its bound
//! - `contents`: contradictions between figures, kind by kind
//! - `check`: all of it

mod bounds;
mod check;
mod conflict;
mod contents;

pub use conflict::{Conflict, Countable, Written};

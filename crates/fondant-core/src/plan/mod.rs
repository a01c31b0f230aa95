//! The plan of a cast: one typed document, and everything that follows from it.
//!
//! - [`document`]: what the maker has said
//! - [`evaluation`]: what follows: volume, heat, layers, hours

pub mod document;
pub mod evaluation;

pub use document::{Conditions, Conflict, FormChoices, Plan, Pours, RiverWidths, Timber};
pub use evaluation::{
    DepthPoint, Evaluation, Heat, PourTrouble, WholePour, evaluate, peak_by_depth,
};

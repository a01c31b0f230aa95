//! The plan of a cast: one typed document, and everything that follows from it.
//!
//! - [`kind`]: the seven kinds of cast
//! - [`document`]: what the maker has said; [`parts`]: subject by subject
//! - [`conflicts`]: where it contradicts itself
//! - [`measuring`]: what lies in the form, volume, lift
//! - [`evaluation`]: what follows: heat, layers, hours

pub mod conflicts;
pub mod document;
pub mod evaluation;
pub mod kind;
pub mod measuring;
pub mod parts;

pub use conflicts::Conflict;
pub use document::Plan;
pub use evaluation::{
    DepthPoint, Evaluation, Heat, Held, PourTrouble, WholePour, evaluate, peak_by_depth,
};
pub use kind::Kind;
pub use measuring::{Measured, Sunk, Ways, measure, refusals};
pub use parts::{
    Brief, Checks, Coat, Conditions, FormBuild, FormChoices, Moulding, Pours, RiverWidths, Shaping,
    Timber,
};

//! The plan of a cast: one typed document, and everything that follows from it.
//!
//! - [`kind`]: the seven kinds of cast
//! - [`document`]: what the maker has said; [`parts`]: subject by subject
//! - [`conflicts`]: where it contradicts itself
//! - [`measuring`]: what lies in the form, volume, lift
//! - [`heating`]: how hot it gets, and how deep it may pour
//! - [`field_task`]: the section or block whose field is computed
//! - [`evaluation`]: what follows: heat, layers, hours

pub mod conflicts;
pub mod document;
pub mod evaluation;
pub mod field_task;
pub mod heating;
pub mod kind;
pub mod measuring;
pub mod parts;

pub use conflicts::Conflict;
pub use document::Plan;
pub use evaluation::{Evaluation, Held, PourTrouble, evaluate};
pub use field_task::{Dimension, FieldTask};
pub use heating::{
    Change, ChangeOf, DepthLimits, DepthMap, DepthPoint, Heat, Holds, WholePour, changes,
    depth_map, peak_by_depth, peak_by_wait,
};
pub use kind::Kind;
pub use measuring::{Measured, Sunk, Ways, measure, refusals};
pub use parts::{
    Brief, Checks, Coat, Conditions, DepthOverride, FormBuild, FormChoices, Moulding, Pours,
    RiverWidths, Shaping, Timber,
};

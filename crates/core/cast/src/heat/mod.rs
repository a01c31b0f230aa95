//! The stage of heat: the surroundings of the resin, how hot it gets and how deep its layers may be.
//!
//! - `conditions`: what the conditions of a pour mean for the model
//! - `limits`: [`HeatLimits`], by the column model
//! - `section`, `sides`: the material beside the resin, and its effect on a column

pub(crate) mod conditions;
pub(crate) mod limits;
pub(crate) mod section;
mod sides;

pub use limits::{DEPTH_CAUTION_RATIO, DepthLimits, HeatLimits, Holds, WholePour};
pub use sides::SideTask;

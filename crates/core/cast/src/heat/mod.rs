//! The step of heat: the surroundings of the resin, how hot it gets and how deep its layers may be.
//!
//! - `conditions`: what the conditions of a pour mean for the model
//! - `bulk`: the one answer for peak and depth, in as many dimensions as a cast needs
//! - `limits`: [`HeatLimits`], what follows for its layers
//! - `block`: casts as deep as they are wide, cavities of moulds and boards
//! - `section`, `sides`: the material beside the resin, and its effect on a column

pub(crate) mod block;
pub(crate) mod bulk;
pub(crate) mod conditions;
pub(crate) mod limits;
pub(crate) mod section;
pub(crate) mod sides;

pub use limits::{DEPTH_CAUTION_RATIO, DepthLimits, HeatLimits, Holds, SideLosses, WholePour};
pub use sides::{LayerOf, SideTask};

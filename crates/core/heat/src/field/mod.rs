//! The heat of a section or a block: timber, metal or stone beside the resin,
//! walls with baths beyond them. Lengths m, temperatures K, times s.
//!
//! - [`mesh`](Mesh): where the cells lie
//! - [`body`](Body): their materials and surroundings
//! - [`state`](Field): the field; `run` follows it through time
//! - [`peak`](Peak): the hottest point
//! - [`frames`](Frames): pictures for drawing
//! - [`block`](Block): a block with an object in it; [`shapes`]: the usual sections, meshed
//!
//! One mesh of boxes serves sections (one cell along) and blocks.

mod block;
mod body;
mod conduction;
mod frames;
mod looking;
mod mesh;
mod peak;
mod run;
pub mod shapes;
mod state;
mod steps;
mod surface;

pub use block::{Block, Fineness, Inside, LOOKED_AT, Shell};
pub(crate) use block::{felt_m, reach_m};
pub use body::{Around, Body, Content, Face};
pub use frames::{Frame, Frames, Sample as FieldSample};
pub use mesh::{Axis, Mesh, Sizing};
pub use peak::Peak;
pub use state::Field;
pub use steps::{FieldGoal, FieldWork, Progress, Segment, Steps};

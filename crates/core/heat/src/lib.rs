//! The heat of a pour: conduction and cure solved together.
//! Temperatures K, depths m, times s, counted from the first pour.
//!
//! `ρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H r(α, T)`, `∂α/∂t = r(α, T)` at every
//! height y of a column of resin, with a film of air on top and a form board
//! below. Left out: convection before the gel, shrinkage, moisture.
//!
//! - [`climate`]: the shop's air over days; damp and cold
//! - [`cure`]: rate of cure, glass-transition temperature, viscosity
//! - [`column`]: one column poured in layers ([`Stack`]), the deepest single pour
//! - [`field`]: sections and blocks with timber, metal or baths beside the resin
//! - [`sides`]: what timber beside a narrow river does to a column
//! - [`bucket`]: a bucket or cup, and resin that loses no heat
//! - [`bubbles`]: which of them rise out in time
//! - [`cooling`]: fans, lids, baths and boxes
//! - [`calibration`]: a resin fitted to its datasheet or to the shop's own readings

mod air;
pub mod bubbles;
pub mod bucket;
pub mod calibration;
pub mod climate;
pub mod column;
mod conventions;
pub mod cooling;
pub mod cure;
mod error;
pub mod field;
mod poured;
pub mod sides;
mod surroundings;

pub use air::{Air, DAY_S};
pub use bucket::{Bucket, Lumped};
pub use column::{
    Accuracy, Deepest, FEWEST_CELLS, Goal, LayerEvents, Sample, Stack, Trace, deepest_layer,
};
pub use conventions::CLOSE_MARGIN_K;
pub use error::HeatError;
pub use poured::Poured;
pub use surroundings::{FORM_BOARD_M2K_W, STILL_AIR_TOP_W_M2K, Surroundings};

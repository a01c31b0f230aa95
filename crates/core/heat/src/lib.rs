//! The heat of a pour: conduction and cure solved together. It answers how hot resin gets, how deep a
//! layer may be, and when its surface is tacky, demouldable and fully cured.
//! Temperatures K, depths m, times s, counted from the first pour.
//!
//! `ρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H r(α, T)`, `∂α/∂t = r(α, T)` at every
//! height y of a column of resin, with a film of air on top and a form board
//! below. Left out: convection before the gel, shrinkage, moisture.
//!
//! Read in this order:
//!
//! - [`cure`]: rate of cure, glass-transition temperature, viscosity
//! - [`column`](mod@column): one column poured in layers ([`Stack`]), the deepest single pour
//! - [`field`]: sections and blocks with timber, metal or baths beside the resin
//! - [`sides`]: the effect of timber beside a narrow river on a column
//! - [`bucket`]: a bucket or cup, and resin that loses no heat
//! - [`bubbles`]: the smallest bubble that rises out in time
//! - [`cooling`]: fans, lids, baths and boxes
//! - [`climate`]: the shop's air over days; damp and cold
//! - [`calibration`]: a resin fitted to its datasheet or to the shop's own readings
//!
//! 50 mm of slow casting epoxy in one pour, on an 18 mm board, all at 20 °C:
//!
//! ```
//! use fondant_heat::{Accuracy, Goal, Stack, Surroundings};
//! use fondant_materials::resin::shipped;
//!
//! let slow = shipped::models().remove(0);
//! let mut stack = Stack::new(&slow, Surroundings::still_air(293.15), &Accuracy::default());
//! stack.pour(0.050, 293.15, 0.0)?;
//! stack.run(86_400.0, Goal::Full)?;
//! let (peak_k, at_s) = stack.peak().expect("it was poured");
//! assert!((peak_k - 273.15 - 62.5).abs() < 0.1 && (at_s / 3600.0 - 5.2).abs() < 0.1);
//! # Ok::<(), fondant_heat::HeatError>(())
//! ```

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
pub mod witness;

pub use air::{Air, DAY_S};
pub use bucket::{Bucket, Lumped};
pub use column::{Accuracy, Deepest, Goal, LayerEvents, Sample, Stack, Trace, deepest_layer};
pub use conventions::CLOSE_MARGIN_K;
pub use error::HeatError;
pub use poured::Poured;
pub use surroundings::{FORM_BOARD_M, FORM_BOARD_M2K_W, STILL_AIR_TOP_W_M2K, Surroundings};

//! The heat of a pour: conduction and cure solved together.
//! Temperatures K, depths m, times s, counted from the first pour.
//!
//! `ρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H r(α, T)`, `∂α/∂t = r(α, T)` at every
//! height y of a column of resin, with a film of air on top and a form board
//! below. Left out: convection before the gel, shrinkage, moisture.
//!
//! - [`Stack`]: one column, poured in one or more layers
//! - [`deepest_layer`]: how deep a single pour may be
//! - [`field`]: sections and blocks with timber, metal or baths beside the resin
//! - [`bubbles`]: which of them rise out in time
//! - [`cooling`]: fans, lids, baths and boxes
//! - [`lumped`]: a bucket or cup, and resin that loses no heat
//! - [`sides`]: what timber beside a narrow river does to a column
//! - [`Trace`]: temperatures over time for drawing

mod air;
pub mod bubbles;
mod column;
pub mod cooling;
mod depth;
mod events;
pub mod field;
mod hot_spot;
pub mod lumped;
pub mod sides;
mod stack;
mod trace;

pub use air::{Air, DAY_S};
pub use depth::{Deepest, deepest_layer};
pub use events::LayerEvents;
pub use lumped::{Bucket, Lumped};
pub use stack::{Goal, Stack};
pub use trace::{Sample, Trace};

use crate::numerics::rosenbrock::StepTooShort;

/// Film coefficient of a free top in still air, half of it radiation, W/(m²·K).
/// Expect 8–12 in a workshop.
pub const STILL_AIR_TOP_W_M2K: f64 = 10.0;
/// Thermal resistance under the resin: an 18 mm board of 0.13 W/(m·K) with
/// still air under it (6 W/(m²·K)), m²·K/W.
pub const FORM_BOARD_M2K_W: f64 = 0.018 / 0.13 + 1.0 / 6.0;
/// The window closes once the glass temperature at the surface is within this
/// of the surface temperature, K. A convention of this model.
pub const CLOSE_MARGIN_K: f64 = 5.0;
/// "Full" never asks for more than this below the final glass temperature, K.
const FULL_HEADROOM_K: f64 = 8.0;

/// What surrounds a column of resin.
#[derive(Debug, Clone, PartialEq)]
pub struct Surroundings {
    /// The air above, and below where nothing else is said.
    pub air: Air,
    /// Film coefficient of the top, W/(m²·K); 0 is a perfect insulator.
    pub top_film_w_m2k: f64,
    /// Thermal resistance from the resin's underside to the air, m²·K/W.
    pub base_resistance_m2k_w: f64,
    /// Temperature under the form board where it is not the air's, K: water.
    pub under_k: Option<f64>,
    /// Heat lost sideways through timber or walls to what is under the form,
    /// W/(m³·K); 0 where the resin is wide. See [`sides`].
    pub side_loss_w_m3k: f64,
    /// From this time after the first pour, s, it stands in others.
    pub then: Option<Box<(f64, Surroundings)>>,
}

impl Surroundings {
    /// A form board in still air.
    #[must_use]
    pub const fn still_air(air_k: f64) -> Self {
        Self {
            air: Air::Steady(air_k),
            top_film_w_m2k: STILL_AIR_TOP_W_M2K,
            base_resistance_m2k_w: FORM_BOARD_M2K_W,
            under_k: None,
            side_loss_w_m3k: 0.0,
            then: None,
        }
    }

    /// The same with so much heat lost sideways, now and later, W/(m³·K).
    #[must_use]
    pub fn with_sides(mut self, loss_w_m3k: f64) -> Self {
        self.side_loss_w_m3k = loss_w_m3k;
        self.then = self.then.map(|then| Box::new((then.0, then.1.with_sides(loss_w_m3k))));
        self
    }

    /// Temperature under the form board at a time, K.
    fn under_at(&self, t_s: f64) -> f64 {
        self.under_k.unwrap_or_else(|| self.air.at(t_s))
    }
}

/// Resin as it leaves the bucket.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Poured {
    /// Temperature, K.
    pub t_k: f64,
    /// Conversion: what it has cured in the bucket.
    pub conversion: f64,
}

impl Poured {
    /// Just mixed.
    #[must_use]
    pub const fn fresh(t_k: f64) -> Self {
        Self { t_k, conversion: 0.0 }
    }
}

/// How finely a column is computed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Accuracy {
    /// Equal cells in each layer. The error of the peak falls as their square:
    /// 20 give 0.04 K or better on the layers that workshops pour, 40 give 0.01 K.
    pub cells_per_layer: usize,
    /// Thin layers take fewer cells where they would be thinner than this, m,
    /// but [`FEWEST_CELLS`] at least; 0 gives every layer the full number.
    pub thinnest_cell_m: f64,
    /// Error of temperature allowed in one step, K.
    pub temperature_k: f64,
    /// Error of conversion allowed in one step.
    pub conversion: f64,
}

/// Fewest cells of a layer: three carry the parabola at the peak.
pub const FEWEST_CELLS: usize = 4;

impl Accuracy {
    /// For thousands of runs. Against 40 cells windows move by less than five
    /// minutes and peaks by less than 0.3 K, which pours on the quarter hour do
    /// not notice; 20 cells would more than double the time. A base layer of
    /// 2 mm needs no cells of a sixth of a millimetre.
    #[must_use]
    pub const fn coarse() -> Self {
        Self { cells_per_layer: 9, thinnest_cell_m: 1.5e-3, temperature_k: 0.03, conversion: 3e-4 }
    }

    /// Cells of a layer.
    fn cells(&self, depth_m: f64) -> usize {
        if self.thinnest_cell_m <= 0.0 {
            return self.cells_per_layer;
        }
        let thinnest = (depth_m / self.thinnest_cell_m).ceil() as usize;
        thinnest.max(FEWEST_CELLS).min(self.cells_per_layer)
    }
}

impl Default for Accuracy {
    /// Peaks within 0.05 K of the converged value. The tolerances were found by
    /// loosening them until the error of time stepping reached a quarter of
    /// that of the grid; early errors of conversion grow towards the peak,
    /// so these look stricter than the result is.
    fn default() -> Self {
        Self { cells_per_layer: 20, thinnest_cell_m: 0.0, temperature_k: 0.01, conversion: 1e-4 }
    }
}

/// Why a computation of heat could not be made.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum HeatError {
    /// A layer without depth, or with one beyond what is computed.
    #[error("a layer of {depth_m} m is outside 0.0001 to 1 m")]
    Depth {
        /// The depth asked for.
        depth_m: f64,
    },
    /// A temperature at which no liquid resin exists.
    #[error("{t_k} K is outside 230 to 450 K")]
    Temperature {
        /// The temperature asked for.
        t_k: f64,
    },
    /// Readings of the air that make no profile.
    #[error(
        "reading {reading} of the air makes no profile: two or more, times rising, 230 to 450 K"
    )]
    Profile {
        /// The reading at fault, from 0; their number where there are too few.
        reading: usize,
    },
    /// A field that stopped making sense.
    #[error("the solution broke down {at_s} s after the pour, at {place_m:?} m")]
    Diverged {
        /// Time reached.
        at_s: f64,
        /// Where: across, along, up.
        place_m: [f64; 3],
    },
    /// Nobody wanted the answer any more.
    #[error("abandoned at {at_s} s")]
    Abandoned {
        /// Time reached.
        at_s: f64,
    },
    /// A run without any resin in it.
    #[error("nothing has been poured")]
    Empty,
    /// The resin goes in warmer than the limit.
    #[error("resin or air at {start_k} K is already over the limit of {limit_k} K")]
    LimitBelowStart {
        /// The warmer of resin and air.
        start_k: f64,
        /// The limit.
        limit_k: f64,
    },
    /// The integration failed.
    #[error(transparent)]
    Step(#[from] StepTooShort),
}

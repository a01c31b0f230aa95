//! Why a computation of heat could not be made.

use fondant_numerics::rosenbrock::StepTooShort;
use serde::{Deserialize, Serialize};

/// Why a computation of heat could not be made.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
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

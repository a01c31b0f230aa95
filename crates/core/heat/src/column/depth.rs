//! How deep a single pour may be.

use fondant_materials::resin::Calibrated;
use fondant_numerics::roots::brent;
use fondant_quantities::bounds::SEARCHED_DEPTH;

use super::accuracy::Accuracy;
use super::stack::{Goal, Stack};
use crate::error::HeatError;
use crate::poured::Poured;
use crate::surroundings::Surroundings;

/// The search starts from a depth like this and widens by [`WIDEN`] until the
/// limit is bracketed, m. Any start works; this one suits casting resins.
const FIRST_GUESS_M: f64 = 0.03;
const WIDEN: f64 = 1.8;
/// The depth is found to this share of itself.
const DEPTH_TOLERANCE_RATIO: f64 = 2e-4;
/// A trial ends once it is this far over the limit, K: by then only the sign matters.
const ENOUGH_OVER_K: f64 = 30.0;
/// Long enough for the slowest resin in the coldest shop to pass its peak, s.
const HORIZON_S: f64 = 14.0 * 86_400.0;

/// The answer of the search.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Deepest {
    /// The peak stays at or below the limit down to this depth.
    Limited {
        /// Deepest single pour, m.
        depth_m: f64,
    },
    /// Even the deepest layer searched stays below the limit.
    Beyond {
        /// The deepest layer searched, m.
        searched_m: f64,
    },
    /// Even the thinnest layer searched passes the limit.
    None {
        /// The thinnest layer searched, m.
        searched_m: f64,
    },
}

impl Deepest {
    /// The deepest layer that is known to be safe, m; 0 where none is.
    #[must_use]
    pub fn safe_m(&self) -> f64 {
        match self {
            Self::Limited { depth_m } => *depth_m,
            Self::Beyond { searched_m } => *searched_m,
            Self::None { .. } => 0.0,
        }
    }
}

/// The deepest single pour whose hottest point stays at or below `limit_k`,
/// for resin going in as it is then.
///
/// The peak rises smoothly with depth, so its root is sought by Brent's method
/// in the logarithm of depth, on the logarithm of the rise.
///
/// # Errors
/// [`HeatError::LimitBelowStart`] where resin or air is already over the
/// limit; otherwise what the solver reports.
pub fn deepest_layer(
    resin: &Calibrated,
    surroundings: &Surroundings,
    poured: Poured,
    limit_k: f64,
    accuracy: &Accuracy,
) -> Result<Deepest, HeatError> {
    let start_k = poured.t_k.max(surroundings.air.range_k().1);
    if limit_k <= start_k {
        return Err(HeatError::LimitBelowStart { start_k, limit_k });
    }
    let excess = |ln_depth: f64| -> Result<f64, HeatError> {
        let mut stack = Stack::new(resin, surroundings.clone(), accuracy);
        stack.pour(ln_depth.exp(), poured.t_k, poured.conversion)?;
        stack.run(HORIZON_S, Goal::Peak { enough_k: limit_k + ENOUGH_OVER_K })?;
        let peak_k = stack.peak().map_or(start_k, |(peak, _)| peak);
        // A thin layer may never rise above the warmer of resin and air.
        Ok(((peak_k - start_k).max(1e-6) / (limit_k - start_k)).ln())
    };
    let (thinnest, thickest) = (SEARCHED_DEPTH.start().ln(), SEARCHED_DEPTH.end().ln());
    let mut low = (FIRST_GUESS_M.ln(), excess(FIRST_GUESS_M.ln())?);
    let mut high = low;
    while high.1 <= 0.0 {
        if high.0 >= thickest {
            return Ok(Deepest::Beyond { searched_m: thickest.exp() });
        }
        low = high;
        let next = (high.0 + WIDEN.ln()).min(thickest);
        high = (next, excess(next)?);
    }
    while low.1 > 0.0 {
        if low.0 <= thinnest {
            return Ok(Deepest::None { searched_m: thinnest.exp() });
        }
        high = low;
        let next = (low.0 - WIDEN.ln()).max(thinnest);
        low = (next, excess(next)?);
    }
    let root = brent(low, high, DEPTH_TOLERANCE_RATIO, excess)?;
    Ok(Deepest::Limited { depth_m: root.unwrap_or(low.0).exp() })
}

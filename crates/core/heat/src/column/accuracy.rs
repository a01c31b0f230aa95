//! How finely a column is computed, and for how long it is wanted.

use fondant_numerics::Stop;
use fondant_numerics::lobatto::Lobatto;

/// Longest element: longer ones miss the front of a runaway, m.
const LONGEST_M: f64 = 0.06;

/// How finely a column is computed, and for how long it is wanted.
#[derive(Debug, Clone, PartialEq)]
pub struct Accuracy {
    /// Degree of the polynomials that carry temperature and conversion, 1…15. Eight nodes (degree 7) or
    /// four are computed as fast as six or three.
    pub degree: usize,
    /// Deeper layers are carried by several polynomials, each over at most this, m.
    pub longest_m: f64,
    /// Error of temperature allowed in one step, K.
    pub temperature_k: f64,
    /// Error of conversion allowed in one step.
    pub conversion: f64,
    /// Ends the run where its answer is no longer wanted.
    pub stop: Stop,
}

/// How a layer is carried.
#[derive(Debug, Clone, Copy)]
pub(super) struct Pieces {
    /// Pieces of equal depth.
    pub(super) count: usize,
    pub(super) lobatto: &'static Lobatto,
}

impl Accuracy {
    /// For thousands of runs. Of layers near their limit, windows move by less than a minute and peaks by
    /// less than 0.15 K; those that run away by tens of kelvins are told up to 6 K off.
    #[must_use]
    pub const fn coarse() -> Self {
        Self {
            degree: 3,
            longest_m: LONGEST_M,
            temperature_k: 0.06,
            conversion: 6e-4,
            stop: Stop::NEVER,
        }
    }

    /// The same for as long as an answer is wanted.
    #[must_use]
    pub fn until(self, stop: &Stop) -> Self {
        Self { stop: stop.clone(), ..self }
    }

    /// How a layer is carried.
    pub(super) fn pieces(&self, depth_m: f64) -> Pieces {
        let count = (depth_m / self.longest_m).ceil().max(1.0) as usize;
        Pieces { count, lobatto: Lobatto::of_degree(self.degree) }
    }
}

impl Default for Accuracy {
    /// Peaks near the limit of a resin within 0.005 K of the converged value, those of a runaway within
    /// 1 K. The tolerances were found by loosening them until the error of time stepping came to about
    /// that; early errors of conversion grow towards the peak, so these look stricter than the result is.
    fn default() -> Self {
        Self {
            degree: 7,
            longest_m: LONGEST_M,
            temperature_k: 0.01,
            conversion: 1e-4,
            stop: Stop::NEVER,
        }
    }
}

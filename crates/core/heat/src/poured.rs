//! The state of the resin as it is poured.

use serde::{Deserialize, Serialize};

/// Resin as it leaves the bucket.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
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

    /// Poured long ago, at a temperature in K: it gives off no heat that counts (convention).
    #[must_use]
    pub const fn long_cured(t_k: f64) -> Self {
        Self { t_k, conversion: 0.93 }
    }
}

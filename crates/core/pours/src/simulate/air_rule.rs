//! Air in which nothing is poured.

use fondant_heat::Poured;
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::{AirLimits, TroubleKind, forbidden};
use fondant_materials::resin::Calibrated;
use fondant_quantities::Temperature;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use super::grid::GRID_S;

/// Limits of the air while a layer is poured.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirRule {
    /// Limits of resin and shop.
    pub limits: AirLimits,
    /// Surface of the resin as it is poured.
    pub surface: Temperature,
}

/// What forbids a pour, and by how much.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Unfit {
    /// Kind of trouble.
    pub kind: TroubleKind,
    /// Kelvins over the dew point, percent of humidity, or kelvins of the air.
    pub figure: f64,
}

impl AirRule {
    /// The same for a resin as it is poured.
    pub(crate) fn of(self, resin: &Calibrated, poured: Poured) -> Self {
        let (coldest, warmest) = (resin.working.coldest, resin.working.warmest);
        let limits = AirLimits { coldest, warmest, ..self.limits };
        Self { limits, surface: Temperature::from_k(poured.t_k) }
    }

    /// What forbids a pour at a moment.
    #[must_use]
    pub fn unfit_at(&self, air: &AirSeries, at: Timestamp) -> Option<Unfit> {
        let (kind, figure) = forbidden(air, &self.limits, self.surface, at)?;
        Some(Unfit { kind, figure })
    }

    /// What forbids a pour between its first bucket and its last.
    #[must_use]
    pub fn unfit(&self, air: &AirSeries, from: Timestamp, to: Timestamp) -> Option<Unfit> {
        let mut at = from;
        while at < to {
            if let Some(unfit) = self.unfit_at(air, at) {
                return Some(unfit);
            }
            at += SignedDuration::from_secs(GRID_S);
        }
        self.unfit_at(air, to)
    }
}

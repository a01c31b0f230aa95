//! A pour at a given time.

use fondant_heat::Poured;
use fondant_quantities::Temperature;
use jiff::Timestamp;

use super::task::Task;
use crate::layers::Layer;

/// One pour at a given time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Given {
    /// The layer.
    pub layer: Layer,
    /// Start of the pour, UTC.
    pub at: Timestamp,
    /// Whether it has happened: its hour is no longer a matter of the shop's rules.
    pub is_poured: bool,
    /// How warm the resin is, where that is known better than by the plan.
    pub resin_at: Option<Temperature>,
}

impl Given {
    /// As the plan has it.
    #[must_use]
    pub const fn planned(layer: Layer, at: Timestamp) -> Self {
        Self { layer, at, is_poured: false, resin_at: None }
    }

    /// The resin as it went in, or as it is planned.
    pub(super) fn poured(&self, task: &Task<'_>) -> Poured {
        let planned = task.poured_of(&self.layer);
        self.resin_at.map_or(planned, |t| Poured { t_k: t.k(), ..planned })
    }
}

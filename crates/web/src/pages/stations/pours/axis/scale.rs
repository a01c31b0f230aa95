//! What is drawn on the axis, and where.

use fondant_cast::document::PourId;
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::{AirLimits, Trouble};
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Schedule, ShopHours};
use jiff::Timestamp;

use crate::ui::units::Shown;

/// Data of the drawing.
#[derive(Debug)]
pub(crate) struct HoursAxis<'a> {
    /// The pours.
    pub(crate) schedule: &'a Schedule,
    /// When the shop is open.
    pub(crate) hours: &'a ShopHours,
    /// The air of the pours.
    pub(crate) air: &'a AirSeries,
    /// Limits of the air for this resin.
    pub(crate) limits: AirLimits,
    /// Where the air spoils something.
    pub(crate) troubles: &'a [Trouble],
    /// Touches of layers: which, when and what was found.
    pub(crate) touches: &'a [(usize, Timestamp, Touch)],
    /// The pours that were taken; none where they are proposed.
    pub(crate) ids: &'a [PourId],
    /// How many pours have happened: they stay where they are.
    pub(crate) poured: usize,
    /// Whether what happens is written down on it.
    pub(crate) takes_facts: bool,
    /// The current time, UTC.
    pub(crate) now: Timestamp,
    /// What may be done once the last layer is hard.
    pub(crate) hard: &'static str,
    /// Units.
    pub(crate) shown: Shown,
}

pub(super) const ROW_PX: f64 = 74.0;
/// The panel of the air: its top and its height.
pub(super) const AIR_TOP: f64 = 44.0;
pub(super) const AIR_PX: f64 = 62.0;
/// Trouble stands in a band under the air.
pub(super) const TROUBLE_PX: f64 = 26.0;
pub(super) const TOP_PX: f64 = AIR_TOP + AIR_PX + TROUBLE_PX + 12.0;

/// Seconds on a line across the drawing.
pub(super) struct Axis {
    pub(super) left: f64,
    pub(super) right: f64,
    pub(super) bottom: f64,
    pub(super) from: Timestamp,
    pub(super) to: Timestamp,
}

impl Axis {
    pub(super) fn x(&self, at: Timestamp) -> f64 {
        let whole = self.to.duration_since(self.from).as_secs_f64();
        let share = at.duration_since(self.from).as_secs_f64() / whole;
        self.left + share.clamp(0.0, 1.0) * (self.right - self.left)
    }
}

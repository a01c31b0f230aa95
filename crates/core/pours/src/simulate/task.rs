//! What is to be scheduled.

use fondant_heat::Poured;
use fondant_heat::climate::AirSeries;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Span, Temperature};
use jiff::Timestamp;

use super::air_rule::{AirRule, Unfit};
use crate::crew::Crew;
use crate::hours::ShopHours;
use crate::layers::{Ladder, Layer};

/// What is to be scheduled.
#[derive(Debug, Clone)]
pub struct Task<'a> {
    /// The resin of every layer.
    pub resin: &'a Calibrated,
    /// The shop's air.
    pub air: &'a AirSeries,
    /// How the form is kept cool.
    pub cooling: Cooling,
    /// Material beside the resin.
    pub sides: Sides,
    /// The resin as it goes in.
    pub poured: Poured,
    /// Limits of the air while a layer is poured; `None` where they are lifted.
    pub air_rule: Option<AirRule>,
    /// No point may get hotter.
    pub limit: Temperature,
    /// The levels at which a layer may end.
    pub ladder: &'a Ladder,
    /// When the shop is open.
    pub hours: &'a ShopHours,
    /// No pour before this.
    pub not_before: Timestamp,
    /// Hands, buckets and speeds of the people who pour.
    pub crew: Crew,
    /// Time to sand, wipe and dry a hard layer before the next.
    pub sanding: Span,
    /// Ends what is followed where its answer is no longer wanted.
    pub stop: Stop,
}

impl Task<'_> {
    /// What in the air forbids a layer at a time.
    #[must_use]
    pub fn unfit(&self, layer: &Layer, at: Timestamp) -> Option<Unfit> {
        let done = at + self.work(layer).signed();
        self.air_rule.and_then(|rule| rule.unfit(self.air, at, done))
    }

    /// From the first bucket of a layer to the last.
    #[must_use]
    pub fn work(&self, layer: &Layer) -> Span {
        self.crew.work(layer, self.resin.density)
    }
}

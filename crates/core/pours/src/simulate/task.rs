//! What is to be scheduled.

use fondant_heat::Poured;
use fondant_heat::climate::AirSeries;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Span, Temperature};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::air_rule::{AirRule, Unfit};
use super::slots::Preparation;
use crate::crew::Crew;
use crate::hours::ShopHours;
use crate::layers::{Joins, Ladder, Layer};

/// A resin of some stages of a cast beside the cast's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct StageResin {
    /// The resin.
    pub resin: Calibrated,
    /// The state in which it goes in.
    pub poured: Poured,
}

impl StageResin {
    /// That of a layer among the resins of a cast's stages; `None` where the layer is of the cast's own.
    #[must_use]
    pub fn of<'a>(layer: &Layer, all: &'a [Self]) -> Option<&'a Self> {
        all.get(usize::from(layer.resin).checked_sub(1)?)
    }
}

/// What is to be scheduled.
#[derive(Debug, Clone)]
pub struct Task<'a> {
    /// The resin of every layer that is of the cast's own.
    pub resin: &'a Calibrated,
    /// The resins of the others, counted from 1.
    pub stage_resins: &'a [StageResin],
    /// The shop's air.
    pub air: &'a AirSeries,
    /// How the form is kept cool.
    pub cooling: Cooling,
    /// Material beside the resin.
    pub sides: Sides,
    /// The cast's own resin as it goes in.
    pub poured: Poured,
    /// Limits of the air while a layer is poured, of all resins together; `None` where they are lifted.
    pub air_rule: Option<AirRule>,
    /// No point of the cast's own resin may get hotter.
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
    /// Work from the open form to a face that takes a flood coat.
    pub finishing: Span,
    /// Ends what is followed where its answer is no longer wanted.
    pub stop: Stop,
}

impl Task<'_> {
    /// What in the air forbids a layer at a time.
    #[must_use]
    pub fn unfit(&self, layer: &Layer, at: Timestamp) -> Option<Unfit> {
        let done = at + self.work(layer).signed();
        self.rule_of(layer).and_then(|rule| rule.unfit(self.air, at, done))
    }

    /// The rule of the air for a layer: how cold and warm the air may be is a matter of its own resin.
    pub(crate) fn rule_of(&self, layer: &Layer) -> Option<AirRule> {
        Some(self.air_rule?.of(self.resin_of(layer), self.poured_of(layer)))
    }

    /// The rules of the air for the cast's own resin and for those of its stages, in order.
    pub(crate) fn air_rules(&self) -> Option<Vec<AirRule>> {
        let rule = self.air_rule?;
        let own = rule.of(self.resin, self.poured);
        let stages = self.stage_resins.iter().map(|stage| rule.of(&stage.resin, stage.poured));
        Some(std::iter::once(own).chain(stages).collect())
    }

    /// From the first bucket of a layer to the last.
    #[must_use]
    pub fn work(&self, layer: &Layer) -> Span {
        self.crew.work(layer, self.resin_of(layer).density)
    }

    fn stage(&self, layer: &Layer) -> Option<&StageResin> {
        StageResin::of(layer, self.stage_resins)
    }

    /// The resin of a layer.
    #[must_use]
    pub fn resin_of(&self, layer: &Layer) -> &Calibrated {
        self.stage(layer).map_or(self.resin, |stage| &stage.resin)
    }

    /// The state in which a layer goes in.
    #[must_use]
    pub fn poured_of(&self, layer: &Layer) -> Poured {
        self.stage(layer).map_or(self.poured, |stage| stage.poured)
    }

    /// No point of a layer may get hotter.
    #[must_use]
    pub fn limit_of(&self, layer: &Layer) -> Temperature {
        self.stage(layer).map_or(self.limit, |stage| stage.resin.working.peak_limit)
    }

    /// The work on a hard layer before one that joins it so; `None` where it cannot be worked on.
    #[must_use]
    pub(crate) fn preparation(&self, joins: Joins) -> Option<Preparation> {
        match joins {
            Joins::StickyOrSanded | Joins::SandedFlush => {
                Some(Preparation { takes: self.sanding, at_a_stretch: true })
            }
            Joins::WhileSticky => None,
            Joins::Finished => Some(Preparation { takes: self.finishing, at_a_stretch: false }),
        }
    }
}

/// Resins of stages, cured by the factor that `rate` gives for each number.
pub(crate) fn stage_resins_at(stages: &[StageResin], rate: impl Fn(u8) -> f64) -> Vec<StageResin> {
    let scaled = |(number, stage): (u8, &StageResin)| StageResin {
        resin: stage.resin.scaled(rate(number), 1.0),
        poured: stage.poured,
    };
    (1..).zip(stages).map(scaled).collect()
}

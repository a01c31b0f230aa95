//! Colour by the recipe: what each batch still gets, so that all of them match.

use fondant_quantities::Mass;

use super::acts::Act;
use super::batch::Batch;
use super::plan::{Cup, Tinting};
use super::state::Run;

/// Share of the recipe's amount that is enough: a scale shows no less (convention).
const ENOUGH_RATIO: f64 = 0.98;

impl Run {
    /// Whether a colour of the recipe goes into a batch: into all of them, or into its cup.
    #[must_use]
    pub fn gets(&self, number: u32, tinting: &Tinting) -> bool {
        let is_its = |cup: &Cup| cup.colour == tinting.cup;
        self.plan.cups.is_empty() || self.cup_of(number).is_some_and(is_its)
    }

    /// The share of a colour that every batch which gets it gets: what was found right in the first
    /// that was mixed, and what the recipe says until then.
    #[must_use]
    pub fn share_of(&self, tinting: &Tinting) -> f64 {
        let is_settled = |batch: &&Batch| {
            batch.lost.is_none()
                && (batch.is_coloured || batch.met.is_some())
                && self.gets(batch.number, tinting)
        };
        let settled = self.batches.iter().find(is_settled);
        match settled {
            Some(batch) => {
                crate::tinting::share(batch.tint_of(&tinting.colour), batch.mass(&self.plan))
            }
            None => tinting.share,
        }
    }

    /// What a batch of a mixed mass still gets of each colour; nothing once its colour is right.
    pub(super) fn tints(&self, number: u32, mass: Mass) -> Vec<Act> {
        let begun = self.batch(number);
        if begun.is_some_and(|batch| batch.is_coloured || batch.met.is_some()) {
            return Vec::new();
        }
        let left = |(colour, tinting): (usize, &Tinting)| {
            self.gets(number, tinting).then_some(())?;
            let wanted = mass * self.share_of(tinting);
            let held = begun.map_or(Mass::ZERO, |batch: &Batch| batch.tint_of(&tinting.colour));
            let is_enough = held.kg() >= wanted.kg() * ENOUGH_RATIO;
            (!is_enough).then(|| Act::Tint { batch: number, colour, target: wanted - held })
        };
        self.plan.recipe.iter().enumerate().filter_map(left).collect()
    }
}

//! Cups of several colours: which of them a bucket fills, and what is still to be mixed.

use fondant_quantities::Mass;

use super::batch::Batch;
use super::plan::Cup;
use super::state::Run;
use crate::batches::{Split, split};

impl Run {
    /// The cups of the plan that no bucket fills, in order; a bucket that was lost fills none.
    fn free_cups(&self) -> impl Iterator<Item = usize> + '_ {
        let is_held = |place: &usize| {
            self.batches.iter().any(|batch| batch.cup == Some(*place) && batch.lost.is_none())
        };
        (0..self.plan.cups.len()).filter(move |place| !is_held(place))
    }

    /// The cup that the next batch fills.
    pub(super) fn free_cup(&self) -> Option<usize> {
        self.free_cups().next()
    }

    /// The cup that a batch fills, or is to fill when it comes.
    #[must_use]
    pub fn cup_of(&self, number: u32) -> Option<&Cup> {
        let place = match self.batch(number) {
            Some(batch) => batch.cup,
            None => self.free_cups().nth(number.checked_sub(self.next_number())? as usize),
        };
        self.plan.cups.get(place?)
    }

    /// The cups that are to come, each of its own mass, and after them what ran short.
    pub(super) fn cups_to_come(&self) -> Split {
        match self.free_cup() {
            Some(next) => Split {
                count: u32::try_from(self.free_cups().count()).unwrap_or(u32::MAX),
                each: self.plan.cups[next].mass,
            },
            None => split(self.short_to_come(), self.plan.batch),
        }
    }

    /// What ran short and is not in a bucket yet.
    fn short_to_come(&self) -> Mass {
        let one_more = |batch: &&Batch| batch.cup.is_none() && batch.lost.is_none();
        let in_hand: Mass =
            self.batches.iter().filter(one_more).map(|batch| batch.mass(&self.plan)).sum();
        (self.short * self.plan.resin.density - in_hand).max(Mass::ZERO)
    }

    /// Whether the colours of a swirl go in: all cups are mixed, or one of them is in already.
    #[must_use]
    pub fn is_joining(&self) -> bool {
        let mut open = self.batches.iter().filter(|batch| !batch.is_over());
        let has_begun = self.batches.iter().any(|batch| batch.pouring.is_some());
        has_begun || (self.to_come().count == 0 && open.all(|batch| batch.mixed.is_some()))
    }
}

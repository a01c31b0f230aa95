//! What a search works on.

use crate::layers::Layer;
use crate::simulate::slots::Slots;
use crate::simulate::task::Task;

use super::terms::Allowance;

pub(super) struct Search<'a> {
    pub(super) task: &'a Task<'a>,
    pub(super) terms: &'a Allowance<'a>,
    pub(super) slots: Slots,
    pub(super) runs: usize,
    pub(super) never_sets: bool,
}

impl Search<'_> {
    pub(super) fn layer(&self, level: usize, rung: usize) -> &Layer {
        &self.task.ladder.from(level)[rung].layer
    }

    pub(super) fn work_s(&self, level: usize, rung: usize) -> i64 {
        self.task.work(self.layer(level, rung)).signed().as_secs()
    }

    /// Whether a layer can be begun at a slot: the shop stays open long enough, and the air fit.
    pub(super) fn can_begin(&self, slot: usize, level: usize, rung: usize) -> bool {
        let resin = self.layer(level, rung).resin;
        self.slots.has_time(slot, self.work_s(level, rung), resin)
    }

    /// Slots of the first pour.
    pub(super) fn first_slots(&self) -> std::ops::Range<usize> {
        let rungs = 0..self.task.ladder.from(0).len();
        let can = |slot: &usize| rungs.clone().any(|rung| self.can_begin(*slot, 0, rung));
        let Some(first) = (0..self.slots.len()).find(can) else { return 0..0 };
        let last = self.slots.at(first) + self.terms.first_within.as_secs();
        self.slots.within(self.slots.at(first), last)
    }
}

//! Pours so far, ordered by what a plan that begins with them can cost at best.

use std::cmp::Ordering;

use super::path::{Cost, Step};
use super::to_go::Key;
use crate::simulate::course::Shared;
use crate::simulate::slots::Slots;

/// Pours so far, of which the last has not been followed yet.
pub(super) struct Node {
    /// No plan with these pours costs less.
    pub(super) bound: Cost,
    /// The same, so coarse that bounds as good as equal are: of those the
    /// longest path goes first.
    pub(super) coarse: Cost,
    /// What the pours before the last have cost.
    pub(super) spent: i64,
    /// The level that the last pour stands on.
    pub(super) level: usize,
    pub(super) path: Vec<Step>,
    pub(super) before: Option<Shared>,
}

impl Node {
    pub(super) fn key_of_last(&self, slots: &Slots) -> Key {
        let (rung, at) = self.path.last().map_or((0, 0), |step| (step.rung, step.at));
        (self.level, rung, slots.within(at, at).start)
    }

    fn key(&self) -> (Cost, std::cmp::Reverse<usize>, Cost, &[Step]) {
        (self.coarse, std::cmp::Reverse(self.path.len()), self.bound, &self.path)
    }
}
impl PartialEq for Node {
    fn eq(&self, other: &Self) -> bool {
        self.key() == other.key()
    }
}
impl Eq for Node {}
impl PartialOrd for Node {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
impl Ord for Node {
    /// The heap gives the greatest first: that of least bound, then the longest.
    fn cmp(&self, other: &Self) -> Ordering {
        other.key().cmp(&self.key())
    }
}

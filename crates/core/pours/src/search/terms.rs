//! What a search is after, what it may spend, and what a plan costs by that.

use jiff::SignedDuration;

use super::path::{Complete, Cost};
use crate::simulate::course::LIMIT_SLACK_K;
use crate::simulate::slots::Slots;
use fondant_quantities::{Span, TemperatureDelta};

/// What a plan is to be best at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Aim {
    /// Hard soonest.
    Soonest,
    /// Fewest pours, then hard soonest.
    FewestPours,
    /// Least time in which a layer is liquid while nobody is in the shop, then
    /// hard soonest.
    QuietNights,
}

/// What a search is after and what it may spend.
#[derive(Clone, Copy)]
pub struct Allowance<'a> {
    /// What the plan is to be best at.
    pub aim: Aim,
    /// Margin of pours to both ends of their windows, s.
    pub inset: Span,
    /// Margin of peaks below the limit, K.
    pub cooler: TemperatureDelta,
    /// A plan this close to the best is good enough: 0 asks for the best on
    /// the grid to the second.
    pub close: Span,
    /// First pours are tried within this time of the first open hour.
    pub first_within: SignedDuration,
    /// Runs of the model along paths at most; past them the best so far is given.
    pub most_runs: usize,
    /// Runs of the model for the bounds of a path at most. Past them nothing can be proven, and the
    /// first plan that was found is given.
    pub most_bounding_runs: usize,
    /// Told the runs spent now and then; says whether the answer is still wanted.
    pub watch: &'a (dyn Fn(usize) -> bool + Sync),
}

impl std::fmt::Debug for Allowance<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Allowance").field("aim", &self.aim).finish_non_exhaustive()
    }
}

impl Allowance<'_> {
    /// Whatever is needed for a proof within a week of first pours.
    #[must_use]
    pub fn thorough(aim: Aim) -> Self {
        Self {
            aim,
            inset: Span::ZERO,
            cooler: TemperatureDelta::ZERO,
            close: Span::from_s(1800.0),
            first_within: SignedDuration::from_hours(7 * 24),
            most_runs: 2000,
            most_bounding_runs: 24_000,
            watch: &|_| true,
        }
    }

    /// Enough for a good plan while somebody edits: first pours of two days.
    #[must_use]
    pub fn quick() -> Self {
        Self {
            first_within: SignedDuration::from_hours(48),
            close: Span::from_h(1.0),
            most_runs: 160,
            most_bounding_runs: 2400,
            ..Self::thorough(Aim::Soonest)
        }
    }

    /// How far any layer may be over its limit, K.
    pub(super) fn over_k(&self) -> f64 {
        LIMIT_SLACK_K - self.cooler.k()
    }
}

impl Aim {
    /// What a pour adds, by when it was in and when its surface had gelled.
    pub(super) fn step(self, slots: &Slots, done: i64, opens: i64) -> i64 {
        match self {
            Self::Soonest => 0,
            Self::FewestPours => 1,
            Self::QuietNights => slots.closed_s(done, opens) / 60,
        }
    }
}

impl Allowance<'_> {
    pub(super) fn coarse(&self, bound: Cost) -> Cost {
        let bucket = self.close.signed().as_secs().max(1);
        Cost { hard: bound.hard.div_euclid(bucket), ..bound }
    }

    /// Whether a plan of no less than this cost could still be better than the
    /// best by more than is good enough.
    pub(super) fn could_beat(&self, bound: Cost, best: Option<&Complete>) -> bool {
        let Some(best) = best.map(|b| b.cost) else { return true };
        let close = self.close.signed().as_secs();
        if close == 0 {
            return bound < best;
        }
        // Closed minutes of the nights are as uncertain as the windows; pours count.
        let close_first = if self.aim == Aim::QuietNights { close / 30 } else { 0 };
        bound.first + close_first < best.first
            || bound.first <= best.first && bound.hard + close < best.hard
    }
}

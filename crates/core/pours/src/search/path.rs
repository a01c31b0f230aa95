//! Pours in a row, and what they cost.

/// One pour of a path.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Step {
    pub(super) at: i64,
    pub(super) rung: usize,
}

/// A plan that is complete.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Complete {
    pub(super) cost: Cost,
    pub(super) path: Vec<Step>,
}

/// First what the aim counts, then when all is hard.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Cost {
    pub(super) first: i64,
    pub(super) hard: i64,
}

impl Cost {
    pub(super) const NEVER: Self = Self { first: i64::MAX / 4, hard: i64::MAX / 4 };

    pub(super) fn plus(self, step: i64) -> Self {
        Self { first: self.first + step, ..self }
    }
}

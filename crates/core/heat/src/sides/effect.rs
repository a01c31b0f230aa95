//! What sides do to a column.

/// What the sides do to a column in the middle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sides {
    /// Heat lost sideways, W/(m³·K).
    pub loss_w_m3k: f64,
    /// Ratio of the demould time at the rim to that in the middle, at least 1.
    pub hard_ratio: f64,
}

impl Sides {
    /// As if there were none.
    pub const NONE: Self = Self { loss_w_m3k: 0.0, hard_ratio: 1.0 };

    /// When all is hard, s, from when it was poured and its middle is hard.
    #[must_use]
    pub fn hard_s(&self, poured_s: f64, middle_s: f64) -> f64 {
        poured_s + (middle_s - poured_s) * self.hard_ratio
    }
}

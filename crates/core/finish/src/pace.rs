//! The shop's own pace: how its hours stand to those of the trade, learnt from steps that were timed.

use std::collections::BTreeMap;

use fondant_quantities::Span;

use crate::work::{StepKind, Work};

/// How far shops lie from the pace of the trade, standard deviation of the ratio's logarithm (convention:
/// two of three lie between 0.6 and 1.6 times).
const SHOPS: f64 = 0.5;
/// The least that a shop's own times spread, standard deviation of the logarithm: two that happen to agree
/// are no proof (convention).
const LEAST: f64 = 0.2;

/// Pace of a shop at one step.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pace {
    /// What the trade's hours are multiplied by.
    pub factor: f64,
    /// Pieces that it was learnt from.
    pub count: u32,
    /// Standard deviation of their ratios' logarithm; that of shops in general for a single one.
    pub spread: f64,
}

impl Pace {
    /// Before anything was timed.
    pub const TRADE: Self = Self { factor: 1.0, count: 0, spread: SHOPS };

    /// From hours that were timed over those that were planned. The mean of n logarithms with spread s
    /// counts n ÷ (n + s² ÷ s₀²) against the pace of the trade, s₀ being how far shops lie from it.
    #[must_use]
    pub fn of(ratios: &[f64]) -> Self {
        let logs: Vec<f64> =
            ratios.iter().filter(|r| r.is_finite() && **r > 0.0).map(|r| r.ln()).collect();
        if logs.is_empty() {
            return Self::TRADE;
        }
        let n = logs.len() as f64;
        let mean = logs.iter().sum::<f64>() / n;
        let squares: f64 = logs.iter().map(|log| (log - mean).powi(2)).sum();
        let spread = if logs.len() > 1 { (squares / (n - 1.0)).sqrt().max(LEAST) } else { SHOPS };
        let weight = n / (n + (spread / SHOPS).powi(2));
        Self { factor: (weight * mean).exp(), count: logs.len() as u32, spread }
    }
}

/// Paces of a shop by step, from the finishing of its casts. Only steps that are done and were timed count.
#[must_use]
pub fn paces<'a>(casts: impl Iterator<Item = &'a Work>) -> BTreeMap<StepKind, Pace> {
    let mut ratios: BTreeMap<StepKind, Vec<f64>> = BTreeMap::new();
    for (kind, step) in casts.flat_map(|work| &work.steps) {
        let planned = step.planned.filter(|planned| *planned > Span::ZERO);
        if let Some(planned) = planned.filter(|_| step.is_done && step.took > Span::ZERO) {
            ratios.entry(*kind).or_default().push(step.took.s() / planned.s());
        }
    }
    ratios.into_iter().map(|(kind, ratios)| (kind, Pace::of(&ratios))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// One step at twice the time counts half: √2. Four at twice the time, spread 0.2, count
    /// 4 ÷ (4 + 0.16): 2^0.9615 = 1.947.
    #[test]
    fn by_hand() {
        let one = Pace::of(&[2.0]);
        assert!((one.factor - 2.0_f64.sqrt()).abs() < 1e-12 && one.count == 1);
        let four = Pace::of(&[2.0; 4]);
        assert!((four.factor - 1.947_f64).abs() < 1e-3, "{four:?}");
        assert_eq!(Pace::of(&[]), Pace::TRADE);
        assert_eq!(Pace::of(&[f64::NAN, 0.0, -1.0]), Pace::TRADE);
    }

    proptest! {
        /// It lies between the pace of the trade and the mean of the shop, and comes closer to the latter
        /// the more there are.
        #[test]
        fn it_lies_between(ratio in 0.2..5.0f64, n in 1usize..40) {
            let (few, more) = (Pace::of(&vec![ratio; n]), Pace::of(&vec![ratio; n + 5]));
            let (low, high) = (ratio.min(1.0), ratio.max(1.0));
            prop_assert!(few.factor >= low - 1e-9 && few.factor <= high + 1e-9);
            prop_assert!((more.factor / ratio).ln().abs() <= (few.factor / ratio).ln().abs() + 1e-9);
        }
    }
}

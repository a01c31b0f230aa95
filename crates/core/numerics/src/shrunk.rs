//! A ratio learnt from a few readings, shrunk towards one by how much has been seen.

/// What is assumed of ratios before any is read (the prior).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Prior {
    /// How far those who read lie from one, standard deviation of the logarithm.
    pub between: f64,
    /// The least that readings of one of them spread, standard deviation of the logarithm: two that
    /// happen to agree are no proof.
    pub least: f64,
}

/// A ratio that was learnt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shrunk {
    /// The ratio.
    pub factor: f64,
    /// Readings that it was learnt from.
    pub count: u32,
    /// Standard deviation of their logarithm; that of the prior for a single one.
    pub spread: f64,
}

/// Learns a ratio. The mean of n logarithms with spread s counts n ÷ (n + s² ÷ s₀²) against one, s₀
/// being how far those who read lie from it. What is no ratio does not count.
///
/// ```
/// use fondant_numerics::shrunk::{Prior, shrunk};
///
/// let prior = Prior { between: 0.5, least: 0.2 };
/// assert_eq!(shrunk(&[], prior).factor, 1.0);
/// let found = shrunk(&[2.0, 2.0, 2.0, 2.0], prior);
/// assert!(found.factor > 1.9 && found.factor < 2.0);
/// ```
#[must_use]
pub fn shrunk(ratios: &[f64], prior: Prior) -> Shrunk {
    let logs: Vec<f64> =
        ratios.iter().filter(|r| r.is_finite() && **r > 0.0).map(|r| r.ln()).collect();
    if logs.is_empty() {
        return Shrunk { factor: 1.0, count: 0, spread: prior.between };
    }
    let n = logs.len() as f64;
    let mean = logs.iter().sum::<f64>() / n;
    let squares: f64 = logs.iter().map(|log| (log - mean).powi(2)).sum();
    let spread =
        if logs.len() > 1 { (squares / (n - 1.0)).sqrt().max(prior.least) } else { prior.between };
    let weight = n / (n + (spread / prior.between).powi(2));
    Shrunk { factor: (weight * mean).exp(), count: logs.len() as u32, spread }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const PRIOR: Prior = Prior { between: 0.5, least: 0.2 };

    /// One reading of two counts half: √2. Four of two, spread 0.2, count 4 ÷ (4 + 0.16):
    /// 2^0.9615 = 1.947.
    #[test]
    fn by_hand() {
        let one = shrunk(&[2.0], PRIOR);
        assert!((one.factor - 2.0_f64.sqrt()).abs() < 1e-12 && one.count == 1);
        let four = shrunk(&[2.0; 4], PRIOR);
        assert!((four.factor - 1.947_f64).abs() < 1e-3, "{four:?}");
        let none = shrunk(&[], PRIOR);
        assert_eq!((none.factor, none.count), (1.0, 0));
        assert_eq!(shrunk(&[f64::NAN, 0.0, -1.0], PRIOR), none);
    }

    proptest! {
        /// It lies between one and the mean of what was read, and comes closer to the latter the more
        /// there are.
        #[test]
        fn it_lies_between(ratio in 0.2..5.0f64, n in 1usize..40) {
            let few = shrunk(&vec![ratio; n], PRIOR);
            let more = shrunk(&vec![ratio; n + 5], PRIOR);
            let (low, high) = (ratio.min(1.0), ratio.max(1.0));
            prop_assert!(few.factor >= low - 1e-9 && few.factor <= high + 1e-9);
            prop_assert!((more.factor / ratio).ln().abs() <= (few.factor / ratio).ln().abs() + 1e-9);
        }
    }
}

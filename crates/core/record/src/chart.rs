//! A figure over casts of one product: an individuals chart with its limits and its signals.
//!
//! W. A. Shewhart, *Economic Control of Quality of Manufactured Product* (1931); limits of individual
//! values by their mean moving range, and the rules of the Western Electric *Statistical Quality Control
//! Handbook* (1956).

/// Mean moving range of two in units of the standard deviation of normal values: 3 ÷ 1.128.
const LIMITS: f64 = 2.66;
/// Limit of the moving range itself: D4 of ranges of two.
const RANGE_LIMIT: f64 = 3.267;
/// Fewest values of which limits mean something.
pub const FEWEST: usize = 5;
/// Values in a row on one side of the mean that are a signal.
const RUN: usize = 8;
/// Values in a row that rise or fall that are a signal.
const TREND: usize = 6;

/// Why a value stands out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Signal {
    /// Outside of the limits.
    Beyond,
    /// The last of eight on one side of the mean.
    Side,
    /// The last of six that rise, or fall, one after the other.
    Trend,
    /// It jumped from the one before by more than is usual, and not back from beyond the limits.
    Jump,
}

/// A chart.
#[derive(Debug, Clone, PartialEq)]
pub struct Chart {
    /// Mean of the values.
    pub mean: f64,
    /// Lower limit.
    pub low: f64,
    /// Upper limit.
    pub high: f64,
    /// Mean moving range.
    pub moving_range: f64,
    /// What stands out: place of the value, from 0, and why, in order.
    pub signals: Vec<(usize, Signal)>,
}

/// The chart of values in the order of time; `None` where there are fewer than [`FEWEST`].
#[must_use]
pub fn chart(values: &[f64]) -> Option<Chart> {
    if values.len() < FEWEST || !values.iter().all(|value| value.is_finite()) {
        return None;
    }
    let count = values.len() as f64;
    let mean = values.iter().sum::<f64>() / count;
    let ranges: Vec<f64> = values.windows(2).map(|pair| (pair[1] - pair[0]).abs()).collect();
    let moving_range = ranges.iter().sum::<f64>() / ranges.len() as f64;
    let (low, high) = (mean - LIMITS * moving_range, mean + LIMITS * moving_range);
    let is_beyond = |value: f64| value < low || value > high;
    let mut signals = Vec::new();
    for (at, value) in values.iter().enumerate() {
        let is_row = |length: usize| at + 1 >= length;
        let last = |length: usize| &values[at + 1 - length..=at];
        if is_beyond(*value) {
            signals.push((at, Signal::Beyond));
        }
        if at > 0 && ranges[at - 1] > RANGE_LIMIT * moving_range && !is_beyond(values[at - 1]) {
            signals.push((at, Signal::Jump));
        }
        if is_row(RUN) && is_on_one_side(last(RUN), mean) {
            signals.push((at, Signal::Side));
        }
        if is_row(TREND) && is_trend(last(TREND)) {
            signals.push((at, Signal::Trend));
        }
    }
    Some(Chart { mean, low, high, moving_range, signals })
}

fn is_on_one_side(values: &[f64], mean: f64) -> bool {
    values.iter().all(|value| *value > mean) || values.iter().all(|value| *value < mean)
}

fn is_trend(values: &[f64]) -> bool {
    values.windows(2).all(|pair| pair[1] > pair[0])
        || values.windows(2).all(|pair| pair[1] < pair[0])
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Worked by hand: grams of eight coasters. Mean 50.5; ranges 2 1 3 2 1 2 1, mean 12/7.
    #[test]
    fn limits_by_hand() {
        let grams = [50.0, 52.0, 51.0, 48.0, 50.0, 51.0, 53.0, 52.0];
        let mean: f64 = grams.iter().sum::<f64>() / 8.0;
        let found = chart(&grams).unwrap();
        assert!((found.mean - mean).abs() < 1e-12);
        assert!((found.moving_range - 12.0 / 7.0).abs() < 1e-12);
        assert!((found.high - (mean + 2.66 * 12.0 / 7.0)).abs() < 1e-12);
        assert!((found.low - (mean - 2.66 * 12.0 / 7.0)).abs() < 1e-12);
        assert_eq!(found.signals, []);
        assert_eq!(chart(&grams[..4]), None);
    }

    #[test]
    fn a_value_beyond_a_trend_and_a_side_are_seen() {
        let mut values = vec![10.0, 10.5, 9.5, 10.2, 9.8, 10.1, 9.9, 10.3, 9.7, 10.0];
        values.extend([16.0, 10.0]);
        let found = chart(&values).unwrap();
        assert!(found.signals.ends_with(&[(10, Signal::Beyond), (10, Signal::Jump)]));
        let rising: Vec<f64> = (0..6).map(f64::from).collect();
        assert!(chart(&rising).unwrap().signals.contains(&(5, Signal::Trend)));
        let sides: Vec<f64> =
            (0..16).map(|i| if i < 8 { 10.0 } else { 11.0 } + 0.3 * f64::from(i % 2)).collect();
        let found = chart(&sides).unwrap();
        assert!(
            found.signals.contains(&(7, Signal::Side))
                && found.signals.contains(&(15, Signal::Side))
        );
    }
}

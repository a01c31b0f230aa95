//! The temperatures of a cup of resin over time.

use serde::{Deserialize, Serialize};

/// More readings than this are gathered into as many stretches of time, each
/// with its median.
const MOST_READINGS: usize = 400;
/// Least length of a gap, in usual spacings of the readings (convention).
const GAP_RATIO: f64 = 6.0;
/// Shortest interval that counts as a gap, s (convention).
const GAP_LEAST_S: f64 = 180.0;

/// One reading.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Reading {
    /// Seconds from mixing.
    pub t_s: f64,
    /// Temperature, K.
    pub t_k: f64,
}

/// A log that was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Log {
    /// In order of time.
    pub readings: Vec<Reading>,
    /// Rows that held a reading.
    pub rows: usize,
    /// Stretches without a reading: from and to, s.
    pub gaps: Vec<(f64, f64)>,
}

impl Log {
    /// Of readings in order of time, the first at the moment of mixing.
    #[must_use]
    pub fn of(readings: Vec<Reading>) -> Self {
        let (rows, gaps) = (readings.len(), gaps(&readings));
        Self { readings: thinned(readings), rows, gaps }
    }
}

fn gaps(readings: &[Reading]) -> Vec<(f64, f64)> {
    let mut steps: Vec<f64> = readings.windows(2).map(|p| p[1].t_s - p[0].t_s).collect();
    if steps.is_empty() {
        return Vec::new();
    }
    steps.sort_by(f64::total_cmp);
    let usual = steps[steps.len() / 2];
    let long = (GAP_RATIO * usual).max(GAP_LEAST_S);
    let pairs = readings.windows(2).filter(|p| p[1].t_s - p[0].t_s > long);
    pairs.map(|p| (p[0].t_s, p[1].t_s)).collect()
}

/// The medians of equal stretches of time, where there are many readings: what
/// lies in between costs time and adds nothing.
fn thinned(readings: Vec<Reading>) -> Vec<Reading> {
    if readings.len() <= MOST_READINGS {
        return readings;
    }
    let end_s = readings[readings.len() - 1].t_s.max(1e-9);
    let mut groups: Vec<Vec<Reading>> = vec![Vec::new(); MOST_READINGS];
    for reading in readings {
        let group = (reading.t_s / end_s * MOST_READINGS as f64) as usize;
        groups[group.min(MOST_READINGS - 1)].push(reading);
    }
    let middle = |group: Vec<Reading>| {
        let t_s = group.iter().map(|r| r.t_s).sum::<f64>() / group.len() as f64;
        let mut values: Vec<f64> = group.iter().map(|r| r.t_k).collect();
        values.sort_by(f64::total_cmp);
        Reading { t_s, t_k: values[values.len() / 2] }
    };
    groups.into_iter().filter(|group| !group.is_empty()).map(middle).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn log(minutes: impl Iterator<Item = u32>) -> Log {
        Log::of(minutes.map(|m| Reading { t_s: f64::from(m) * 60.0, t_k: 293.65 }).collect())
    }

    #[test]
    fn gaps_are_found_and_long_logs_thinned() {
        assert_eq!(log([0, 1, 2, 3, 30, 31].into_iter()).gaps, [(180.0, 1800.0)]);
        let long = log(0..90_000);
        assert_eq!((long.rows, long.readings.len()), (90_000, MOST_READINGS));
        assert!(long.readings.windows(2).all(|pair| pair[1].t_s > pair[0].t_s));
        assert_eq!(Log::of(Vec::new()).gaps, []);
    }
}

//! The air around a cast, over time.

use std::sync::Arc;

use fondant_quantities::bounds::AIR_MODELLED;

use crate::error::HeatError;

/// Seconds of a day, the period of [`Air::DayNight`].
pub const DAY_S: f64 = 86_400.0;

/// The temperature of the air over time. Times count from the first pour, s;
/// temperatures K.
#[derive(Debug, Clone, PartialEq)]
pub enum Air {
    /// Always the same.
    Steady(f64),
    /// `mean + amplitude · sin(2πt / day + phase)`: at phase 0 the room warms
    /// through its mean at the pour, at π/2 it is hottest then.
    DayNight {
        /// Mean over a day.
        mean_k: f64,
        /// Half the range from night to day.
        amplitude_k: f64,
        /// Where in the day the first pour falls, rad.
        phase_rad: f64,
    },
    /// Straight lines between readings; before the first and after the last it
    /// stays as it is there. Made by [`Air::through`].
    Readings(Readings),
}

/// Readings in order of time, two at least.
#[derive(Debug, Clone, PartialEq)]
pub struct Readings(Arc<[(f64, f64)]>);

impl Air {
    /// The air through readings of (seconds from the first pour, K).
    ///
    /// # Errors
    /// [`HeatError::Profile`] for fewer than two, for times that do not rise,
    /// or for a temperature outside what is modelled.
    pub fn through(readings: &[(f64, f64)]) -> Result<Self, HeatError> {
        if readings.len() < 2 {
            return Err(HeatError::Profile { reading: readings.len() });
        }
        for (index, reading) in readings.iter().enumerate() {
            let rises = index == 0 || reading.0 > readings[index - 1].0;
            if !rises || !reading.0.is_finite() || !AIR_MODELLED.contains(&reading.1) {
                return Err(HeatError::Profile { reading: index });
            }
        }
        Ok(Self::Readings(Readings(readings.into())))
    }

    /// Temperature at a time.
    #[must_use]
    pub fn at(&self, t_s: f64) -> f64 {
        match self {
            Self::Steady(k) => *k,
            Self::DayNight { mean_k, amplitude_k, phase_rad } => {
                mean_k + amplitude_k * (std::f64::consts::TAU * t_s / DAY_S + phase_rad).sin()
            }
            Self::Readings(readings) => along(&readings.0, t_s),
        }
    }

    /// How fast it warms at a time, K/s; after a kink, that of the line ahead.
    #[must_use]
    pub fn slope(&self, t_s: f64) -> f64 {
        match self {
            Self::Steady(_) => 0.0,
            Self::DayNight { amplitude_k, phase_rad, .. } => {
                let turn = std::f64::consts::TAU / DAY_S;
                amplitude_k * turn * (turn * t_s + phase_rad).cos()
            }
            Self::Readings(readings) => {
                let all = &readings.0;
                let next = all.partition_point(|r| r.0 <= t_s);
                match (next.checked_sub(1).map(|i| all[i]), all.get(next)) {
                    (Some(a), Some(b)) => (b.1 - a.1) / (b.0 - a.0),
                    _ => 0.0,
                }
            }
        }
    }

    /// Mean over a day, or over the readings by time.
    #[must_use]
    pub fn mean_k(&self) -> f64 {
        match self {
            Self::Steady(k) => *k,
            Self::DayNight { mean_k, .. } => *mean_k,
            Self::Readings(readings) => {
                let all = &readings.0;
                let area: f64 =
                    all.windows(2).map(|p| 0.5 * (p[0].1 + p[1].1) * (p[1].0 - p[0].0)).sum();
                area / (all[all.len() - 1].0 - all[0].0)
            }
        }
    }

    /// Whether it never changes.
    #[must_use]
    pub fn is_steady(&self) -> bool {
        matches!(self, Self::Steady(_))
    }

    /// Lowest and highest temperature, K.
    #[must_use]
    pub fn range_k(&self) -> (f64, f64) {
        match self {
            Self::Steady(k) => (*k, *k),
            Self::DayNight { mean_k, amplitude_k, .. } => {
                (mean_k - amplitude_k.abs(), mean_k + amplitude_k.abs())
            }
            Self::Readings(readings) => {
                let each = readings.0.iter().map(|r| r.1);
                (each.clone().fold(f64::MAX, f64::min), each.fold(f64::MIN, f64::max))
            }
        }
    }

    /// The time up to which a solver may step from `t_s` without losing sight
    /// of the air: the next kink, or an hour on a curve.
    #[must_use]
    pub(super) fn smooth_until(&self, t_s: f64) -> f64 {
        match self {
            Self::Steady(_) => f64::INFINITY,
            Self::DayNight { .. } => t_s + 3600.0,
            Self::Readings(readings) => {
                // A step that ends on a kink must not find it ahead again.
                let next = readings.0.partition_point(|r| r.0 <= t_s + 1e-6);
                readings.0.get(next).map_or(f64::INFINITY, |r| r.0)
            }
        }
    }
}

/// The temperature at a time on straight lines between (s, K), one or more in order of time; before the
/// first and after the last it stays as it is there.
pub(crate) fn along(readings: &[(f64, f64)], t_s: f64) -> f64 {
    let next = readings.partition_point(|r| r.0 <= t_s);
    match (next.checked_sub(1).map(|i| readings[i]), readings.get(next)) {
        (Some(a), Some(b)) => a.1 + (b.1 - a.1) * (t_s - a.0) / (b.0 - a.0),
        (Some(last), None) => last.1,
        (None, _) => readings[0].1,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn readings_are_joined_by_lines_and_held_at_the_ends() {
        let air = Air::through(&[(0.0, 290.0), (100.0, 300.0), (300.0, 290.0)]).unwrap();
        for (t_s, k) in [(-5.0, 290.0), (50.0, 295.0), (100.0, 300.0), (200.0, 295.0), (1e6, 290.0)]
        {
            assert!((air.at(t_s) - k).abs() < 1e-9, "{t_s}");
        }
        assert!((air.slope(50.0) - 0.1).abs() < 1e-12 && (air.slope(100.0) + 0.05).abs() < 1e-12);
        assert!((air.mean_k() - 295.0).abs() < 1e-9);
        assert!((air.smooth_until(10.0) - 100.0).abs() < 1e-9);
        assert!(air.smooth_until(300.0).is_infinite());
    }

    #[test]
    fn one_reading_or_times_that_fall_are_no_profile() {
        for readings in
            [&[(0.0, 290.0)][..], &[(5.0, 290.0), (5.0, 291.0)], &[(0.0, 290.0), (9.0, f64::NAN)]]
        {
            assert!(Air::through(readings).is_err(), "{readings:?}");
        }
    }

    #[test]
    fn a_day_comes_round() {
        let air = Air::DayNight { mean_k: 293.0, amplitude_k: 5.0, phase_rad: 0.4 };
        assert!((air.at(0.0) - air.at(DAY_S)).abs() < 1e-9);
        let by_difference = (air.at(1001.0) - air.at(999.0)) / 2.0;
        assert!((air.slope(1000.0) - by_difference).abs() < 1e-9);
        assert_eq!(air.range_k(), (288.0, 298.0));
    }
}

//! Temperature and humidity at dated moments.

use std::sync::Arc;

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use fondant_quantities::{Temperature, TemperatureDelta};

use super::dew::{dew_point, saturation_pa};

/// The air at one moment.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct AirAt {
    /// Time of the value, UTC.
    pub at: Timestamp,
    /// Temperature.
    #[serde(rename = "t_k")]
    pub temperature: Temperature,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

/// The air over time: straight lines between moments, and before the first and
/// after the last as it is there. Cheap to copy.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "Vec<AirAt>", into = "Vec<AirAt>")]
pub struct AirSeries(Arc<[AirAt]>);

impl From<AirSeries> for Vec<AirAt> {
    fn from(series: AirSeries) -> Self {
        series.0.to_vec()
    }
}

impl TryFrom<Vec<AirAt>> for AirSeries {
    type Error = SeriesError;

    fn try_from(moments: Vec<AirAt>) -> Result<Self, SeriesError> {
        // One moment alone is steady air.
        if moments.len() == 1 { Ok(Self(moments.into())) } else { Self::new(&moments) }
    }
}

/// Moments that make no series.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SeriesError {
    /// Fewer than two.
    #[error("{found} moments make no series")]
    TooFew {
        /// Number found.
        found: usize,
    },
    /// Times that do not rise.
    #[error("moment {number} does not come after the one before it")]
    NotRising {
        /// The moment, from 1.
        number: usize,
    },
}

impl AirSeries {
    /// Through moments in order.
    ///
    /// # Errors
    /// [`SeriesError`].
    pub fn new(moments: &[AirAt]) -> Result<Self, SeriesError> {
        if moments.len() < 2 {
            return Err(SeriesError::TooFew { found: moments.len() });
        }
        if let Some(index) = (1..moments.len()).find(|i| moments[*i].at <= moments[i - 1].at) {
            return Err(SeriesError::NotRising { number: index + 1 });
        }
        Ok(Self(moments.into()))
    }

    /// Always the same.
    #[must_use]
    pub fn steady(temperature: Temperature, humidity_percent: f64) -> Self {
        Self([AirAt { at: Timestamp::UNIX_EPOCH, temperature, humidity_percent }].into())
    }

    /// Whether the temperature never changes.
    #[must_use]
    pub fn is_steady(&self) -> bool {
        self.0.iter().all(|m| (m.temperature.k() - self.0[0].temperature.k()).abs() < 1e-9)
    }

    /// Values of the series, in order of time.
    #[must_use]
    pub fn moments(&self) -> &[AirAt] {
        &self.0
    }

    /// The air at a time.
    #[must_use]
    pub fn at(&self, at: Timestamp) -> AirAt {
        let next = self.0.partition_point(|m| m.at <= at);
        let (a, b) = match (next.checked_sub(1), self.0.get(next)) {
            (Some(before), Some(after)) => (self.0[before], *after),
            (Some(last), None) => return AirAt { at, ..self.0[last] },
            (None, _) => return AirAt { at, ..self.0[0] },
        };
        let share = at.duration_since(a.at).as_secs_f64() / b.at.duration_since(a.at).as_secs_f64();
        AirAt {
            at,
            temperature: a.temperature + (b.temperature - a.temperature) * share,
            humidity_percent: a.humidity_percent
                + (b.humidity_percent - a.humidity_percent) * share,
        }
    }

    /// Dew point at a time.
    #[must_use]
    pub fn dew_point(&self, at: Timestamp) -> Temperature {
        let air = self.at(at);
        dew_point(air.temperature, air.humidity_percent)
    }

    /// The same, warmer throughout: with as much water in it, and so less humid.
    #[must_use]
    pub fn warmer(&self, by: TemperatureDelta) -> Self {
        let warmed = |m: &AirAt| {
            let temperature = m.temperature + by;
            let ratio = saturation_pa(m.temperature) / saturation_pa(temperature);
            let humidity_percent = (m.humidity_percent * ratio).min(100.0);
            AirAt { temperature, humidity_percent, ..*m }
        };
        Self(self.0.iter().map(warmed).collect())
    }

    /// The same, dried to a humidity where it is over that.
    #[must_use]
    pub fn dried_to(&self, percent: f64) -> Self {
        let dried = |m: &AirAt| AirAt { humidity_percent: m.humidity_percent.min(percent), ..*m };
        Self(self.0.iter().map(dried).collect())
    }

    /// Mean temperature between two times.
    #[must_use]
    pub fn mean(&self, from: Timestamp, to: Timestamp) -> Temperature {
        let readings = self.since(from, to);
        let area: f64 =
            readings.windows(2).map(|p| 0.5 * (p[0].1 + p[1].1) * (p[1].0 - p[0].0)).sum();
        let whole = readings[readings.len() - 1].0 - readings[0].0;
        Temperature::from_k(if whole > 0.0 { area / whole } else { readings[0].1 })
    }

    /// Lowest and highest temperature between two times.
    #[must_use]
    pub fn range(&self, from: Timestamp, to: Timestamp) -> (Temperature, Temperature) {
        let all = self.since(from, to);
        let low = all.iter().map(|r| r.1).fold(f64::INFINITY, f64::min);
        let high = all.iter().map(|r| r.1).fold(f64::NEG_INFINITY, f64::max);
        (Temperature::from_k(low), Temperature::from_k(high))
    }

    /// (Seconds from `from`, K) up to `to`, its ends included: what a column
    /// poured at `from` stands in.
    #[must_use]
    pub fn since(&self, from: Timestamp, to: Timestamp) -> Vec<(f64, f64)> {
        let mut readings = vec![(0.0, self.at(from).temperature.k())];
        let first = self.0.partition_point(|m| m.at <= from);
        for moment in self.0[first..].iter().take_while(|m| m.at < to) {
            readings.push((moment.at.duration_since(from).as_secs_f64(), moment.temperature.k()));
        }
        let end = to.max(from + SignedDuration::from_secs(1));
        readings.push((end.duration_since(from).as_secs_f64(), self.at(end).temperature.k()));
        readings
    }

    /// [`AirSeries::since`] by as few lines as keep within `close_k` of it (U.
    /// Ramer, *Computer Graphics and Image Processing* 1 (1972) 244–256, upright).
    #[must_use]
    pub fn sketched(&self, from: Timestamp, to: Timestamp, close_k: f64) -> Vec<(f64, f64)> {
        let all = self.since(from, to);
        let mut keep = vec![false; all.len()];
        keep[0] = true;
        keep[all.len() - 1] = true;
        let mut open = vec![(0, all.len() - 1)];
        while let Some((first, last)) = open.pop() {
            let (a, b) = (all[first], all[last]);
            let slope = (b.1 - a.1) / (b.0 - a.0);
            // The farthest from the line; every plan asks this of a whole season's air many times.
            let (mut worst, mut farthest) = (first, close_k);
            for (i, moment) in all.iter().enumerate().take(last).skip(first + 1) {
                let off = (a.1 + slope * (moment.0 - a.0) - moment.1).abs();
                if off > farthest {
                    (worst, farthest) = (i, off);
                }
            }
            if worst > first {
                keep[worst] = true;
                open.extend([(first, worst), (worst, last)]);
            }
        }
        all.into_iter().zip(keep).filter_map(|(moment, keep)| keep.then_some(moment)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn moment(hour: i64, celsius: f64, percent: f64) -> AirAt {
        AirAt {
            at: Timestamp::UNIX_EPOCH + SignedDuration::from_hours(hour),
            temperature: Temperature::from_celsius(celsius),
            humidity_percent: percent,
        }
    }

    #[test]
    fn lines_join_the_moments_and_the_ends_are_held() {
        let air = AirSeries::new(&[moment(0, 10.0, 40.0), moment(10, 20.0, 80.0)]).unwrap();
        let at = |h| air.at(Timestamp::UNIX_EPOCH + SignedDuration::from_hours(h));
        assert!((at(5).temperature.celsius() - 15.0).abs() < 1e-9);
        assert!((at(5).humidity_percent - 60.0).abs() < 1e-9);
        assert!((at(-3).temperature.celsius() - 10.0).abs() < 1e-9);
        assert!((at(99).temperature.celsius() - 20.0).abs() < 1e-9);
        let mean = air.mean(moment(0, 0.0, 0.0).at, moment(20, 0.0, 0.0).at);
        assert!((mean.celsius() - 17.5).abs() < 1e-9);
    }

    #[test]
    fn one_moment_or_times_that_fall_are_no_series() {
        assert_eq!(AirSeries::new(&[moment(0, 1.0, 1.0)]), Err(SeriesError::TooFew { found: 1 }));
        let falling = [moment(2, 1.0, 1.0), moment(1, 1.0, 1.0)];
        assert_eq!(AirSeries::new(&falling), Err(SeriesError::NotRising { number: 2 }));
    }
}

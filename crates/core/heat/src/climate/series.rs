//! Temperature and humidity at dated moments.

use std::sync::{Arc, OnceLock};

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use fondant_quantities::{Temperature, TemperatureDelta};

use super::dew::{dew_point, saturation_pa};
use super::sketch::Sketch;

/// The air at one moment.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct AirAt {
    /// Time of the value, UTC.
    pub at: Timestamp,
    /// Air temperature.
    #[serde(rename = "t_k")]
    pub temperature: Temperature,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

/// The air over time: straight lines between moments, and before the first and
/// after the last as it is there. Cheap to copy.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(try_from = "Vec<AirAt>", into = "Vec<AirAt>")]
pub struct AirSeries {
    moments: Arc<[AirAt]>,
    /// Drawn when it is first asked for.
    sketch: Arc<OnceLock<Sketch>>,
}

impl PartialEq for AirSeries {
    fn eq(&self, other: &Self) -> bool {
        self.moments == other.moments
    }
}

impl From<AirSeries> for Vec<AirAt> {
    fn from(series: AirSeries) -> Self {
        series.moments.to_vec()
    }
}

impl From<Arc<[AirAt]>> for AirSeries {
    fn from(moments: Arc<[AirAt]>) -> Self {
        Self { moments, sketch: Arc::default() }
    }
}

impl TryFrom<Vec<AirAt>> for AirSeries {
    type Error = SeriesError;

    fn try_from(moments: Vec<AirAt>) -> Result<Self, SeriesError> {
        // One moment alone is steady air.
        if moments.len() == 1 {
            Ok(Arc::<[AirAt]>::from(moments).into())
        } else {
            Self::new(&moments)
        }
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
        Ok(Arc::<[AirAt]>::from(moments).into())
    }

    /// Always the same.
    #[must_use]
    pub fn steady(temperature: Temperature, humidity_percent: f64) -> Self {
        let always = AirAt { at: Timestamp::UNIX_EPOCH, temperature, humidity_percent };
        Arc::<[AirAt]>::from([always]).into()
    }

    /// Whether the temperature never changes.
    #[must_use]
    pub fn is_steady(&self) -> bool {
        self.moments
            .iter()
            .all(|m| (m.temperature.k() - self.moments[0].temperature.k()).abs() < 1e-9)
    }

    /// Values of the series, in order of time.
    #[must_use]
    pub fn moments(&self) -> &[AirAt] {
        &self.moments
    }

    /// The air at a time.
    #[must_use]
    pub fn at(&self, at: Timestamp) -> AirAt {
        let all = &self.moments;
        let next = all.partition_point(|m| m.at <= at);
        let (a, b) = match (next.checked_sub(1), all.get(next)) {
            (Some(before), Some(after)) => (all[before], *after),
            (Some(last), None) => return AirAt { at, ..all[last] },
            (None, _) => return AirAt { at, ..all[0] },
        };
        let share = at.duration_since(a.at).as_secs_f64() / b.at.duration_since(a.at).as_secs_f64();
        let humidity = b.humidity_percent - a.humidity_percent;
        AirAt {
            at,
            temperature: a.temperature + (b.temperature - a.temperature) * share,
            humidity_percent: a.humidity_percent + humidity * share,
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
        if by == TemperatureDelta::from_k(0.0) {
            return self.clone();
        }
        let warmed = |m: &AirAt| {
            let temperature = m.temperature + by;
            let ratio = saturation_pa(m.temperature) / saturation_pa(temperature);
            let humidity_percent = (m.humidity_percent * ratio).min(100.0);
            AirAt { temperature, humidity_percent, ..*m }
        };
        self.moments.iter().map(warmed).collect::<Arc<[AirAt]>>().into()
    }

    /// The same, dried to a humidity where it is over that.
    #[must_use]
    pub fn dried_to(&self, percent: f64) -> Self {
        if self.moments.iter().all(|m| m.humidity_percent <= percent) {
            return self.clone();
        }
        let dried = |m: &AirAt| AirAt { humidity_percent: m.humidity_percent.min(percent), ..*m };
        self.moments.iter().map(dried).collect::<Arc<[AirAt]>>().into()
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
        let all = &self.moments;
        let mut readings = vec![(0.0, self.at(from).temperature.k())];
        let first = all.partition_point(|m| m.at <= from);
        for moment in all[first..].iter().take_while(|m| m.at < to) {
            readings.push((moment.at.duration_since(from).as_secs_f64(), moment.temperature.k()));
        }
        let end = to.max(from + SignedDuration::from_secs(1));
        readings.push((end.duration_since(from).as_secs_f64(), self.at(end).temperature.k()));
        readings
    }

    /// [`AirSeries::since`] by as few lines as keep within a tenth of a kelvin of it.
    #[must_use]
    pub fn sketched(&self, from: Timestamp, to: Timestamp) -> Vec<(f64, f64)> {
        let moments = || self.moments.iter().map(|m| (m.at, m.temperature.k()));
        self.sketch.get_or_init(|| Sketch::of(moments())).since(from, to)
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

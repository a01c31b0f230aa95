//! A room that follows the weather: warmer by an offset, late by a lag, never
//! colder than its heater's set point. `dT/dt = (T_out + offset − T) / lag`.
//! The room's air holds the water of the air outside and what is added to it.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use fondant_numerics::least_squares::{LeastSquaresError, least_squares};
use fondant_quantities::{Span, Temperature, TemperatureDelta};

use super::dew::{dew_point, saturation_pa};
use super::series::{AirAt, AirSeries};

/// Offsets that a room can have, K.
const OFFSETS_K: (f64, f64) = (-8.0, 20.0);
/// Lags that a room can have, h: a tin shed to a cellar.
const LAGS_H: (f64, f64) = (0.3, 72.0);
/// Readings needed to settle offset and lag.
pub const FEWEST_READINGS: usize = 24;
/// They must cover a night and a day, h.
pub const SHORTEST_H: f64 = 20.0;
/// A probe's standard deviation, K: the residuals' scale.
const PROBE_K: f64 = 0.3;

/// A room.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Indoor {
    /// How much warmer it is than outside.
    #[serde(rename = "offset_k")]
    pub offset: TemperatureDelta,
    /// Time by which the shop's air follows the air outside.
    #[serde(rename = "lag_s")]
    pub lag: Span,
    /// Water vapour added by people and timber, Pa.
    pub added_pa: f64,
    /// The heater keeps it at this at least.
    #[serde(rename = "set_point_k", default)]
    pub set_point: Option<Temperature>,
    /// The dehumidifier keeps it at this at most, percent.
    #[serde(default)]
    pub dry_to_percent: Option<f64>,
}

impl Default for Indoor {
    /// A brick workshop: 4 K warmer, six hours late.
    fn default() -> Self {
        Self {
            offset: TemperatureDelta::from_k(4.0),
            lag: Span::from_h(6.0),
            added_pa: 60.0,
            set_point: None,
            dry_to_percent: None,
        }
    }
}

/// A room fitted to readings.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fitted {
    /// The room.
    pub indoor: Indoor,
    /// Root mean square of what is left, K.
    pub rms_k: f64,
    /// Readings used.
    pub readings: usize,
}

/// Why no room could be fitted.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum FitError {
    /// Too few readings fall where the weather is known.
    #[error("{found} readings where the weather is known")]
    TooFew {
        /// Number of readings found.
        found: usize,
    },
    /// The readings settle nothing.
    #[error("the readings do not settle the room")]
    Unsettled,
}

impl Indoor {
    /// The air inside at each moment of the air outside. Between moments the
    /// weather stays as it was at the middle, for which the step is exact.
    #[must_use]
    pub fn follow(&self, outside: &AirSeries) -> Vec<AirAt> {
        let moments = outside.moments();
        let eased = |t: Temperature| self.set_point.map_or(t, |set| t.max(set));
        let mut inside = eased(moments[0].temperature + self.offset);
        let mut all = Vec::with_capacity(moments.len());
        for (index, moment) in moments.iter().enumerate() {
            if index > 0 {
                let before = moments[index - 1];
                let middle = before.temperature + (moment.temperature - before.temperature) * 0.5;
                let aim = middle + self.offset;
                let passed_s = moment.at.duration_since(before.at).as_secs_f64();
                inside = eased(aim + (inside - aim) * (-passed_s / self.lag.s()).exp());
            }
            all.push(AirAt {
                at: moment.at,
                temperature: inside,
                humidity_percent: self.humidity(moment, inside),
            });
        }
        all
    }

    fn humidity(&self, outside: &AirAt, inside: Temperature) -> f64 {
        let water = saturation_pa(dew_point(outside.temperature, outside.humidity_percent));
        let percent = 100.0 * (water + self.added_pa) / saturation_pa(inside);
        let dried = self.dry_to_percent.map_or(percent, |most| percent.min(most));
        dried.clamp(1.0, 100.0)
    }

    /// Offset, lag and added water that fit readings of the room best, the
    /// heater as it is set here.
    ///
    /// # Errors
    /// [`FitError`].
    pub fn fit(&self, outside: &AirSeries, readings: &[AirAt]) -> Result<Fitted, FitError> {
        let moments = outside.moments();
        let (first, last) = (moments[0].at, moments[moments.len() - 1].at);
        let within: Vec<AirAt> =
            readings.iter().filter(|r| first <= r.at && r.at <= last).copied().collect();
        let covers =
            |from: Timestamp, to: Timestamp| to.duration_since(from).as_secs_f64() / 3600.0;
        let long_enough = within.len() >= FEWEST_READINGS
            && covers(within[0].at, within[within.len() - 1].at) >= SHORTEST_H;
        if !long_enough {
            return Err(FitError::TooFew { found: within.len() });
        }
        let room = |x: &[f64]| Self {
            offset: TemperatureDelta::from_k(x[0]),
            lag: Span::from_h(x[1].exp()),
            ..*self
        };
        let residuals = |x: &[f64]| {
            let inside = AirSeries::new(&room(x).follow(outside)).ok()?;
            let left = |r: &AirAt| (inside.at(r.at).temperature - r.temperature).k() / PROBE_K;
            Some(within.iter().map(left).collect())
        };
        let bounds = [OFFSETS_K, (LAGS_H.0.ln(), LAGS_H.1.ln())];
        let start = [self.offset.k(), self.lag.h().ln()];
        let found = least_squares(&start, &bounds, residuals).map_err(|error| match error {
            LeastSquaresError::NoResiduals | LeastSquaresError::Undetermined => FitError::Unsettled,
        })?;
        let sum: f64 = found.residuals.iter().map(|r| r * r).sum();
        let indoor = room(&found.x);
        Ok(Fitted {
            indoor: Self { added_pa: indoor.water_added(outside, &within), ..indoor },
            rms_k: PROBE_K * (sum / within.len() as f64).sqrt(),
            readings: within.len(),
        })
    }

    /// The mean of the water that readings hold beyond the air outside, Pa.
    fn water_added(&self, outside: &AirSeries, readings: &[AirAt]) -> f64 {
        let added = |r: &AirAt| {
            r.humidity_percent / 100.0 * saturation_pa(r.temperature)
                - saturation_pa(outside.dew_point(r.at))
        };
        readings.iter().map(added).sum::<f64>() / readings.len() as f64
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::SignedDuration;

    fn weather(days: i64) -> AirSeries {
        let moments: Vec<AirAt> = (0..days * 24)
            .map(|hour| {
                let turn = std::f64::consts::TAU * hour as f64 / 24.0;
                let celsius = 9.0 + 6.0 * turn.sin() + 2.0 * (turn / 3.7).cos();
                AirAt {
                    at: Timestamp::UNIX_EPOCH + SignedDuration::from_hours(hour),
                    temperature: Temperature::from_celsius(celsius),
                    humidity_percent: 75.0,
                }
            })
            .collect();
        AirSeries::new(&moments).unwrap()
    }

    #[test]
    fn a_room_swings_less_and_later_than_the_weather() {
        let outside = weather(8);
        let inside = AirSeries::new(&Indoor::default().follow(&outside)).unwrap();
        let day = |d: i64| Timestamp::UNIX_EPOCH + SignedDuration::from_hours(24 * d);
        let swing = |air: &AirSeries| {
            let (low, high) = air.range(day(4), day(6));
            (high - low).k()
        };
        assert!(swing(&inside) < 0.7 * swing(&outside));
        let gain = inside.mean(day(3), day(7)) - outside.mean(day(3), day(7));
        assert!((gain.k() - 4.0).abs() < 0.4, "{}", gain.k());
    }

    #[test]
    fn a_heater_holds_its_set_point_and_dries_the_air() {
        let set = Temperature::from_celsius(18.0);
        let heated = Indoor { set_point: Some(set), ..Indoor::default() };
        let (cold, warm) = (Indoor::default().follow(&weather(4)), heated.follow(&weather(4)));
        assert!(warm.iter().all(|r| r.temperature >= set));
        assert!(warm.iter().zip(&cold).all(|(w, c)| w.humidity_percent <= c.humidity_percent));
    }

    #[test]
    fn the_fit_finds_the_room_that_made_the_readings() {
        let outside = weather(6);
        let truth = Indoor {
            offset: TemperatureDelta::from_k(6.5),
            lag: Span::from_h(9.0),
            added_pa: 140.0,
            ..Indoor::default()
        };
        let mut readings = truth.follow(&outside);
        for (index, reading) in readings.iter_mut().enumerate() {
            let noise = 0.2 * (index as f64 * 12.9898).sin();
            reading.temperature = reading.temperature + TemperatureDelta::from_k(noise);
        }
        let found = Indoor::default().fit(&outside, &readings[30..]).unwrap();
        assert!((found.indoor.offset.k() - 6.5).abs() < 0.2, "{found:?}");
        assert!((found.indoor.lag.h() - 9.0).abs() < 0.7, "{found:?}");
        assert!((found.indoor.added_pa - 140.0).abs() < 15.0, "{found:?}");
        assert!(found.rms_k < 0.25);
    }

    #[test]
    fn a_short_log_is_refused() {
        let outside = weather(3);
        let readings = Indoor::default().follow(&outside);
        let refused = Indoor::default().fit(&outside, &readings[..10]);
        assert_eq!(refused, Err(FitError::TooFew { found: 10 }));
    }
}

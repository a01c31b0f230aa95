//! The weather forecast: an open JSON document, and a simulated source of it.
//!
//! ```json
//! {"place": "Saltmarsh Lane", "issued": "2026-11-23T06:00:00Z",
//!  "hours": [{"at": "2026-11-23T00:00:00Z", "temperature_c": 8.4, "humidity_percent": 81.0}]}
//! ```
//!
//! Hours are in order, past ones too; temperatures °C, humidity percent.

use fondant_heat::climate::{AirAt, AirSeries, SeriesError};
use fondant_quantities::Temperature;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Hours of weather that lie behind: enough to fit a room to.
const PAST: SignedDuration = SignedDuration::from_hours(10 * 24);
/// Hours that lie ahead.
const AHEAD: SignedDuration = SignedDuration::from_hours(28 * 24);
/// Most hours that are read.
const MOST_HOURS: usize = 10_000;

/// A forecast as it travels.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Forecast {
    /// What place it is for.
    pub place: String,
    /// Time of issue, UTC.
    pub issued: Timestamp,
    /// By the hour, in order.
    pub hours: Vec<Hour>,
}

/// One hour of weather.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Hour {
    /// Time of the value, UTC.
    pub at: Timestamp,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

/// Why a document is not a forecast.
#[derive(Debug, thiserror::Error)]
pub enum ForecastError {
    /// The source does not answer.
    #[error("the forecast source does not answer")]
    Silent,
    /// It is not the document that it should be.
    #[error("the forecast cannot be read: {0}")]
    Unreadable(#[from] serde_json::Error),
    /// Its hours make no series.
    #[error("the forecast makes no sense: {0}")]
    Series(#[from] SeriesError),
    /// No weather on earth is that.
    #[error("the forecast says {figure} at {at}")]
    Impossible {
        /// Time of the value, UTC.
        at: Timestamp,
        /// The figure with its unit.
        figure: String,
    },
}

/// Something that gives forecasts.
pub trait ForecastSource: Send + Sync {
    /// The document as it stands now.
    ///
    /// # Errors
    /// [`ForecastError::Silent`].
    fn document(&self, now: Timestamp) -> Result<String, ForecastError>;
}

/// Reads a document.
///
/// # Errors
/// [`ForecastError`].
pub fn read(document: &str) -> Result<AirSeries, ForecastError> {
    let forecast: Forecast = serde_json::from_str(document)?;
    let mut moments = Vec::with_capacity(forecast.hours.len());
    for hour in forecast.hours.iter().take(MOST_HOURS) {
        let impossible = |figure: String| ForecastError::Impossible { at: hour.at, figure };
        if !(-60.0..=60.0).contains(&hour.temperature_c) {
            return Err(impossible(format!("{} °C", hour.temperature_c)));
        }
        if !(0.0..=100.0).contains(&hour.humidity_percent) {
            return Err(impossible(format!("{} % humidity", hour.humidity_percent)));
        }
        moments.push(AirAt {
            at: hour.at,
            temperature: Temperature::from_celsius(hour.temperature_c),
            humidity_percent: hour.humidity_percent,
        });
    }
    Ok(AirSeries::new(&moments)?)
}

/// How a simulated source behaves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Behaviour {
    /// Correct answers.
    #[default]
    Good,
    /// The service does not answer.
    Silent,
    /// Its clock jumps back in the middle.
    Jumps,
    /// It lies by orders of magnitude.
    Lies,
}

/// Weather made up from the date alone: the same day has the same weather
/// whenever it is asked for.
#[derive(Debug, Clone)]
pub struct SimulatedForecast {
    /// What place it is for.
    pub place: String,
    /// Mean of the year, °C.
    pub mean_c: f64,
    /// Simulated behaviour of the service.
    pub behaviour: Behaviour,
}

impl SimulatedForecast {
    /// A mild coast.
    #[must_use]
    pub fn coast() -> Self {
        Self { place: "Saltmarsh Lane".into(), mean_c: 14.5, behaviour: Behaviour::Good }
    }

    /// The weather of an hour: a year, fronts of some days, a day.
    fn hour(&self, at: Timestamp) -> Hour {
        let hours = at.as_second() as f64 / 3600.0;
        let turn = |period_h: f64| std::f64::consts::TAU * hours / period_h;
        let year = -4.5 * (turn(365.25 * 24.0) - 0.35).cos();
        let front = 2.2 * (turn(101.0)).sin() + 1.4 * (turn(61.0) + 1.0).sin();
        let clear = 0.5 + 0.5 * (turn(87.0) + 0.5).sin();
        let day = -(2.0 + 2.5 * clear) * (turn(24.0) + 0.5).cos();
        let humidity = 76.0 - 3.2 * day + 7.0 * (turn(73.0)).sin() - 4.0 * clear;
        Hour {
            at,
            temperature_c: ((self.mean_c + year + front + day) * 10.0).round() / 10.0,
            humidity_percent: humidity.clamp(30.0, 99.0).round(),
        }
    }
}

impl ForecastSource for SimulatedForecast {
    fn document(&self, now: Timestamp) -> Result<String, ForecastError> {
        let whole = Timestamp::from_second(now.as_second().div_euclid(3600) * 3600).unwrap_or(now);
        let (mut at, end) = (whole - PAST, whole + AHEAD);
        let mut hours = Vec::new();
        while at <= end {
            hours.push(self.hour(at));
            at += SignedDuration::from_hours(1);
        }
        match self.behaviour {
            Behaviour::Good => {}
            Behaviour::Silent => return Err(ForecastError::Silent),
            Behaviour::Jumps => hours.swap(20, 40),
            Behaviour::Lies => hours[30].temperature_c = 900.0,
        }
        let forecast = Forecast { place: self.place.clone(), issued: whole, hours };
        Ok(serde_json::to_string(&forecast)?)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn now() -> Timestamp {
        "2026-11-23T09:20:00Z".parse().unwrap()
    }

    #[test]
    fn the_weather_is_the_same_whenever_it_is_asked_for() {
        let source = SimulatedForecast::coast();
        let first = read(&source.document(now()).unwrap()).unwrap();
        let later = now() + SignedDuration::from_hours(30);
        let second = read(&source.document(later).unwrap()).unwrap();
        let at = now() + SignedDuration::from_hours(50);
        assert!((first.at(at).temperature - second.at(at).temperature).k().abs() < 1e-9);
    }

    #[test]
    fn a_november_on_the_coast_is_cold_by_night_and_damp() {
        let air = read(&SimulatedForecast::coast().document(now()).unwrap()).unwrap();
        let (low, high) = air.range(now(), now() + SignedDuration::from_hours(14 * 24));
        assert!((2.0..11.0).contains(&low.celsius()), "{}", low.celsius());
        assert!((12.0..24.0).contains(&high.celsius()), "{}", high.celsius());
    }

    #[test]
    fn a_source_that_misbehaves_is_found_out() {
        let with = |behaviour| SimulatedForecast { behaviour, ..SimulatedForecast::coast() };
        assert!(matches!(with(Behaviour::Silent).document(now()), Err(ForecastError::Silent)));
        let jumps = with(Behaviour::Jumps).document(now()).unwrap();
        assert!(matches!(read(&jumps), Err(ForecastError::Series(_))));
        let lies = with(Behaviour::Lies).document(now()).unwrap();
        assert!(matches!(read(&lies), Err(ForecastError::Impossible { .. })));
        assert!(matches!(read("{}"), Err(ForecastError::Unreadable(_))));
    }
}

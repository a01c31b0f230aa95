//! What a shop knows of its air, made into a dated series.

use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use fondant_quantities::Temperature;

use super::indoor::Indoor;
use super::series::{AirAt, AirSeries, SeriesError};

/// Spacing of the moments of a series.
const STEP: SignedDuration = SignedDuration::from_hours(1);
/// Between readings further apart than this, the usual day is taken.
const GAP: SignedDuration = SignedDuration::from_hours(3);
const DAY_S: f64 = 86_400.0;

/// The air of the shop, as its maker knows it: the way that counts, and the figures of every way,
/// so that trying another one loses nothing.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(from = "Kept")]
pub struct Profile {
    /// The way that counts.
    pub by: Way,
    /// Figures of a steady air.
    pub constant: Constant,
    /// Figures of a day and a night.
    pub day_night: DayNight,
    /// Points of a day that repeats, in order of the clock.
    pub points: Vec<ClockPoint>,
    /// The room that the weather is followed through.
    pub indoor: Indoor,
}

/// A way of knowing the shop's air.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Way {
    /// Always the same.
    #[default]
    Constant,
    /// A sine between night and day.
    DayNight,
    /// Points of a day that repeats.
    Points,
    /// What the shop's logger wrote; beyond it, its usual day.
    Logged,
    /// The weather forecast, through the room.
    Forecast,
}

/// Air that is always the same.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Constant {
    /// Air temperature.
    #[serde(rename = "t_k")]
    pub temperature: Temperature,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

impl Default for Constant {
    fn default() -> Self {
        Self { temperature: Temperature::from_celsius(20.0), humidity_percent: 50.0 }
    }
}

/// Air between a night and a day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct DayNight {
    /// The coldest of the night.
    #[serde(rename = "coldest_k")]
    pub coldest: Temperature,
    /// The warmest of the day.
    #[serde(rename = "warmest_k")]
    pub warmest: Temperature,
    /// When it is warmest, on the shop's clock.
    pub warmest_at: Time,
    /// Relative humidity at the mean temperature, percent: it falls as the room warms, as the
    /// water in the air stays the same.
    pub humidity_percent: f64,
}

impl Default for DayNight {
    fn default() -> Self {
        Self {
            coldest: Temperature::from_celsius(16.0),
            warmest: Temperature::from_celsius(21.0),
            warmest_at: Time::constant(15, 0, 0, 0),
            humidity_percent: 55.0,
        }
    }
}

/// A profile as it is kept now, and as it once was: the figures of one way alone.
#[derive(Deserialize)]
#[serde(untagged)]
enum Kept {
    All {
        by: Way,
        #[serde(default)]
        constant: Constant,
        #[serde(default)]
        day_night: DayNight,
        #[serde(default)]
        points: Vec<ClockPoint>,
        #[serde(default)]
        indoor: Indoor,
    },
    One(OneWay),
}

#[derive(Deserialize)]
#[serde(rename_all = "snake_case", tag = "kind")]
enum OneWay {
    Constant(Constant),
    DayNight(DayNight),
    Points { points: Vec<ClockPoint> },
    Logged,
    Forecast { indoor: Indoor },
}

impl From<Kept> for Profile {
    fn from(kept: Kept) -> Self {
        let (usual, one) = match kept {
            Kept::All { by, constant, day_night, points, indoor } => {
                return Self { by, constant, day_night, points, indoor };
            }
            Kept::One(one) => (Self::default(), one),
        };
        match one {
            OneWay::Constant(constant) => Self { by: Way::Constant, constant, ..usual },
            OneWay::DayNight(day_night) => Self { by: Way::DayNight, day_night, ..usual },
            OneWay::Points { points } => Self { by: Way::Points, points, ..usual },
            OneWay::Logged => Self { by: Way::Logged, ..usual },
            OneWay::Forecast { indoor } => Self { by: Way::Forecast, indoor, ..usual },
        }
    }
}

/// The air at one time of every day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ClockPoint {
    /// On the shop's clock.
    pub time: Time,
    /// Air temperature.
    #[serde(rename = "t_k")]
    pub temperature: Temperature,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

/// Why a profile makes no series.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ProfileError {
    /// Fewer than two points.
    #[error("{found} points make no day")]
    TooFewPoints {
        /// Number found.
        found: usize,
    },
    /// Points out of order, or two at the same time.
    #[error("the point at {time} does not come after the one before it")]
    OutOfOrder {
        /// The point.
        time: Time,
    },
    /// The night is warmer than the day.
    #[error("the night is warmer than the day")]
    NightWarmerThanDay,
    /// The shop has no log of its air.
    #[error("there is no log")]
    NoLog,
    /// The shop has no forecast.
    #[error("there is no forecast")]
    NoForecast,
    /// Moments that make no series.
    #[error(transparent)]
    Series(#[from] SeriesError),
}

/// What was measured and what is forecast, for the profiles that need it.
#[derive(Debug, Clone, Copy, Default)]
pub struct Known<'a> {
    /// The shop's own readings, in order.
    pub readings: &'a [AirAt],
    /// The weather, past and to come.
    pub outside: Option<&'a AirSeries>,
}

impl Profile {
    /// Air that is always the same.
    #[must_use]
    pub fn constant(temperature: Temperature, humidity_percent: f64) -> Self {
        let constant = Constant { temperature, humidity_percent };
        Self { constant, ..Self::default() }
    }

    /// Whether time brings other air than was expected: readings, forecasts.
    #[must_use]
    pub const fn is_read(&self) -> bool {
        matches!(self.by, Way::Logged | Way::Forecast)
    }

    /// What is wrong with it before any reading or forecast is asked for.
    ///
    /// # Errors
    /// [`ProfileError`].
    pub fn check(&self) -> Result<(), ProfileError> {
        let DayNight { coldest, warmest, .. } = self.day_night;
        let points = &self.points;
        match self.by {
            Way::DayNight if coldest > warmest => Err(ProfileError::NightWarmerThanDay),
            Way::Points if points.len() < 2 => {
                Err(ProfileError::TooFewPoints { found: points.len() })
            }
            Way::Points => match points.windows(2).find(|p| p[1].time <= p[0].time) {
                Some(pair) => Err(ProfileError::OutOfOrder { time: pair[1].time }),
                None => Ok(()),
            },
            _ => Ok(()),
        }
    }

    /// The air from a time to another, on the shop's clock.
    ///
    /// # Errors
    /// [`ProfileError`].
    pub fn series(
        &self,
        zone: &TimeZone,
        from: Timestamp,
        to: Timestamp,
        known: Known<'_>,
    ) -> Result<AirSeries, ProfileError> {
        self.check()?;
        let clock_s = |at: Timestamp| second_of_day(at, zone);
        Ok(match self.by {
            Way::Constant => {
                AirSeries::steady(self.constant.temperature, self.constant.humidity_percent)
            }
            Way::DayNight => sampled(from, to, |at| self.day_night.at_second(clock_s(at)))?,
            Way::Points => {
                let day: Vec<DayPoint> = self.points.iter().map(DayPoint::from).collect();
                sampled(from, to, |at| around_the_clock(&day, clock_s(at)))?
            }
            Way::Logged => {
                let day = usual_day(known.readings, zone).ok_or(ProfileError::NoLog)?;
                sampled(from, to, |at| {
                    measured(known.readings, at)
                        .unwrap_or_else(|| around_the_clock(&day, clock_s(at)))
                })?
            }
            Way::Forecast => {
                let outside = known.outside.ok_or(ProfileError::NoForecast)?;
                AirSeries::new(&self.indoor.follow(outside))?
            }
        })
    }
}

impl DayNight {
    fn at_second(&self, clock_s: f64) -> (Temperature, f64) {
        let amplitude = (self.warmest - self.coldest) * 0.5;
        let mean = self.coldest + amplitude;
        let water = self.humidity_percent / 100.0 * super::dew::saturation_pa(mean);
        let turn = std::f64::consts::TAU * (clock_s - seconds(self.warmest_at)) / DAY_S;
        let temperature = mean + amplitude * turn.cos();
        let percent = 100.0 * water / super::dew::saturation_pa(temperature);
        (temperature, percent.clamp(1.0, 100.0))
    }
}

/// The air at a second of the day.
struct DayPoint {
    second: f64,
    temperature: Temperature,
    humidity_percent: f64,
}

impl From<&ClockPoint> for DayPoint {
    fn from(point: &ClockPoint) -> Self {
        Self {
            second: seconds(point.time),
            temperature: point.temperature,
            humidity_percent: point.humidity_percent,
        }
    }
}

fn seconds(time: Time) -> f64 {
    f64::from(time.hour()) * 3600.0 + f64::from(time.minute()) * 60.0 + f64::from(time.second())
}

fn second_of_day(at: Timestamp, zone: &TimeZone) -> f64 {
    seconds(at.to_zoned_datetime(zone.clone()).time())
}

fn sampled(
    from: Timestamp,
    to: Timestamp,
    air: impl Fn(Timestamp) -> (Temperature, f64),
) -> Result<AirSeries, SeriesError> {
    let mut moments = Vec::new();
    let mut at = from;
    loop {
        let (temperature, humidity_percent) = air(at);
        moments.push(AirAt { at, temperature, humidity_percent });
        if at >= to {
            return AirSeries::new(&moments);
        }
        at += STEP;
    }
}

/// Straight lines between the points of a day, over midnight too.
fn around_the_clock(day: &[DayPoint], second: f64) -> (Temperature, f64) {
    let next = day.partition_point(|p| p.second <= second);
    let (a, a_s) = match next.checked_sub(1) {
        Some(index) => (&day[index], day[index].second),
        None => (&day[day.len() - 1], day[day.len() - 1].second - DAY_S),
    };
    let (b, b_s) = match day.get(next) {
        Some(point) => (point, point.second),
        None => (&day[0], day[0].second + DAY_S),
    };
    let share = if b_s > a_s { (second - a_s) / (b_s - a_s) } else { 0.0 };
    (
        a.temperature + (b.temperature - a.temperature) * share,
        a.humidity_percent + (b.humidity_percent - a.humidity_percent) * share,
    )
}

/// What was measured at a time, where readings stand close on both sides.
fn measured(readings: &[AirAt], at: Timestamp) -> Option<(Temperature, f64)> {
    let next = readings.partition_point(|r| r.at <= at);
    let (a, b) = (readings.get(next.checked_sub(1)?)?, readings.get(next)?);
    let apart = b.at.duration_since(a.at);
    if apart > GAP {
        return None;
    }
    let share = at.duration_since(a.at).as_secs_f64() / apart.as_secs_f64();
    Some((
        a.temperature + (b.temperature - a.temperature) * share,
        a.humidity_percent + (b.humidity_percent - a.humidity_percent) * share,
    ))
}

/// The mean of the readings by the hour of the clock.
fn usual_day(readings: &[AirAt], zone: &TimeZone) -> Option<Vec<DayPoint>> {
    let mut sums = [(0.0, 0.0, 0.0); 24];
    for reading in readings {
        let hour = (second_of_day(reading.at, zone) / 3600.0) as usize;
        let sum = &mut sums[hour.min(23)];
        sum.0 += 1.0;
        sum.1 += reading.temperature.k();
        sum.2 += reading.humidity_percent;
    }
    let day: Vec<DayPoint> = sums
        .iter()
        .enumerate()
        .filter(|(_, (count, _, _))| *count > 0.0)
        .map(|(hour, (count, k, percent))| DayPoint {
            second: hour as f64 * 3600.0 + 1800.0,
            temperature: Temperature::from_k(k / count),
            humidity_percent: percent / count,
        })
        .collect();
    (!day.is_empty()).then_some(day)
}

#[cfg(test)]
mod tests;

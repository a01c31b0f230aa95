//! What a shop knows of its air, made into a dated series.

use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use fondant_quantities::Temperature;

use super::indoor::Indoor;
use super::series::{AirAt, AirSeries, SeriesError};

/// A series has a moment every so often.
const STEP: SignedDuration = SignedDuration::from_hours(1);
/// Between readings further apart than this, the usual day is taken.
const GAP: SignedDuration = SignedDuration::from_hours(3);
const DAY_S: f64 = 86_400.0;

/// The air of the shop, as its maker knows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum Profile {
    /// Always the same.
    Constant {
        /// Temperature.
        #[serde(rename = "t_k")]
        temperature: Temperature,
        /// Relative humidity, percent.
        humidity_percent: f64,
    },
    /// A sine between night and day.
    DayNight {
        /// The coldest of the night.
        #[serde(rename = "coldest_k")]
        coldest: Temperature,
        /// The warmest of the day.
        #[serde(rename = "warmest_k")]
        warmest: Temperature,
        /// When it is warmest, on the shop's clock.
        warmest_at: Time,
        /// Relative humidity at the mean temperature, percent: it falls as the
        /// room warms, as the water in the air stays the same.
        humidity_percent: f64,
    },
    /// Points of a day that repeats.
    Points {
        /// In order of the clock.
        points: Vec<ClockPoint>,
    },
    /// What the shop's logger wrote; beyond it, its usual day.
    Logged,
    /// The weather forecast, through the room.
    Forecast {
        /// The room.
        indoor: Indoor,
    },
}

/// The air at one time of every day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ClockPoint {
    /// On the shop's clock.
    pub time: Time,
    /// Temperature.
    #[serde(rename = "t_k")]
    pub temperature: Temperature,
    /// Relative humidity, percent.
    pub humidity_percent: f64,
}

/// Why a profile makes no series.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ProfileError {
    /// Fewer than two points.
    #[error(
        "The air of a day needs two points at least; there is {found}. Add another, such as the coldest of the night."
    )]
    TooFewPoints {
        /// How many there are.
        found: usize,
    },
    /// Points out of order, or two at the same time.
    #[error(
        "The point at {time} does not come after the one before it. Put the points in the order of the clock."
    )]
    OutOfOrder {
        /// The point.
        time: Time,
    },
    /// The night is warmer than the day.
    #[error("The coldest of the night is warmer than the warmest of the day. Exchange the two.")]
    NightWarmerThanDay,
    /// There is no log.
    #[error(
        "No log of the shop's air has been brought in yet. Bring one in below, or choose another way."
    )]
    NoLog,
    /// There is no forecast.
    #[error(
        "The forecast cannot be reached. The air stays as it was last known; choose another way if that lasts."
    )]
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

impl Default for Profile {
    fn default() -> Self {
        Self::Constant { temperature: Temperature::from_celsius(20.0), humidity_percent: 50.0 }
    }
}

impl Profile {
    /// Whether time brings other air than was expected: readings, forecasts.
    #[must_use]
    pub const fn is_read(&self) -> bool {
        matches!(self, Self::Logged | Self::Forecast { .. })
    }

    /// What is wrong with it before any reading or forecast is asked for.
    ///
    /// # Errors
    /// [`ProfileError`].
    pub fn check(&self) -> Result<(), ProfileError> {
        match self {
            Self::DayNight { coldest, warmest, .. } if coldest > warmest => {
                Err(ProfileError::NightWarmerThanDay)
            }
            Self::Points { points } if points.len() < 2 => {
                Err(ProfileError::TooFewPoints { found: points.len() })
            }
            Self::Points { points } => match points.windows(2).find(|p| p[1].time <= p[0].time) {
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
        Ok(match self {
            Self::Constant { temperature, humidity_percent } => {
                AirSeries::steady(*temperature, *humidity_percent)
            }
            Self::DayNight { coldest, warmest, warmest_at, humidity_percent } => {
                let amplitude = (*warmest - *coldest) * 0.5;
                let mean = *coldest + amplitude;
                let water = humidity_percent / 100.0 * super::dew::saturation_pa(mean);
                let peak_s = seconds(*warmest_at);
                sampled(from, to, |at| {
                    let turn = std::f64::consts::TAU * (clock_s(at) - peak_s) / DAY_S;
                    let temperature = mean + amplitude * turn.cos();
                    let percent = 100.0 * water / super::dew::saturation_pa(temperature);
                    (temperature, percent.clamp(1.0, 100.0))
                })?
            }
            Self::Points { points } => {
                let day: Vec<DayPoint> = points.iter().map(DayPoint::from).collect();
                sampled(from, to, |at| around_the_clock(&day, clock_s(at)))?
            }
            Self::Logged => {
                let day = usual_day(known.readings, zone).ok_or(ProfileError::NoLog)?;
                sampled(from, to, |at| {
                    measured(known.readings, at)
                        .unwrap_or_else(|| around_the_clock(&day, clock_s(at)))
                })?
            }
            Self::Forecast { indoor } => {
                let outside = known.outside.ok_or(ProfileError::NoForecast)?;
                AirSeries::new(&indoor.follow(outside))?
            }
        })
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
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn lisbon() -> TimeZone {
        TimeZone::get("Europe/Lisbon").unwrap()
    }

    fn at(text: &str) -> Timestamp {
        text.parse().unwrap()
    }

    fn c(celsius: f64) -> Temperature {
        Temperature::from_celsius(celsius)
    }

    fn point(hour: i8, celsius: f64) -> ClockPoint {
        ClockPoint {
            time: Time::constant(hour, 0, 0, 0),
            temperature: c(celsius),
            humidity_percent: 60.0,
        }
    }

    #[test]
    fn the_day_is_warmest_by_the_shops_clock_also_across_a_clock_change() {
        let profile = Profile::DayNight {
            coldest: c(14.0),
            warmest: c(22.0),
            warmest_at: Time::constant(15, 0, 0, 0),
            humidity_percent: 55.0,
        };
        // Clocks go back on 25 October 2026: 15:00 is 14:00 UTC before, 15:00 UTC after.
        let (from, to) = (at("2026-10-23T00:00:00Z"), at("2026-10-28T00:00:00Z"));
        let air = profile.series(&lisbon(), from, to, Known::default()).unwrap();
        for moment in ["2026-10-24T14:00:00Z", "2026-10-26T15:00:00Z"] {
            assert!((air.at(at(moment)).temperature.celsius() - 22.0).abs() < 1e-6, "{moment}");
        }
        let (cold, warm) = (air.at(at("2026-10-26T03:00:00Z")), air.at(at("2026-10-26T15:00:00Z")));
        assert!(cold.humidity_percent > warm.humidity_percent + 15.0);
    }

    #[test]
    fn points_run_over_midnight() {
        let profile = Profile::Points { points: vec![point(6, 12.0), point(18, 24.0)] };
        let (from, to) = (at("2026-12-01T00:00:00Z"), at("2026-12-02T00:00:00Z"));
        let air = profile.series(&TimeZone::UTC, from, to, Known::default()).unwrap();
        assert!((air.at(from).temperature.celsius() - 18.0).abs() < 1e-9);
        assert!((air.at(at("2026-12-01T12:00:00Z")).temperature.celsius() - 18.0).abs() < 1e-9);
    }

    #[test]
    fn what_is_no_profile_is_refused_in_words() {
        let one = Profile::Points { points: vec![point(6, 12.0)] };
        assert_eq!(one.check(), Err(ProfileError::TooFewPoints { found: 1 }));
        let back = Profile::Points { points: vec![point(6, 12.0), point(5, 12.0)] };
        assert!(matches!(back.check(), Err(ProfileError::OutOfOrder { .. })));
        let (from, to) = (at("2026-12-01T00:00:00Z"), at("2026-12-02T00:00:00Z"));
        let none = Profile::Logged.series(&TimeZone::UTC, from, to, Known::default());
        assert_eq!(none, Err(ProfileError::NoLog));
    }

    #[test]
    fn a_log_with_a_gap_is_filled_with_its_usual_day() {
        let start = at("2026-12-01T00:00:00Z");
        let readings: Vec<AirAt> = (0..72)
            .filter(|hour| !(30..42).contains(hour))
            .map(|hour| AirAt {
                at: start + SignedDuration::from_hours(hour),
                temperature: c(if hour % 24 < 12 { 15.0 } else { 21.0 }),
                humidity_percent: 60.0,
            })
            .collect();
        let known = Known { readings: &readings, outside: None };
        let to = at("2026-12-06T00:00:00Z");
        let air = Profile::Logged.series(&TimeZone::UTC, start, to, known).unwrap();
        let in_gap = air.at(at("2026-12-02T09:00:00Z")).temperature.celsius();
        assert!((in_gap - 15.0).abs() < 0.01, "a straight line over the gap would be 18: {in_gap}");
        assert!((air.at(at("2026-12-05T20:00:00Z")).temperature.celsius() - 21.0).abs() < 0.01);
    }

    proptest! {
        #[test]
        fn any_day_of_points_stays_within_its_points(
            celsius in proptest::collection::vec(5.0f64..35.0, 2..8),
            hours in 0i64..200,
        ) {
            let points: Vec<ClockPoint> =
                celsius.iter().enumerate().map(|(i, t)| point(i as i8 * 3, *t)).collect();
            let from = at("2026-12-01T00:00:00Z");
            let air = Profile::Points { points }
                .series(&lisbon(), from, from + SignedDuration::from_hours(240), Known::default())
                .unwrap();
            let found = air.at(from + SignedDuration::from_hours(hours)).temperature.celsius();
            let low = celsius.iter().copied().fold(f64::MAX, f64::min);
            let high = celsius.iter().copied().fold(f64::MIN, f64::max);
            prop_assert!(low - 1e-9 <= found && found <= high + 1e-9);
        }
    }
}

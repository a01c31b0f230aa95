//! Air that spoils a wet surface. Amine at the surface meets water and carbon
//! dioxide and turns to a greasy film, blush; a cold night stops the cure; air
//! that falls fast draws damp onto what is still warm.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use fondant_quantities::{Temperature, TemperatureDelta};

use super::dew::dew_point;
use super::series::AirSeries;

/// A surface this close to the dew point is damp in places.
pub const DEW_MARGIN: TemperatureDelta = TemperatureDelta::from_k(3.0);
/// A fall of the air temperature by this within [`DROP_WITHIN`] is a sudden drop.
pub const DROP: TemperatureDelta = TemperatureDelta::from_k(5.0);
/// See [`DROP`].
pub const DROP_WITHIN: SignedDuration = SignedDuration::from_hours(3);
/// Sampling interval of the air over a plan.
const STEP: SignedDuration = SignedDuration::from_mins(30);

/// What the resin stands, and what the shop lets pass.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirLimits {
    /// Coldest air for curing.
    pub coldest: Temperature,
    /// Warmest air for curing.
    pub warmest: Temperature,
    /// From this humidity on, care is taken, percent.
    pub humidity_care_percent: f64,
    /// From this humidity on, nothing is poured, percent.
    pub humidity_stop_percent: f64,
}

impl AirLimits {
    /// What both stand.
    #[must_use]
    pub fn strictest(self, other: Self) -> Self {
        Self {
            coldest: self.coldest.max(other.coldest),
            warmest: if other.warmest < self.warmest { other.warmest } else { self.warmest },
            humidity_care_percent: self.humidity_care_percent.min(other.humidity_care_percent),
            humidity_stop_percent: self.humidity_stop_percent.min(other.humidity_stop_percent),
        }
    }
}

/// Kind of trouble with the air.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum TroubleKind {
    /// The surface is within 3 K of the dew point.
    Dew,
    /// Too humid to pour.
    TooHumid,
    /// Humid enough for care.
    Humid,
    /// Colder than the resin may cure in.
    Cold,
    /// Warmer than the resin may cure in.
    Warm,
    /// The air falls fast.
    Drop,
}

/// Trouble over a stretch of time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Trouble {
    /// Kind of trouble.
    pub kind: TroubleKind,
    /// Start, UTC.
    pub from: Timestamp,
    /// End, UTC.
    pub to: Timestamp,
    /// The worst of it: kelvins above the dew point, percent, kelvins of the
    /// air, or kelvins fallen.
    pub worst: f64,
}

impl TroubleKind {
    const ALL: [Self; 6] =
        [Self::Dew, Self::TooHumid, Self::Humid, Self::Cold, Self::Warm, Self::Drop];

    /// Which of two figures is the worse.
    fn worse(self, a: f64, b: f64) -> f64 {
        match self {
            Self::Dew | Self::Cold => a.min(b),
            Self::TooHumid | Self::Humid | Self::Warm | Self::Drop => a.max(b),
        }
    }
}

/// Trouble between two times, each kind in stretches, in order of time.
/// `surface` is the temperature of the resin's surface; where it is `None`, the
/// surface is as warm as the air.
#[must_use]
pub fn troubles(
    air: &AirSeries,
    limits: &AirLimits,
    surface: impl Fn(Timestamp) -> Option<Temperature>,
    from: Timestamp,
    to: Timestamp,
) -> Vec<Trouble> {
    let mut all: Vec<Trouble> = Vec::new();
    let mut open: [Option<Trouble>; 6] = [None; 6];
    let mut at = from;
    while at <= to {
        for (kind, open) in TroubleKind::ALL.into_iter().zip(&mut open) {
            let end = (at + STEP).min(to);
            match (figure(kind, air, limits, &surface, at), open.as_mut()) {
                (Some(figure), Some(trouble)) => {
                    trouble.to = end;
                    trouble.worst = kind.worse(trouble.worst, figure);
                }
                (Some(figure), None) => {
                    *open = Some(Trouble { kind, from: at, to: end, worst: figure });
                }
                (None, _) => all.extend(open.take()),
            }
        }
        at += STEP;
    }
    all.extend(open.into_iter().flatten());
    all.sort_by_key(|trouble| (trouble.from, trouble.kind));
    all
}

/// What forbids a pour at a moment, with its figure: humidity at the shop's stop, a surface within
/// the margin of the dew point, air colder than the resin cures in.
#[must_use]
pub fn forbidden(
    air: &AirSeries,
    limits: &AirLimits,
    surface: Temperature,
    at: Timestamp,
) -> Option<(TroubleKind, f64)> {
    [TroubleKind::TooHumid, TroubleKind::Dew, TroubleKind::Cold].into_iter().find_map(|kind| {
        figure(kind, air, limits, &|_| Some(surface), at).map(|figure| (kind, figure))
    })
}

/// The figure by which a trouble is told, where there is one.
fn figure(
    kind: TroubleKind,
    air: &AirSeries,
    limits: &AirLimits,
    surface: &impl Fn(Timestamp) -> Option<Temperature>,
    at: Timestamp,
) -> Option<f64> {
    let now = air.at(at);
    let humidity = now.humidity_percent;
    match kind {
        TroubleKind::Dew => {
            let skin = surface(at).unwrap_or(now.temperature);
            let above = skin - dew_point(now.temperature, humidity);
            (above < DEW_MARGIN).then(|| above.k())
        }
        TroubleKind::TooHumid => (humidity >= limits.humidity_stop_percent).then_some(humidity),
        TroubleKind::Humid => (limits.humidity_care_percent..limits.humidity_stop_percent)
            .contains(&humidity)
            .then_some(humidity),
        TroubleKind::Cold => (now.temperature < limits.coldest).then(|| now.temperature.k()),
        TroubleKind::Warm => (now.temperature > limits.warmest).then(|| now.temperature.k()),
        TroubleKind::Drop => {
            let fall = air.at(at - DROP_WITHIN).temperature - now.temperature;
            (fall >= DROP).then(|| fall.k())
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::series::AirAt;
    use super::*;

    fn hour(h: i64) -> Timestamp {
        Timestamp::UNIX_EPOCH + SignedDuration::from_hours(h)
    }

    fn air(moments: &[(i64, f64, f64)]) -> AirSeries {
        let moments: Vec<AirAt> = moments
            .iter()
            .map(|(h, celsius, percent)| AirAt {
                at: hour(*h),
                temperature: Temperature::from_celsius(*celsius),
                humidity_percent: *percent,
            })
            .collect();
        AirSeries::new(&moments).unwrap()
    }

    const LIMITS: AirLimits = AirLimits {
        coldest: Temperature::from_celsius(15.0),
        warmest: Temperature::from_celsius(28.0),
        humidity_care_percent: 70.0,
        humidity_stop_percent: 85.0,
    };

    fn kinds(air: &AirSeries, surface: Option<f64>) -> Vec<TroubleKind> {
        let skin = |_| surface.map(Temperature::from_celsius);
        troubles(air, &LIMITS, skin, hour(0), hour(24)).iter().map(|t| t.kind).collect()
    }

    #[test]
    fn a_steady_dry_shop_is_no_trouble() {
        assert_eq!(kinds(&air(&[(0, 20.0, 50.0), (24, 20.0, 50.0)]), None), []);
    }

    #[test]
    fn a_damp_cold_night_is_found_with_its_hours() {
        let night = air(&[(0, 20.0, 50.0), (8, 12.0, 88.0), (16, 12.0, 88.0), (24, 20.0, 50.0)]);
        let found = troubles(&night, &LIMITS, |_| None, hour(0), hour(24));
        let of = |kind| found.iter().find(|t| t.kind == kind).copied();
        let cold = of(TroubleKind::Cold).unwrap();
        assert!((cold.worst - 285.15).abs() < 0.01);
        // 15 °C is passed five hours in and again five hours before the end.
        assert!(cold.from > hour(4) && cold.from <= hour(6) && cold.to >= hour(18));
        assert!(of(TroubleKind::Dew).is_some() && of(TroubleKind::TooHumid).is_some());
        assert!(of(TroubleKind::Warm).is_none());
    }

    #[test]
    fn a_surface_warm_from_its_own_cure_does_not_sweat() {
        let damp = air(&[(0, 20.0, 84.0), (24, 20.0, 84.0)]);
        assert!(kinds(&damp, None).contains(&TroubleKind::Dew));
        assert!(!kinds(&damp, Some(26.0)).contains(&TroubleKind::Dew));
    }

    #[test]
    fn a_pour_is_forbidden_by_what_it_would_stand_in() {
        let surface = Temperature::from_celsius(20.0);
        let of = |celsius: f64, percent: f64| {
            forbidden(
                &air(&[(0, celsius, percent), (1, celsius, percent)]),
                &LIMITS,
                surface,
                hour(0),
            )
            .map(|(kind, _)| kind)
        };
        assert_eq!(of(20.0, 60.0), None);
        assert_eq!(of(20.0, 85.0), Some(TroubleKind::TooHumid));
        // 84 % at 20 °C condenses at 17.2 °C.
        assert_eq!(of(20.0, 84.0), Some(TroubleKind::Dew));
        assert_eq!(of(14.9, 60.0), Some(TroubleKind::Cold));
        // Warm air is a matter of pot life and peak.
        assert_eq!(of(31.0, 40.0), None);
    }

    #[test]
    fn a_door_left_open_is_a_sudden_drop() {
        let door = air(&[(0, 22.0, 50.0), (10, 22.0, 50.0), (12, 15.5, 60.0), (24, 15.5, 60.0)]);
        assert!(kinds(&door, None).contains(&TroubleKind::Drop));
    }
}

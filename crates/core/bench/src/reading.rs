//! Readings of instruments: what they are of, their units, and which of them cannot be.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// What an instrument reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Quantity {
    /// Kept in K.
    Temperature,
    /// Relative, kept in percent.
    Humidity,
    /// Kept in kg.
    Mass,
    /// Over the air's, kept in bar.
    Pressure,
}

/// Where an instrument reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Place {
    /// The bucket that is being mixed or poured.
    Bucket,
    /// The witness cup.
    Cup,
    /// The face of the resin in the form.
    Surface,
    /// The base of the form.
    Base,
    /// The shop's air.
    Air,
    /// The scale under the bucket.
    Scale,
    /// The gauge of the pressure pot.
    Gauge,
}

impl Place {
    /// All places.
    pub const ALL: [Self; 7] =
        [Self::Bucket, Self::Cup, Self::Surface, Self::Base, Self::Air, Self::Scale, Self::Gauge];

    /// Whether something can be read there.
    #[must_use]
    pub const fn reads(self, quantity: Quantity) -> bool {
        match self {
            Self::Bucket | Self::Cup | Self::Surface | Self::Base => {
                matches!(quantity, Quantity::Temperature)
            }
            Self::Air => matches!(quantity, Quantity::Temperature | Quantity::Humidity),
            Self::Scale => matches!(quantity, Quantity::Mass),
            Self::Gauge => matches!(quantity, Quantity::Pressure),
        }
    }
}

/// A unit that a quantity is not read in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("{quantity:?} is not read in that unit")]
pub struct UnknownUnit {
    /// Quantity of the reading.
    pub quantity: Quantity,
}

/// Bars in a pound per square inch (NIST SP 811, 2008 edition, appendix B.8).
pub const BAR_PSI: f64 = 0.068_947_572_93;

/// A figure in the unit that a quantity is kept in.
///
/// # Errors
/// [`UnknownUnit`].
pub fn kept(quantity: Quantity, value: f64, unit: &str) -> Result<f64, UnknownUnit> {
    /// NIST SP 811, 2008 edition, appendix B.8.
    const KG_LB: f64 = 0.453_592_37;
    const KG_OZ: f64 = KG_LB / 16.0;
    Ok(match (quantity, unit) {
        (Quantity::Temperature, "K") | (Quantity::Humidity, "%") => value,
        (Quantity::Temperature, "C" | "°C") => value + 273.15,
        (Quantity::Temperature, "F" | "°F") => (value - 32.0) / 1.8 + 273.15,
        (Quantity::Mass, "kg") | (Quantity::Pressure, "bar") => value,
        (Quantity::Mass, "g") => value * 1e-3,
        (Quantity::Mass, "lb") => value * KG_LB,
        (Quantity::Mass, "oz") => value * KG_OZ,
        (Quantity::Pressure, "psi") => value * BAR_PSI,
        (Quantity::Pressure, "kPa") => value * 0.01,
        _ => return Err(UnknownUnit { quantity }),
    })
}

/// Why a reading is doubted: it is shown, and nothing is worked out from it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Doubt {
    /// Outside the range of any shop.
    OutOfRange,
    /// It is further from the reading before than anything changes.
    Jumped,
    /// It has not moved by a digit for half an hour, which nothing that cures does.
    Stuck,
    /// It lies in the future.
    Ahead,
}

/// A reading with what was thought of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// Time of the reading, UTC.
    pub at: Timestamp,
    /// In the unit that its quantity is kept in.
    pub value: f64,
    /// Why it is doubted; `None` where it is not.
    pub doubt: Option<Doubt>,
}

/// Readings before a new one that are looked at.
pub const LOOKED_BACK: usize = 30;
/// A device's clock may be fast by this.
const FAST_CLOCK: SignedDuration = SignedDuration::from_mins(2);
/// Number of readings in a row on a new level after a jump, from which on they are not doubted.
const AGREEING: usize = 3;
/// Shortest time without a change by a digit for a sensor to count as stuck (convention).
const STUCK_FOR: SignedDuration = SignedDuration::from_mins(30);
/// Fewest readings within that time for a sensor to count as stuck (convention).
const STUCK_READINGS: usize = 10;

/// What is thought of a new reading at a place, by those before it, the newest last.
#[must_use]
pub fn doubt(
    (place, quantity): (Place, Quantity),
    (at, value): (Timestamp, f64),
    earlier: &[Judged],
    now: Timestamp,
) -> Option<Doubt> {
    if at > now + FAST_CLOCK {
        return Some(Doubt::Ahead);
    }
    if !is_in_range((place, quantity), value) {
        return Some(Doubt::OutOfRange);
    }
    let (slack, rate) = change(quantity);
    let near = |other: &Judged| {
        let seconds = at.duration_since(other.at).as_secs_f64().abs();
        (value - other.value).abs() <= slack + rate * seconds
    };
    if let Some(last) = earlier.iter().rev().find(|reading| reading.doubt.is_none())
        && !near(last)
    {
        let agreeing = earlier
            .iter()
            .rev()
            .take_while(|reading| reading.doubt == Some(Doubt::Jumped) && near(reading));
        if agreeing.count() + 1 < AGREEING {
            return Some(Doubt::Jumped);
        }
    }
    let can_stick = !matches!(place, Place::Air | Place::Scale | Place::Gauge);
    (can_stick && is_stuck(at, value, earlier)).then_some(Doubt::Stuck)
}

fn is_stuck(at: Timestamp, value: f64, earlier: &[Judged]) -> bool {
    let same = earlier.iter().rev().take_while(|reading| (reading.value - value).abs() < 1e-12);
    let mut count = 0;
    let mut first = at;
    for reading in same {
        (count, first) = (count + 1, reading.at);
    }
    count + 1 >= STUCK_READINGS && at.duration_since(first) >= STUCK_FOR
}

/// Whether a value, in the unit that is kept, is one that instruments read in a shop.
#[must_use]
pub fn is_in_range((place, quantity): (Place, Quantity), value: f64) -> bool {
    let (least, most) = range(place, quantity);
    (least..=most).contains(&value)
}

/// What a shop's instruments read at most and at least, in the unit that is kept (convention).
const fn range(place: Place, quantity: Quantity) -> (f64, f64) {
    match (quantity, place) {
        (Quantity::Temperature, Place::Air) => (243.15, 333.15),
        // Up to a bucket that smokes.
        (Quantity::Temperature, _) => (253.15, 523.15),
        (Quantity::Humidity, _) => (0.0, 100.0),
        (Quantity::Mass, _) => (-2.0, 200.0),
        (Quantity::Pressure, _) => (-1.02, 12.0),
    }
}

/// How far two readings may differ, and what is added for each second between them (convention:
/// several times what a bucket that runs away, a bottle that is poured or a pot that is vented does).
const fn change(quantity: Quantity) -> (f64, f64) {
    match quantity {
        Quantity::Temperature => (4.0, 0.5),
        Quantity::Humidity => (15.0, 0.5),
        Quantity::Mass => (8.0, 5.0),
        Quantity::Pressure => (1.5, 1.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(s: i64) -> Timestamp {
        Timestamp::from_second(s).unwrap()
    }

    /// Judges readings one after the other, as they come in.
    fn judge(place: Place, quantity: Quantity, readings: &[(i64, f64)]) -> Vec<Option<Doubt>> {
        let mut earlier: Vec<Judged> = Vec::new();
        for (s, value) in readings {
            let doubt = doubt((place, quantity), (at(*s), *value), &earlier, at(1_000_000));
            earlier.push(Judged { at: at(*s), value: *value, doubt });
        }
        earlier.into_iter().map(|reading| reading.doubt).collect()
    }

    #[test]
    fn units_are_turned_into_those_that_are_kept() {
        let all = [
            (Quantity::Temperature, 68.0, "F", 293.15),
            (Quantity::Temperature, 20.0, "°C", 293.15),
            (Quantity::Mass, 1252.0, "g", 1.252),
            (Quantity::Pressure, 40.0, "psi", 2.757_902_917),
            (Quantity::Humidity, 55.0, "%", 55.0),
        ];
        for (quantity, value, unit, expected) in all {
            assert!((kept(quantity, value, unit).unwrap() - expected).abs() < 1e-6, "{unit}");
        }
        assert!(
            kept(Quantity::Mass, 1.0, "C").is_err() && kept(Quantity::Humidity, 1.0, "").is_err()
        );
    }

    #[test]
    fn a_jump_is_doubted_until_it_stays() {
        let bucket = (Place::Bucket, Quantity::Temperature);
        let found = judge(bucket.0, bucket.1, &[(0, 297.0), (10, 297.4), (20, 340.0), (30, 298.0)]);
        assert_eq!(found, [None, None, Some(Doubt::Jumped), None], "one reading of something else");
        let stays = judge(bucket.0, bucket.1, &[(0, 297.0), (10, 340.0), (20, 340.2), (30, 340.1)]);
        assert_eq!(stays, [None, Some(Doubt::Jumped), Some(Doubt::Jumped), None]);
        // A bucket that runs away rises by 10 K a minute, and is not doubted.
        let runaway: Vec<(i64, f64)> =
            (0..20).map(|minute| (minute * 60, 300.0 + 10.0 * minute as f64)).collect();
        assert!(judge(bucket.0, bucket.1, &runaway).iter().all(Option::is_none));
    }

    #[test]
    fn what_no_shop_reads_and_what_is_ahead_is_marked() {
        let c = |celsius: f64| celsius + 273.15;
        let found = judge(
            Place::Bucket,
            Quantity::Temperature,
            &[(0, c(999.0)), (5, f64::NAN), (9, c(24.0))],
        );
        assert_eq!(found, [Some(Doubt::OutOfRange), Some(Doubt::OutOfRange), None]);
        assert_eq!(judge(Place::Air, Quantity::Humidity, &[(0, 104.0)]), [Some(Doubt::OutOfRange)]);
        assert_eq!(judge(Place::Scale, Quantity::Mass, &[(2_000_000, 1.0)]), [Some(Doubt::Ahead)]);
    }

    #[test]
    fn a_probe_that_sticks_is_told_and_a_scale_at_rest_is_not() {
        let same: Vec<(i64, f64)> = (0..16).map(|place| (place * 150, 301.25)).collect();
        let found = judge(Place::Cup, Quantity::Temperature, &same);
        assert_eq!(found[11], None, "27 minutes");
        assert_eq!(found[12], Some(Doubt::Stuck), "half an hour");
        let scale: Vec<(i64, f64)> = same.iter().map(|(s, _)| (*s, 1.25)).collect();
        assert!(judge(Place::Scale, Quantity::Mass, &scale).iter().all(Option::is_none));
    }

    #[test]
    fn places_read_what_they_can() {
        for place in Place::ALL {
            let any =
                [Quantity::Temperature, Quantity::Humidity, Quantity::Mass, Quantity::Pressure];
            assert!(any.iter().any(|quantity| place.reads(*quantity)), "{place:?}");
        }
        assert!(!Place::Scale.reads(Quantity::Temperature));
    }
}

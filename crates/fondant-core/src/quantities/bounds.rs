//! The range of every figure that a maker can enter. Forms, imports and the
//! plan's own check share these, and the refusal is worded from them.

use super::units::{DensityUnit, LengthUnit, ParseQuantityError, TemperatureUnit};
use super::units::{Measured, Unit, UnitSystem, exact, parse, trimmed};
use super::{Density, Length, Temperature};

/// A figure's name and the least and the most that it can be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bound<Q> {
    /// What the figure is called at the start of a sentence.
    pub what: &'static str,
    /// Least value.
    pub min: Q,
    /// Largest value.
    pub max: Q,
}

/// Why an entry was refused, in words for the person who typed it.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum EntryError {
    /// The text is no such quantity.
    #[error(transparent)]
    Unreadable(#[from] ParseQuantityError),
    /// A plain number was wanted.
    #[error("“{text}” is not a number. Type a number such as {example}.")]
    NotANumber {
        /// What was typed.
        text: String,
        /// A text that would be understood.
        example: &'static str,
    },
    /// The figure lies outside its bounds.
    #[error("{what} must be between {min} and {max}; {found} is too {}.", if *.below { "little" } else { "much" })]
    OutOfRange {
        /// The figure's name.
        what: &'static str,
        /// Least value with its unit.
        min: String,
        /// Largest value with its unit.
        max: String,
        /// The value typed, with its unit.
        found: String,
        /// Whether it lies below.
        below: bool,
    },
}

/// A quantity whose unit in a workshop follows from the workshop's system.
pub trait ShopMeasured: Measured + PartialOrd {
    /// The unit of a bare number.
    fn unit_in(system: UnitSystem) -> Self::Unit;
}

impl ShopMeasured for Length {
    fn unit_in(system: UnitSystem) -> LengthUnit {
        system.length()
    }
}
impl ShopMeasured for Temperature {
    fn unit_in(system: UnitSystem) -> TemperatureUnit {
        system.temperature()
    }
}
impl ShopMeasured for Density {
    fn unit_in(system: UnitSystem) -> DensityUnit {
        system.density()
    }
}

impl<Q: ShopMeasured> Bound<Q> {
    /// Whether the value lies within, for values that did not come as text.
    #[must_use]
    pub fn contains(&self, value: Q) -> bool {
        self.min <= value && value <= self.max
    }

    /// Reads a text and holds it to the bounds.
    ///
    /// # Errors
    /// [`EntryError`], whose text is a sentence for the field.
    pub fn read(&self, text: &str, system: UnitSystem) -> Result<Q, EntryError> {
        let value = parse::<Q>(text, Q::unit_in(system))?;
        self.check(value, system)
    }

    /// Holds a value to the bounds.
    ///
    /// # Errors
    /// [`EntryError::OutOfRange`], worded in the units given.
    pub fn check(&self, value: Q, system: UnitSystem) -> Result<Q, EntryError> {
        if self.contains(value) {
            return Ok(value);
        }
        let unit = Q::unit_in(system);
        let shown = |q: Q| format!("{} {}", trimmed(unit.write(q), 1), unit.symbol());
        Err(EntryError::OutOfRange {
            what: self.what,
            min: shown(self.min),
            max: shown(self.max),
            found: shown(value),
            below: value < self.min,
        })
    }

    /// The bounds as text, for documentation and hints.
    #[must_use]
    pub fn range(&self, system: UnitSystem) -> String {
        let unit = Q::unit_in(system);
        format!("{} to {}", exact(self.min, unit), exact(self.max, unit))
    }
}

/// A plain number in a range; `unit` follows it in sentences.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NumberBound {
    /// The figure's name.
    pub what: &'static str,
    /// Least value.
    pub min: f64,
    /// Largest value.
    pub max: f64,
    /// The sign shown after it.
    pub unit: &'static str,
}

impl NumberBound {
    /// Reads a number, with or without its unit, and holds it to the bounds.
    ///
    /// # Errors
    /// [`EntryError`], whose text is a sentence for the field.
    pub fn read(&self, text: &str) -> Result<f64, EntryError> {
        let bare = text.trim().trim_end_matches(self.unit).trim().replace(',', ".");
        let value: f64 = match bare.parse::<f64>() {
            Ok(value) if value.is_finite() => value,
            _ => {
                return Err(EntryError::NotANumber {
                    text: text.chars().take(24).collect(),
                    example: "8",
                });
            }
        };
        self.check(value)
    }

    /// Holds a number to the bounds.
    ///
    /// # Errors
    /// [`EntryError::OutOfRange`].
    pub fn check(&self, value: f64) -> Result<f64, EntryError> {
        if (self.min..=self.max).contains(&value) {
            return Ok(value);
        }
        let shown = |v: f64| format!("{} {}", trimmed(v, 1), self.unit);
        Err(EntryError::OutOfRange {
            what: self.what,
            min: shown(self.min),
            max: shown(self.max),
            found: shown(value),
            below: value < self.min,
        })
    }
}

const fn lengths(what: &'static str, min_mm: f64, max_mm: f64) -> Bound<Length> {
    Bound { what, min: Length::from_mm(min_mm), max: Length::from_mm(max_mm) }
}

/// Finished length of the piece: from a sample board to a bar top.
pub const FINISHED_LENGTH: Bound<Length> = lengths("Finished length", 100.0, 6000.0);
/// Finished width of the piece.
pub const FINISHED_WIDTH: Bound<Length> = lengths("Finished width", 60.0, 2500.0);
/// Finished thickness of the piece.
pub const FINISHED_THICKNESS: Bound<Length> = lengths("Finished thickness", 3.0, 200.0);
/// Extra on every side that is sawn off.
pub const TRIM_MARGIN: Bound<Length> = lengths("Trim margin", 0.0, 100.0);
/// Thickness of a board as it goes into the form.
pub const BOARD_THICKNESS: Bound<Length> = lengths("Board thickness", 3.0, 200.0);
/// Width of the river at a station; nought where the boards touch.
pub const RIVER_WIDTH: Bound<Length> = lengths("River width", 0.0, 2500.0);
/// Place of a station, from the left end of the form.
pub const STATION_PLACE: Bound<Length> = lengths("A station's place", 0.0, 6200.0);
/// Distance from the form's near wall to the river.
pub const RIVER_OFFSET: Bound<Length> = lengths("Distance from the near wall", 0.0, 2500.0);
/// How far a reading of the tape may be off.
pub const TAPE_TOLERANCE: Bound<Length> = lengths("Tape tolerance", 0.0, 20.0);
/// Resin under the boards.
pub const BASE_GAP: Bound<Length> = lengths("Base layer", 0.0, 12.0);
/// Resin above the boards' faces, over the river.
pub const OVERFILL: Bound<Length> = lengths("Overfill", 0.0, 20.0);
/// Air of the shop and resin at the pour. Below, most resins crystallise;
/// above, none can be mixed and poured in time.
pub const AIR_TEMPERATURE: Bound<Temperature> = temperatures("Air temperature", 5.0, 40.0);
/// Resin as it leaves the bucket.
pub const RESIN_TEMPERATURE: Bound<Temperature> = temperatures("Resin temperature", 10.0, 40.0);
/// Timber from balsa to the heaviest tropical woods.
pub const TIMBER_DENSITY: Bound<Density> = Bound {
    what: "Timber density",
    min: Density::from_kg_m3(100.0),
    max: Density::from_kg_m3(1300.0),
};
/// Moisture of the timber by a meter, in percent of its dry mass.
pub const TIMBER_MOISTURE_PERCENT: NumberBound =
    NumberBound { what: "Moisture", min: 0.0, max: 40.0, unit: "%" };
/// Resin that stays in buckets and on sticks, in percent of what is poured.
pub const BUCKET_RESIDUE_PERCENT: NumberBound =
    NumberBound { what: "Left in the buckets", min: 0.0, max: 20.0, unit: "%" };
/// Time to sand, wipe and dry a hard layer before the next.
pub const SANDING_MINUTES: NumberBound =
    NumberBound { what: "Sanding between layers", min: 5.0, max: 480.0, unit: "min" };

const fn temperatures(what: &'static str, min_c: f64, max_c: f64) -> Bound<Temperature> {
    Bound { what, min: Temperature::from_celsius(min_c), max: Temperature::from_celsius(max_c) }
}

/// Years in which pours are planned: a date outside is a slip of the finger.
pub const PLANNED_YEARS: std::ops::RangeInclusive<i16> = 2000..=2199;
/// Fewest and most stations of a river.
pub const STATIONS: std::ops::RangeInclusive<usize> = 2..=60;
/// Longest name of a cast, in characters.
pub const NAME_CHARACTERS: usize = 80;
/// The deepest river the heat search looks at.
pub const SEARCHED_DEPTH: std::ops::RangeInclusive<f64> = 0.001..=0.4;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_figure_out_of_range_is_refused_with_the_range() {
        let refusal = BOARD_THICKNESS.read("10 m", UnitSystem::Metric).unwrap_err();
        assert_eq!(
            refusal.to_string(),
            "Board thickness must be between 3 mm and 200 mm; 10000 mm is too much."
        );
        let refusal = AIR_TEMPERATURE.read("-40", UnitSystem::Metric).unwrap_err();
        assert_eq!(
            refusal.to_string(),
            "Air temperature must be between 5 °C and 40 °C; -40 °C is too little."
        );
        let refusal = RIVER_WIDTH.read("-5", UnitSystem::Metric).unwrap_err();
        assert!(matches!(refusal, EntryError::OutOfRange { below: true, .. }));
    }

    #[test]
    fn a_bare_number_is_in_the_shops_unit() {
        let inch = BOARD_THICKNESS.read("1 1/2", UnitSystem::UsCustomary).unwrap();
        assert!((inch.mm() - 38.1).abs() < 1e-9);
        assert!((BOARD_THICKNESS.read("38", UnitSystem::Metric).unwrap().mm() - 38.0).abs() < 1e-9);
    }

    #[test]
    fn percentages_are_read_with_or_without_their_sign() {
        assert!((TIMBER_MOISTURE_PERCENT.read("8,5 %").unwrap() - 8.5).abs() < 1e-12);
        assert!(TIMBER_MOISTURE_PERCENT.read("dry").is_err());
        assert!(TIMBER_MOISTURE_PERCENT.read("NaN").is_err());
        assert!(TIMBER_MOISTURE_PERCENT.read("60").is_err());
    }
}

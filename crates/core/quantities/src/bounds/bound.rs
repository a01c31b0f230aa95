//! A figure's range, and reading a text into it.

use crate::types::{
    Absorption, Density, Length, Mass, Slope, Temperature, TemperatureDelta, Volume,
};
use crate::units::{
    AbsorptionUnit, DensityUnit, LengthUnit, MassUnit, Measured, ParseQuantityError, SlopeUnit,
    TemperatureDeltaUnit, TemperatureUnit, UnitSystem, VolumeUnit, exact, parse,
};

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

/// Why an entry was refused.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum EntryError {
    /// The text is not a quantity of this kind.
    #[error(transparent)]
    Unreadable(#[from] ParseQuantityError),
    /// A plain number was wanted.
    #[error("“{text}” is not a number")]
    NotANumber {
        /// What was typed, shortened.
        text: String,
    },
    /// The figure lies outside its bounds.
    #[error(transparent)]
    OutOfRange(#[from] OutOfRange),
}

/// A figure outside its bounds.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[error("{what} is out of its range: {extent:?}")]
pub struct OutOfRange {
    /// The figure's name.
    pub what: &'static str,
    /// Its bounds and its value.
    pub extent: Extent,
}

/// Bounds and value of a figure of any quantity.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Extent {
    /// A length.
    Length(Limits<Length>),
    /// A temperature.
    Temperature(Limits<Temperature>),
    /// A difference of temperatures.
    TemperatureDelta(Limits<TemperatureDelta>),
    /// A fall.
    Slope(Limits<Slope>),
    /// What a face takes up.
    Absorption(Limits<Absorption>),
    /// A volume.
    Volume(Limits<Volume>),
    /// A mass.
    Mass(Limits<Mass>),
    /// A density.
    Density(Limits<Density>),
    /// A plain number, with the sign shown after it.
    Number(Limits<f64>, &'static str),
}

/// The least and the most that a figure can be, and what it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits<Q> {
    /// Least value.
    pub min: Q,
    /// Largest value.
    pub max: Q,
    /// The value itself.
    pub found: Q,
}

/// A quantity whose unit in a workshop follows from the workshop's system.
pub trait ShopMeasured: Measured + PartialOrd {
    /// The unit of a bare number.
    fn unit_in(system: UnitSystem) -> Self::Unit;
    /// Bounds and value of a figure of this quantity.
    fn extent(limits: Limits<Self>) -> Extent;
}

/// Declares the unit and the extent of a quantity.
macro_rules! shop_measured {
    ($($quantity:ident, $unit:ident, $method:ident;)+) => {$(
        impl ShopMeasured for $quantity {
            fn unit_in(system: UnitSystem) -> $unit {
                system.$method()
            }
            fn extent(limits: Limits<Self>) -> Extent {
                Extent::$quantity(limits)
            }
        }
    )+};
}

shop_measured! {
    Length, LengthUnit, length;
    Temperature, TemperatureUnit, temperature;
    TemperatureDelta, TemperatureDeltaUnit, temperature_delta;
    Slope, SlopeUnit, slope;
    Absorption, AbsorptionUnit, absorption;
    Volume, VolumeUnit, volume;
    Mass, MassUnit, mass;
    Density, DensityUnit, density;
}

impl<Q: ShopMeasured> Bound<Q> {
    /// Whether the value lies within.
    #[must_use]
    pub fn contains(&self, value: Q) -> bool {
        self.min <= value && value <= self.max
    }

    /// Reads a text and holds it to the bounds.
    ///
    /// # Errors
    /// [`EntryError`].
    pub fn read(&self, text: &str, system: UnitSystem) -> Result<Q, EntryError> {
        Ok(self.check(parse::<Q>(text, Q::unit_in(system))?)?)
    }

    /// Holds a value to the bounds.
    ///
    /// # Errors
    /// [`OutOfRange`].
    pub fn check(&self, value: Q) -> Result<Q, OutOfRange> {
        if self.contains(value) {
            return Ok(value);
        }
        let limits = Limits { min: self.min, max: self.max, found: value };
        Err(OutOfRange { what: self.what, extent: Q::extent(limits) })
    }

    /// The bounds as text, for documentation and hints.
    #[must_use]
    pub fn range(&self, system: UnitSystem) -> String {
        let unit = Q::unit_in(system);
        format!("{} to {}", exact(self.min, unit), exact(self.max, unit))
    }
}

impl NumberBound {
    /// Reads a number, with or without its unit, and holds it to the bounds.
    ///
    /// # Errors
    /// [`EntryError`].
    pub fn read(&self, text: &str) -> Result<f64, EntryError> {
        let bare = text.trim();
        let bare = if self.unit.is_empty() { bare } else { bare.trim_end_matches(self.unit) };
        let bare = bare.trim().replace(',', ".");
        match bare.parse::<f64>() {
            Ok(value) if value.is_finite() => Ok(self.check(value)?),
            _ => Err(EntryError::NotANumber { text: text.chars().take(24).collect() }),
        }
    }

    /// Holds a number to the bounds.
    ///
    /// # Errors
    /// [`OutOfRange`].
    pub fn check(&self, value: f64) -> Result<f64, OutOfRange> {
        if (self.min..=self.max).contains(&value) {
            return Ok(value);
        }
        let limits = Limits { min: self.min, max: self.max, found: value };
        Err(OutOfRange { what: self.what, extent: Extent::Number(limits, self.unit) })
    }
}

impl OutOfRange {
    /// Whether the value lies below its bounds.
    #[must_use]
    pub fn is_below(&self) -> bool {
        match self.extent {
            Extent::Length(l) => l.found < l.min,
            Extent::Temperature(l) => l.found < l.min,
            Extent::TemperatureDelta(l) => l.found < l.min,
            Extent::Slope(l) => l.found < l.min,
            Extent::Absorption(l) => l.found < l.min,
            Extent::Volume(l) => l.found < l.min,
            Extent::Mass(l) => l.found < l.min,
            Extent::Density(l) => l.found < l.min,
            Extent::Number(l, _) => l.found < l.min,
        }
    }
}

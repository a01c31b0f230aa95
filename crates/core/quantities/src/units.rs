//! Reading quantities as makers type them ("38", "1 1/2 in", "3.8cm") and
//! writing them back. Conversion factors: NIST SP 811, 2008 edition, appendix B.8.

mod parse;
mod print;

pub use parse::{ParseQuantityError, parse};
pub use print::{fraction_of_inch, trimmed};

use serde::{Deserialize, Serialize};

use super::{Density, Length, Mass, Temperature, Volume};

/// A quantity that people write with units of their own.
pub trait Measured: Copy + 'static {
    /// The units in which it is written.
    type Unit: Unit<Self>;
    /// What it is called in a sentence: "a length".
    const NOUN: &'static str;
}

/// A unit of one quantity.
pub trait Unit<Q>: Copy + PartialEq + 'static {
    /// All units of the quantity, the commonest first.
    const ALL: &'static [Self];
    /// The spellings that are understood; the first is the one shown.
    fn spellings(self) -> &'static [&'static str];
    /// The quantity for a number of this unit.
    fn read(self, number: f64) -> Q;
    /// The number of this unit in the quantity.
    fn write(self, quantity: Q) -> f64;
    /// The symbol shown after a number.
    fn symbol(self) -> &'static str {
        self.spellings()[0]
    }
}

/// Declares the units of a quantity by their factor to its SI unit.
macro_rules! units {
    ($(#[$doc:meta])* $unit:ident of $quantity:ident ($noun:literal, $from:ident, $get:ident) {
        $($(#[$variant_doc:meta])* $variant:ident = $factor:expr, [$($spelling:literal),+];)+
    }) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
        #[serde(rename_all = "snake_case")]
        pub enum $unit { $($(#[$variant_doc])* $variant,)+ }

        impl $unit {
            const fn factor(self) -> f64 {
                match self { $(Self::$variant => $factor,)+ }
            }
        }
        impl Unit<$quantity> for $unit {
            const ALL: &'static [Self] = &[$(Self::$variant,)+];
            fn spellings(self) -> &'static [&'static str] {
                match self { $(Self::$variant => &[$($spelling),+],)+ }
            }
            fn read(self, number: f64) -> $quantity {
                $quantity::$from(number * self.factor())
            }
            fn write(self, quantity: $quantity) -> f64 {
                quantity.$get() / self.factor()
            }
        }
        impl Measured for $quantity {
            type Unit = $unit;
            const NOUN: &'static str = $noun;
        }
    };
}

units! {
    /// Units of length.
    LengthUnit of Length ("a length", from_m, m) {
        /// Millimetre.
        Millimetre = 1e-3, ["mm", "millimetre", "millimetres", "millimeter", "millimeters"];
        /// Centimetre.
        Centimetre = 1e-2, ["cm", "centimetre", "centimetres", "centimeter", "centimeters"];
        /// Metre.
        Metre = 1.0, ["m", "metre", "metres", "meter", "meters"];
        /// Inch, 25.4 mm exactly.
        Inch = 0.0254, ["in", "inch", "inches", "\"", "″", "''"];
        /// Foot, 12 inches.
        Foot = 0.3048, ["ft", "foot", "feet", "'", "′"];
    }
}
units! {
    /// Units of volume.
    VolumeUnit of Volume ("a volume", from_m3, m3) {
        /// Litre.
        Litre = 1e-3, ["L", "l", "litre", "litres", "liter", "liters"];
        /// Millilitre.
        Millilitre = 1e-6, ["mL", "ml", "cc", "millilitre", "millilitres"];
        /// US gallon, 231 cubic inches.
        Gallon = 3.785_411_784e-3, ["gal", "gallon", "gallons"];
        /// US quart, a quarter of a gallon.
        Quart = 9.463_529_46e-4, ["qt", "quart", "quarts"];
        /// US fluid ounce, a 128th of a gallon.
        FluidOunce = 2.957_352_956_25e-5, ["fl oz", "floz"];
    }
}
units! {
    /// Units of mass.
    MassUnit of Mass ("a mass", from_kg, kg) {
        /// Kilogram.
        Kilogram = 1.0, ["kg", "kilo", "kilos", "kilogram", "kilograms"];
        /// Gram.
        Gram = 1e-3, ["g", "gram", "grams"];
        /// Avoirdupois pound.
        Pound = 0.453_592_37, ["lb", "lbs", "pound", "pounds"];
        /// Avoirdupois ounce.
        Ounce = 0.028_349_523_125, ["oz", "ounce", "ounces"];
    }
}
units! {
    /// Units of density.
    DensityUnit of Density ("a density", from_kg_m3, kg_m3) {
        /// Kilogram per cubic metre.
        KilogramPerCubicMetre = 1.0, ["kg/m³", "kg/m3", "kg/m^3"];
        /// Gram per cubic centimetre, the same number as kilograms per litre.
        GramPerCubicCentimetre = 1e3, ["g/cm³", "g/cm3", "g/cc", "g/ml", "kg/l"];
        /// Pound per cubic foot.
        PoundPerCubicFoot = 16.018_463_373_960_14, ["lb/ft³", "lb/ft3", "pcf"];
    }
}

/// Units of temperature.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum TemperatureUnit {
    /// Degree Celsius.
    Celsius,
    /// Degree Fahrenheit.
    Fahrenheit,
}

impl Unit<Temperature> for TemperatureUnit {
    const ALL: &'static [Self] = &[Self::Celsius, Self::Fahrenheit];
    fn spellings(self) -> &'static [&'static str] {
        match self {
            Self::Celsius => &["°C", "C", "°", "deg C", "degC", "celsius"],
            Self::Fahrenheit => &["°F", "F", "deg F", "degF", "fahrenheit"],
        }
    }
    fn read(self, number: f64) -> Temperature {
        Temperature::from_celsius(match self {
            Self::Celsius => number,
            Self::Fahrenheit => (number - 32.0) / 1.8,
        })
    }
    fn write(self, quantity: Temperature) -> f64 {
        match self {
            Self::Celsius => quantity.celsius(),
            Self::Fahrenheit => quantity.celsius() * 1.8 + 32.0,
        }
    }
}

impl Measured for Temperature {
    type Unit = TemperatureUnit;
    const NOUN: &'static str = "a temperature";
}

/// Writes a quantity in one unit, exactly: reading it again gives the same figure.
#[must_use]
pub fn exact<Q: Measured>(quantity: Q, unit: Q::Unit) -> String {
    format!("{} {}", unit.write(quantity), unit.symbol())
}

/// The units that a workshop thinks in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum UnitSystem {
    /// Millimetres, litres, kilograms, degrees Celsius.
    Metric,
    /// Inches, US gallons, pounds, degrees Fahrenheit.
    UsCustomary,
}

impl UnitSystem {
    /// The other one, shown in small type beside a figure.
    #[must_use]
    pub const fn other(self) -> Self {
        match self {
            Self::Metric => Self::UsCustomary,
            Self::UsCustomary => Self::Metric,
        }
    }
    /// The unit of a bare number in a length field.
    #[must_use]
    pub const fn length(self) -> LengthUnit {
        match self {
            Self::Metric => LengthUnit::Millimetre,
            Self::UsCustomary => LengthUnit::Inch,
        }
    }
    /// The unit of a bare number in a temperature field.
    #[must_use]
    pub const fn temperature(self) -> TemperatureUnit {
        match self {
            Self::Metric => TemperatureUnit::Celsius,
            Self::UsCustomary => TemperatureUnit::Fahrenheit,
        }
    }
    /// The unit of a bare number in a density field.
    #[must_use]
    pub const fn density(self) -> DensityUnit {
        match self {
            Self::Metric => DensityUnit::KilogramPerCubicMetre,
            Self::UsCustomary => DensityUnit::PoundPerCubicFoot,
        }
    }
    /// The unit in which masses are shown.
    #[must_use]
    pub const fn mass(self) -> MassUnit {
        match self {
            Self::Metric => MassUnit::Kilogram,
            Self::UsCustomary => MassUnit::Pound,
        }
    }
    /// The unit in which volumes are shown.
    #[must_use]
    pub const fn volume(self) -> VolumeUnit {
        match self {
            Self::Metric => VolumeUnit::Litre,
            Self::UsCustomary => VolumeUnit::Gallon,
        }
    }
}

#[cfg(test)]
mod tests;

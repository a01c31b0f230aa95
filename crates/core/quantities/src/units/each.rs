//! The units of each quantity. Conversion factors: NIST SP 811, 2008 edition, appendix B.8.

use serde::{Deserialize, Serialize};

use super::measured::{Measured, Unit};
use crate::types::{
    Absorption, Density, Length, Mass, Slope, Temperature, TemperatureDelta, Volume,
};

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
        /// US fluid ounce, a 128th of a gallon. Of a volume an ounce is this one.
        FluidOunce = 2.957_352_956_25e-5, ["fl oz", "floz", "fl. oz", "oz", "ounce", "ounces"];
        /// Cubic inch.
        CubicInch = 1.638_706_4e-5, ["in³", "in3", "in^3", "cu in", "cubic inch", "cubic inches"];
        /// Cubic centimetre, a millilitre.
        CubicCentimetre = 1e-6, ["cm³", "cm3", "cm^3"];
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

units! {
    /// Units of what a face takes up.
    AbsorptionUnit of Absorption ("an absorption", from_ml_m2, ml_m2) {
        /// Millilitre on a square metre.
        MillilitrePerSquareMetre = 1.0, ["mL/m²", "ml/m²", "mL/m2", "ml/m2"];
        /// US fluid ounce on a square foot.
        FluidOuncePerSquareFoot = 29.573_529_562_5 / 0.092_903_04, ["fl oz/ft²", "fl oz/ft2", "oz/ft²", "oz/ft2"];
    }
}
units! {
    /// Units of how much something falls over a way.
    SlopeUnit of Slope ("a fall", from_mm_m, mm_m) {
        /// Millimetre on a metre.
        MillimetrePerMetre = 1.0, ["mm/m"];
        /// Inch on a foot.
        InchPerFoot = 1e3 / 12.0, ["in/ft"];
        /// Hundredth of the way.
        Percent = 10.0, ["%"];
    }
}
units! {
    /// Units of a difference of temperatures.
    TemperatureDeltaUnit of TemperatureDelta ("a difference of temperatures", from_k, k) {
        /// Degree Celsius, as large as a kelvin.
        Celsius = 1.0, ["°C", "C", "°", "deg C", "degC", "K"];
        /// Degree Fahrenheit.
        Fahrenheit = 1.0 / 1.8, ["°F", "F", "deg F", "degF"];
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

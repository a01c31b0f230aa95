//! The units that a workshop thinks in.

use serde::{Deserialize, Serialize};

use super::each::{
    AbsorptionUnit, DensityUnit, LengthUnit, MassUnit, SlopeUnit, TemperatureDeltaUnit,
    TemperatureUnit, VolumeUnit,
};
use super::measured::Unit;
use crate::types::Length;

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
    /// A length that nobody has measured, round in these units: in inches to an eighth, and to a
    /// sixteenth under a quarter.
    #[must_use]
    pub fn rounded(self, length: Length) -> Length {
        let inches = LengthUnit::Inch.write(length);
        let parts = if inches < 0.25 { 16.0 } else { 8.0 };
        match self {
            Self::Metric => length,
            Self::UsCustomary => LengthUnit::Inch.read((inches * parts).round() / parts),
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
    /// The unit of a bare number in a field of a difference of temperatures.
    #[must_use]
    pub const fn temperature_delta(self) -> TemperatureDeltaUnit {
        match self {
            Self::Metric => TemperatureDeltaUnit::Celsius,
            Self::UsCustomary => TemperatureDeltaUnit::Fahrenheit,
        }
    }
    /// The unit of a bare number in a field of a fall.
    #[must_use]
    pub const fn slope(self) -> SlopeUnit {
        match self {
            Self::Metric => SlopeUnit::MillimetrePerMetre,
            Self::UsCustomary => SlopeUnit::InchPerFoot,
        }
    }
    /// The unit of a bare number in a field of what a face takes up.
    #[must_use]
    pub const fn absorption(self) -> AbsorptionUnit {
        match self {
            Self::Metric => AbsorptionUnit::MillilitrePerSquareMetre,
            Self::UsCustomary => AbsorptionUnit::FluidOuncePerSquareFoot,
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

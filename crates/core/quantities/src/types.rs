//! The quantities, and the products that mean something here.

use std::iter::Sum;
use std::ops::{Add, Div, Mul, Sub};

use serde::{Deserialize, Serialize};

/// A newtype over `f64` in the SI unit named, with the arithmetic of a vector space.
macro_rules! quantity {
    ($(#[$doc:meta])* $name:ident, $from:ident, $get:ident) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name(f64);

        impl $name {
            /// Nothing of it.
            pub const ZERO: Self = Self(0.0);
            /// From a value in the unit above.
            #[must_use]
            pub const fn $from(value: f64) -> Self {
                Self(value)
            }
            /// In the unit above.
            #[must_use]
            pub const fn $get(self) -> f64 {
                self.0
            }
            /// The larger of two.
            #[must_use]
            pub fn max(self, other: Self) -> Self {
                Self(self.0.max(other.0))
            }
            /// The smaller of two.
            #[must_use]
            pub fn min(self, other: Self) -> Self {
                Self(self.0.min(other.0))
            }
        }
        impl Add for $name {
            type Output = Self;
            fn add(self, other: Self) -> Self {
                Self(self.0 + other.0)
            }
        }
        impl Sub for $name {
            type Output = Self;
            fn sub(self, other: Self) -> Self {
                Self(self.0 - other.0)
            }
        }
        impl Mul<f64> for $name {
            type Output = Self;
            fn mul(self, factor: f64) -> Self {
                Self(self.0 * factor)
            }
        }
        impl Div<f64> for $name {
            type Output = Self;
            fn div(self, divisor: f64) -> Self {
                Self(self.0 / divisor)
            }
        }
        impl Div for $name {
            type Output = f64;
            fn div(self, other: Self) -> f64 {
                self.0 / other.0
            }
        }
        impl Sum for $name {
            fn sum<I: Iterator<Item = Self>>(all: I) -> Self {
                all.fold(Self::ZERO, Add::add)
            }
        }
    };
}

quantity!(
    /// Length in metres.
    Length, from_m, m
);
quantity!(
    /// Money in the shop's own currency, whatever that is.
    Money, from_units, units
);
quantity!(
    /// Area in square metres.
    Area, from_m2, m2
);
quantity!(
    /// Volume in cubic metres.
    Volume, from_m3, m3
);
quantity!(
    /// Mass in kilograms.
    Mass, from_kg, kg
);
quantity!(
    /// Density in kilograms per cubic metre.
    Density, from_kg_m3, kg_m3
);
quantity!(
    /// Liquid that a face takes up, in millilitres on a square metre.
    Absorption, from_ml_m2, ml_m2
);
quantity!(
    /// Force in newtons.
    Force, from_n, n
);
quantity!(
    /// A difference of temperatures in kelvins.
    TemperatureDelta, from_k, k
);
quantity!(
    /// How much something falls over a way, in millimetres on a metre.
    Slope, from_mm_m, mm_m
);
quantity!(
    /// A span of time in seconds.
    Span, from_s, s
);

/// A temperature on the absolute scale, in kelvins.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Temperature(f64);

/// 0 °C in kelvins.
const ZERO_CELSIUS_K: f64 = 273.15;
/// Standard acceleration of free fall, m/s² (3rd CGPM, 1901).
pub const STANDARD_GRAVITY_M_S2: f64 = 9.806_65;

impl Temperature {
    /// From a value in K.
    #[must_use]
    pub const fn from_k(k: f64) -> Self {
        Self(k)
    }
    /// From degrees Celsius.
    #[must_use]
    pub const fn from_celsius(celsius: f64) -> Self {
        Self(celsius + ZERO_CELSIUS_K)
    }
    /// In kelvins.
    #[must_use]
    pub const fn k(self) -> f64 {
        self.0
    }
    /// In degrees Celsius.
    #[must_use]
    pub const fn celsius(self) -> f64 {
        self.0 - ZERO_CELSIUS_K
    }
    /// The warmer of two.
    #[must_use]
    pub fn max(self, other: Self) -> Self {
        Self(self.0.max(other.0))
    }
}

impl Sub for Temperature {
    type Output = TemperatureDelta;
    fn sub(self, other: Self) -> TemperatureDelta {
        TemperatureDelta(self.0 - other.0)
    }
}

impl Add<TemperatureDelta> for Temperature {
    type Output = Self;
    fn add(self, delta: TemperatureDelta) -> Self {
        Self(self.0 + delta.0)
    }
}

impl Length {
    /// From a value in mm.
    #[must_use]
    pub const fn from_mm(mm: f64) -> Self {
        Self(mm * 1e-3)
    }
    /// In millimetres.
    #[must_use]
    pub const fn mm(self) -> f64 {
        self.0 * 1e3
    }
}

impl Volume {
    /// From a value in L.
    #[must_use]
    pub const fn from_l(l: f64) -> Self {
        Self(l * 1e-3)
    }
    /// In litres.
    #[must_use]
    pub const fn l(self) -> f64 {
        self.0 * 1e3
    }
}

impl Span {
    /// From a value in h.
    #[must_use]
    pub const fn from_h(h: f64) -> Self {
        Self(h * 3600.0)
    }
    /// In hours.
    #[must_use]
    pub const fn h(self) -> f64 {
        self.0 / 3600.0
    }
    /// Time between two moments; 0 where the second is not the later.
    #[must_use]
    pub fn between(from: jiff::Timestamp, to: jiff::Timestamp) -> Self {
        Self(to.duration_since(from).as_secs_f64().max(0.0))
    }
    /// In whole seconds, for arithmetic with timestamps.
    #[must_use]
    pub const fn signed(self) -> jiff::SignedDuration {
        jiff::SignedDuration::from_secs(self.0.ceil() as i64)
    }
}

impl Mul for Length {
    type Output = Area;
    fn mul(self, other: Self) -> Area {
        Area(self.0 * other.0)
    }
}

impl Mul<Length> for Area {
    type Output = Volume;
    fn mul(self, height: Length) -> Volume {
        Volume(self.0 * height.0)
    }
}

impl Div<Length> for Area {
    type Output = Length;
    fn div(self, length: Length) -> Length {
        Length(self.0 / length.0)
    }
}

impl Div<Length> for Volume {
    type Output = Area;
    fn div(self, length: Length) -> Area {
        Area(self.0 / length.0)
    }
}

impl Mul<Density> for Volume {
    type Output = Mass;
    fn mul(self, density: Density) -> Mass {
        Mass(self.0 * density.0)
    }
}

impl Div<Density> for Mass {
    type Output = Volume;
    fn div(self, density: Density) -> Volume {
        Volume(self.0 / density.0)
    }
}

impl Div<Volume> for Mass {
    type Output = Density;
    fn div(self, volume: Volume) -> Density {
        Density(self.0 / volume.0)
    }
}

impl Mass {
    /// Its weight under standard gravity.
    #[must_use]
    pub fn weight(self) -> Force {
        Force(self.0 * STANDARD_GRAVITY_M_S2)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn products_have_the_dimension_and_size_they_should() {
        let volume = Length::from_mm(38.0) * Length::from_m(2.0) * Length::from_mm(100.0);
        assert!((volume.l() - 7.6).abs() < 1e-12);
        let mass = volume * Density::from_kg_m3(1100.0);
        assert!((mass.kg() - 8.36).abs() < 1e-12);
        assert!((mass / Density::from_kg_m3(1100.0) / volume - 1.0).abs() < 1e-12);
        assert!((mass.weight().n() - 81.983_594).abs() < 1e-6);
    }

    #[test]
    fn celsius_and_kelvin_agree() {
        let warm = Temperature::from_celsius(20.0);
        assert!((warm.k() - 293.15).abs() < 1e-12);
        assert!(((warm - Temperature::from_celsius(15.0)).k() - 5.0).abs() < 1e-9);
    }
}

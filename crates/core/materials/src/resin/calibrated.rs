//! A resin as the model runs on it: properties with what readings have taught applied, once.

use std::ops::Deref;

use serde::{Deserialize, Serialize};

use super::properties::Properties;

/// Standard deviation of the logarithm of a bottle's rate about the generic resin of its class.
/// Together with [`CLASS_HEAT_SD`] it puts the peak of a deep layer near its limit 10 to 15 K to
/// either side, which is what uncalibrated forecasts are off by (convention).
pub const CLASS_RATE_SD: f64 = 0.10;
/// Standard deviation of the logarithm of its heat of cure; see [`CLASS_RATE_SD`].
pub const CLASS_HEAT_SD: f64 = 0.05;

/// Factors on the rate that readings of the right resin come to (convention).
pub const RATE_RANGE: (f64, f64) = (0.5, 2.0);
/// Factors on the heat of cure; see [`RATE_RANGE`].
pub const HEAT_RANGE: (f64, f64) = (0.7, 1.3);

/// What a temperature log of the shop's own has taught about a resin: factors on
/// the generic rate and heat, as far as the log settles them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Calibration {
    /// Factor on both frequency factors.
    pub rate: f64,
    /// Factor on the heat of cure.
    pub heat: f64,
    /// Variances of the natural logarithms of rate and heat, and their covariance.
    pub covariance: [f64; 3],
    /// The lot it was read with.
    pub lot: String,
    /// Time of the calibration, UTC.
    pub at: jiff::Timestamp,
}

/// A resin as the model runs on it. A calibration cannot be applied twice: it is no [`Record`]
/// any more.
///
/// [`Record`]: super::Record
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Calibrated {
    properties: Properties,
    covariance: [f64; 3],
    is_from_readings: bool,
}

impl Calibrated {
    /// As its class or datasheet says.
    #[must_use]
    pub const fn of_class(properties: Properties) -> Self {
        let (rate, heat) = (CLASS_RATE_SD * CLASS_RATE_SD, CLASS_HEAT_SD * CLASS_HEAT_SD);
        Self { properties, covariance: [rate, heat, 0.0], is_from_readings: false }
    }

    /// As a calibration kept on the shelf says.
    #[must_use]
    pub fn by(properties: Properties, calibration: &Calibration) -> Self {
        let Calibration { rate, heat, covariance, .. } = calibration;
        Self::taught(properties, *rate, *heat, *covariance)
    }

    /// As readings say: factors on rate and heat, with the variances of their natural logarithms
    /// and their covariance.
    #[must_use]
    pub fn taught(properties: Properties, rate: f64, heat: f64, covariance: [f64; 3]) -> Self {
        Self { covariance, is_from_readings: true, ..Self::of_class(properties).scaled(rate, heat) }
    }

    /// The same with another rate (on both frequency factors) and heat of cure, by factors.
    #[must_use]
    pub fn scaled(&self, rate: f64, heat: f64) -> Self {
        let mut scaled = self.clone();
        let cure = &mut scaled.properties.cure;
        cure.a1_per_s *= rate;
        cure.a2_per_s *= rate;
        cure.heat_j_kg *= heat;
        scaled
    }

    /// Variances of the natural logarithms of rate and heat, and their covariance.
    #[must_use]
    pub const fn covariance(&self) -> [f64; 3] {
        self.covariance
    }

    /// Whether readings of the shop's own are behind it.
    #[must_use]
    pub const fn is_from_readings(&self) -> bool {
        self.is_from_readings
    }
}

impl Deref for Calibrated {
    type Target = Properties;

    fn deref(&self) -> &Properties {
        &self.properties
    }
}

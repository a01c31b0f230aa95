//! Dew point and vapour pressure over water: the Magnus form with 17.62 and
//! 243.12 °C (World Meteorological Organization, *Guide to Instruments and
//! Methods of Observation*, WMO-No. 8, annex 4.B), good to 0.1 K from −45 to 60 °C.

use fondant_quantities::Temperature;

const FACTOR: f64 = 17.62;
const CELSIUS: f64 = 243.12;
/// Vapour pressure over water at 0 °C, Pa.
const AT_ZERO_PA: f64 = 611.2;
/// Least relative humidity of a shop's air, percent.
const DRIEST_PERCENT: f64 = 0.5;

/// The temperature at which air of this temperature and relative humidity
/// (percent, 0 to 100) gives off water.
#[must_use]
pub fn dew_point(air: Temperature, humidity_percent: f64) -> Temperature {
    let t = air.celsius();
    let gamma =
        (humidity_percent.clamp(DRIEST_PERCENT, 100.0) / 100.0).ln() + FACTOR * t / (CELSIUS + t);
    Temperature::from_celsius(CELSIUS * gamma / (FACTOR - gamma))
}

/// Vapour pressure of saturated air, Pa.
#[must_use]
pub fn saturation_pa(air: Temperature) -> f64 {
    let t = air.celsius();
    AT_ZERO_PA * (FACTOR * t / (CELSIUS + t)).exp()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn known_dew_points_are_met() {
        // Psychrometric tables: 20 °C at 50 % gives 9.3 °C, 18.4 °C at 56 % gives 9.4 °C.
        for (air, percent, dew) in [(20.0, 50.0, 9.27), (18.4, 56.0, 9.45), (25.0, 100.0, 25.0)] {
            let found = dew_point(Temperature::from_celsius(air), percent).celsius();
            assert!((found - dew).abs() < 0.05, "{air} °C {percent} %: {found}");
        }
    }

    #[test]
    fn at_the_dew_point_the_air_is_saturated() {
        let air = Temperature::from_celsius(22.0);
        let dew = dew_point(air, 63.0);
        assert!((saturation_pa(dew) / saturation_pa(air) - 0.63).abs() < 1e-9);
    }
}

//! A cup of resin with a thermometer in it, and the same cup of warm water.

use crate::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped};
use crate::error::HeatError;
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_numerics::least_squares::least_squares;
use fondant_quantities::{Mass, Temperature, Volume};

use super::factors::Factors;
use super::log::Reading;

/// Heat capacity of water, J/(kg·K), and its density, kg/m³, near 40 °C.
const WATER_J_KG_K: f64 = 4179.0;
const WATER_KG_M3: f64 = 992.0;
/// Range of film coefficients for a cup in still air, W/(m²·K).
const FILM_RANGE: (f64, f64) = (0.5, 22.0);

/// A cup of mixed resin.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cup {
    /// Mass of the mix.
    pub mass: Mass,
    /// The air around it, steady.
    pub air: Temperature,
}

impl Cup {
    /// What a thermometer in its middle shows at the times of a log, K.
    ///
    /// # Errors
    /// [`HeatError`] where the solver cannot go on.
    pub fn temperatures(
        &self,
        resin: &Calibrated,
        factors: &Factors,
        start_k: f64,
        times_s: &[f64],
        stop: &Stop,
    ) -> Result<Vec<f64>, HeatError> {
        let scaled = resin.scaled(factors.rate, factors.heat);
        let mut bucket = Bucket::as_high_as_wide(resin, self.mass, self.air, BUCKET_FILM_W_M2K);
        bucket.loss_per_s *= factors.loss;
        Lumped::new(&scaled, bucket, start_k, 0.0).until(stop).temperatures_at(times_s)
    }

    /// The factor on its loss that a film stands for: film and half-way through
    /// the resin in series, against the usual film.
    #[must_use]
    pub fn loss_for_film(&self, resin: &Calibrated, film_w_m2k: f64) -> f64 {
        let of = |film| Bucket::as_high_as_wide(resin, self.mass, self.air, film).loss_per_s;
        of(film_w_m2k) / of(BUCKET_FILM_W_M2K)
    }

    /// Mixed volume.
    #[must_use]
    pub fn volume(&self, resin: &Calibrated) -> Volume {
        self.mass / resin.density
    }
}

/// What a cup of warm water left to cool has told.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WaterTest {
    /// Mean film over all sides, W/(m²·K).
    pub film_w_m2k: f64,
    /// Its standard deviation as a share of it.
    pub deviation_ratio: f64,
}

/// Why water cannot tell the loss.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum WaterError {
    /// Too few readings.
    #[error("{found} readings")]
    TooFew {
        /// Number found.
        found: usize,
    },
    /// The water cooled too little to fit its loss.
    #[error("cooled by {by_k} K")]
    HardlyCooled {
        /// Fall of the temperature, K.
        by_k: f64,
    },
    /// It does not cool as water does.
    #[error("does not cool as water does")]
    NoCooling,
}

/// The film of a cup from the same volume of warm water cooling in it:
/// `T = Ta + (T0 − Ta) e^(−t/τ)`, `τ = m cp / (h A)`. Water stirs itself, so
/// that only the film holds its heat back.
///
/// # Errors
/// [`WaterError`].
pub fn water_test(
    volume: Volume,
    air: Temperature,
    readings: &[Reading],
) -> Result<WaterTest, WaterError> {
    if readings.len() < 8 {
        return Err(WaterError::TooFew { found: readings.len() });
    }
    let (first, last) = (readings[0], readings[readings.len() - 1]);
    let by_k = first.t_k - last.t_k;
    if by_k < 4.0 {
        return Err(WaterError::HardlyCooled { by_k });
    }
    let diameter_m = (4.0 * volume.m3() / std::f64::consts::PI).cbrt();
    let area_m2 = 1.5 * std::f64::consts::PI * diameter_m.powi(2);
    let rate_of = |film: f64| film * area_m2 / (volume.m3() * WATER_KG_M3 * WATER_J_KG_K);
    let bounds = [(FILM_RANGE.0.ln(), FILM_RANGE.1.ln()), (first.t_k - 5.0, first.t_k + 5.0)];
    let fit = least_squares(&[BUCKET_FILM_W_M2K.ln(), first.t_k], &bounds, |x| {
        let cooling = rate_of(x[0].exp());
        let at = |r: &Reading| air.k() + (x[1] - air.k()) * (-cooling * r.t_s).exp() - r.t_k;
        Some(readings.iter().map(at).collect())
    })
    .map_err(|_| WaterError::NoCooling)?;
    let freedom = (readings.len() - 2) as f64;
    let noise_k = (fit.residuals.iter().map(|r| r * r).sum::<f64>() / freedom).sqrt();
    let film_w_m2k = fit.x[0].exp();
    let at_edge = film_w_m2k < 1.02 * FILM_RANGE.0 || film_w_m2k > 0.98 * FILM_RANGE.1;
    if noise_k > 0.8 || at_edge {
        return Err(WaterError::NoCooling);
    }
    let deviation_ratio = noise_k.max(0.05) * fit.inverse_normal[0][0].sqrt();
    Ok(WaterTest { film_w_m2k, deviation_ratio })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn cooling(film: f64, air_k: f64) -> Vec<Reading> {
        let volume_m3 = 4.545e-4_f64;
        let diameter = (4.0 * volume_m3 / std::f64::consts::PI).cbrt();
        let rate = film * 1.5 * std::f64::consts::PI * diameter.powi(2)
            / (volume_m3 * WATER_KG_M3 * WATER_J_KG_K);
        (0..30)
            .map(|i| {
                let t_s = f64::from(i) * 180.0;
                let jitter = if i % 2 == 0 { 0.2 } else { -0.2 };
                Reading { t_s, t_k: air_k + 28.0 * (-rate * t_s).exp() + jitter }
            })
            .collect()
    }

    #[test]
    fn warm_water_tells_the_film() {
        let air = Temperature::from_celsius(20.0);
        let volume = Volume::from_m3(4.545e-4);
        for film in [5.0, 8.0, 12.0] {
            let found = water_test(volume, air, &cooling(film, air.k())).unwrap();
            assert!((found.film_w_m2k / film - 1.0).abs() < 0.03, "{film}: {found:?}");
            assert!(found.deviation_ratio < 0.03);
        }
    }

    #[test]
    fn water_that_does_not_cool_tells_nothing() {
        let air = Temperature::from_celsius(20.0);
        let volume = Volume::from_m3(4.545e-4);
        let still: Vec<Reading> =
            (0..30).map(|i| Reading { t_s: f64::from(i) * 60.0, t_k: 310.0 }).collect();
        assert!(matches!(water_test(volume, air, &still), Err(WaterError::HardlyCooled { .. })));
        assert!(matches!(water_test(volume, air, &still[..3]), Err(WaterError::TooFew { .. })));
        // Warmer air than the water ends at.
        let strange = cooling(8.0, 280.0);
        assert_eq!(water_test(volume, air, &strange), Err(WaterError::NoCooling));
    }
}

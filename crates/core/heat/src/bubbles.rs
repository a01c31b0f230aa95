//! Which bubbles rise out of a layer before it gels.
//!
//! A small bubble rises at `v = ρ g d² / 18η` (G. G. Stokes, 1851; a bubble whose
//! skin is dirty moves as a ball does). Thickening holds it back, so that the
//! height it has risen is `ρ g d² / 18 · ∫ dt/η` up to the gel. Viscosity follows the layer as it
//! really goes: as it leaves the bucket, warmed by its own heat or cooled by the shop.

use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::STANDARD_GRAVITY_M_S2;

use crate::column::{Accuracy, Goal, Sample, Stack};
use crate::cure::{CureRate, viscosity_pa_s};
use crate::error::HeatError;
use crate::poured::Poured;
use crate::surroundings::Surroundings;

/// Longest that a resin may take to gel, s.
const HORIZON_S: f64 = 7.0 * 86_400.0;
/// A bubble that everybody sees, m (convention).
pub const SEEN_M: f64 = 0.5e-3;

/// What rises out of a layer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bubbles {
    /// The smallest bubble that reaches the top from the bottom, m.
    pub smallest_m: f64,
    /// When bubbles of [`SEEN_M`] from the bottom are out, s; `None` where it gels before.
    pub seen_out_s: Option<f64>,
    /// Until it gels, s.
    pub gels_s: f64,
    /// Viscosity at the pour, Pa·s.
    pub fresh_pa_s: f64,
}

/// What rises out of a single layer of a depth in its surroundings, sides included.
///
/// # Errors
/// [`HeatError::Depth`] outside 0.1 mm to 1 m; otherwise what the solver reports.
pub fn rising(
    resin: &Calibrated,
    around: Surroundings,
    depth_m: f64,
    poured: Poured,
    stop: &Stop,
) -> Result<Bubbles, HeatError> {
    if !(1e-4..=1.0).contains(&depth_m) {
        return Err(HeatError::Depth { depth_m });
    }
    let mut stack = Stack::new(resin, around, &Accuracy::coarse().until(stop));
    stack.record();
    stack.pour(depth_m, poured.t_k, poured.conversion)?;
    stack.run(HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
    let samples = stack.trace().map_or(&[][..], |trace| &trace.samples);
    Ok(along(resin, depth_m, poured, samples))
}

/// What rises along the course of a layer.
fn along(resin: &Calibrated, depth_m: f64, poured: Poured, course: &[Sample]) -> Bubbles {
    let cure = CureRate::new(&resin.cure);
    let fresh_pa_s = viscosity_pa_s(resin, poured.conversion, poured.t_k);
    // The height that a bubble of one metre would have risen, m, so that heights go by d².
    let unit = resin.density.kg_m3() * STANDARD_GRAVITY_M_S2 / 18.0;
    let needed = depth_m / (SEEN_M * SEEN_M);
    let (mut risen, mut seen_out_s) = (0.0, None);
    let mut conversion = poured.conversion;
    let mut before = (0.0, poured.t_k, 1.0 / fresh_pa_s.max(1e-6));
    for sample in course {
        let h = sample.t_s - before.0;
        let t_k = mean_k(sample);
        let middle_k = 0.5 * (before.1 + t_k);
        let half = conversion + 0.5 * h * cure.rate_per_s(conversion, middle_k);
        conversion += h * cure.rate_per_s(half, middle_k);
        let fluidity = 1.0 / viscosity_pa_s(resin, conversion, t_k).max(1e-6);
        let step = unit * 0.5 * (before.2 + fluidity) * h;
        if seen_out_s.is_none() && risen + step >= needed {
            seen_out_s = Some(before.0 + h * (needed - risen) / step);
        }
        risen += step;
        before = (sample.t_s, t_k, fluidity);
        if conversion >= resin.cure.gel_conversion {
            break;
        }
    }
    let smallest_m = (depth_m / risen.max(1e-12)).sqrt();
    Bubbles { smallest_m, seen_out_s, gels_s: before.0, fresh_pa_s }
}

/// The mean over the thickness, K: a parabola through underside, hottest point and surface.
fn mean_k(sample: &Sample) -> f64 {
    (sample.underside_k + 4.0 * sample.hottest_k + sample.surface_k) / 6.0
}

/// Pressure of the air at sea level, bar.
const AIR_BAR: f64 = 1.013_25;

/// Diameter of a bubble under a pressure over the air's, as a share of its diameter without: its
/// volume goes by the absolute pressure (R. Boyle, 1662).
#[must_use]
pub fn shrunk_ratio(over_bar: f64) -> f64 {
    (AIR_BAR / (AIR_BAR + over_bar.max(0.0))).cbrt()
}

/// Diameter of a bubble under an absolute pressure below the air's, mbar, as a multiple of its diameter
/// in the open. A chamber of less than a millibar is taken for one.
#[must_use]
pub fn swollen_ratio(mbar: f64) -> f64 {
    (1e3 * AIR_BAR / mbar.max(1.0)).cbrt().max(1.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{ResinClass, shipped};

    fn of(class: ResinClass, depth_m: f64, celsius: f64) -> Bubbles {
        let resin = shipped::model(class);
        let around = Surroundings::still_air(295.15);
        let poured = Poured::fresh(273.15 + celsius);
        rising(&resin, around, depth_m, poured, &Stop::NEVER).unwrap()
    }

    #[test]
    fn a_tenth_of_a_millimetre_takes_about_an_hour_for_fifty() {
        // v = 1100 · 9.81 · (0.1 mm)² / (18 · 0.45) = 0.0133 mm/s at 25 °C.
        let resin = shipped::model(ResinClass::SlowCasting);
        let around = Surroundings::still_air(298.15);
        let found = rising(&resin, around, 0.05, Poured::fresh(298.15), &Stop::NEVER).unwrap();
        assert!((found.fresh_pa_s - 0.45).abs() < 1e-9);
        let speed = 1100.0 * 9.806_65 * 1e-8 / (18.0 * 0.45);
        let hour = 0.05 / speed / 3600.0;
        assert!((0.9..1.2).contains(&hour), "{hour}");
        // Hours of open time let even smaller ones out; half a millimetre takes a 25th of it.
        assert!(found.smallest_m < 0.1e-3 && found.smallest_m > 0.02e-3, "{}", found.smallest_m);
        let seen = found.seen_out_s.unwrap() / (hour * 3600.0 / 25.0);
        assert!((0.7..1.1).contains(&seen), "{seen}");
    }

    #[test]
    fn thin_slow_resin_clears_better_than_thick_quick_resin() {
        let smallest = |class, depth| of(class, depth, 22.0).smallest_m;
        assert!(smallest(ResinClass::SlowCasting, 0.02) < smallest(ResinClass::Coating, 0.02));
        assert!(smallest(ResinClass::Coating, 0.004) < smallest(ResinClass::Coating, 0.008));
        let resin = shipped::model(ResinClass::Coating);
        let around = Surroundings::still_air(295.15);
        assert!(rising(&resin, around, 0.0, Poured::fresh(295.0), &Stop::NEVER).is_err());
    }

    /// Visible bubbles leave warm resin sooner than cold, as makers see.
    #[test]
    fn warm_resin_clears_sooner() {
        for class in [ResinClass::SlowCasting, ResinClass::MediumCasting, ResinClass::Coating] {
            let out = |celsius| of(class, 0.006, celsius).seen_out_s.unwrap();
            assert!(out(27.0) < out(22.0) && out(22.0) < out(16.0), "{class:?}");
        }
    }

    #[test]
    fn three_and_a_half_bar_absolute_leave_two_thirds() {
        // (1013.25 / 80)^⅓.
        assert!((swollen_ratio(80.0) - 2.331).abs() < 1e-3 && swollen_ratio(1100.0) <= 1.0);
        assert!((shrunk_ratio(3.5 - 1.013_25) - 0.661_6).abs() < 1e-3);
        assert!((shrunk_ratio(0.0) - 1.0).abs() < 1e-12);
    }
}

//! Which bubbles rise out of a layer before it gels.
//!
//! A small bubble rises at `v = ρ g d² / 18η` (G. G. Stokes, 1851; a bubble whose
//! skin is dirty moves as a ball does). Thickening holds it back, so that the
//! height it has risen is `ρ g d² / 18 · ∫ dt/η` up to the gel.

use crate::cure::viscosity_pa_s;
use fondant_materials::resin::Calibrated;
use fondant_quantities::STANDARD_GRAVITY_M_S2;

use crate::bucket::{Bucket, Lumped};
use crate::error::HeatError;
use crate::poured::Poured;

/// A layer near the pour keeps the temperature it was poured at: it loses what
/// little heat it makes so quickly, 1/s.
const HELD_PER_S: f64 = 0.05;
/// Longest that a resin may take to gel, s.
const HORIZON_S: f64 = 7.0 * 86_400.0;

/// What rises out of a layer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bubbles {
    /// The smallest bubble that reaches the top from the bottom, m.
    pub smallest_m: f64,
    /// Until it gels, s.
    pub gels_s: f64,
    /// Viscosity at the pour, Pa·s.
    pub fresh_pa_s: f64,
}

/// What rises out of a layer of a depth that stays at the temperature at which
/// it was poured. A warmer layer gels sooner but flows more easily.
///
/// # Errors
/// [`HeatError::Depth`] outside 0.1 mm to 1 m; otherwise what the solver reports.
pub fn rising(resin: &Calibrated, depth_m: f64, poured: Poured) -> Result<Bubbles, HeatError> {
    if !(1e-4..=1.0).contains(&depth_m) {
        return Err(HeatError::Depth { depth_m });
    }
    let held = Bucket { air_k: poured.t_k, loss_per_s: HELD_PER_S };
    let fluidity =
        |conversion: f64, t_k: f64| 1.0 / viscosity_pa_s(resin, conversion, t_k).max(1e-6);
    let mut sum = 0.0;
    let mut before = (0.0, fluidity(poured.conversion, poured.t_k));
    let mut batch = Lumped::new(resin, held, poured.t_k, poured.conversion);
    let gels_s = batch.run_until(HORIZON_S, |m| m.conversion >= resin.cure.gel_conversion)?;
    let end_s = gels_s.unwrap_or(HORIZON_S);
    Lumped::new(resin, held, poured.t_k, poured.conversion).run(end_s, |m| {
        let now = (m.t_s, fluidity(m.conversion, m.temperature_k));
        sum += 0.5 * (before.1 + now.1) * (now.0 - before.0);
        before = now;
    })?;
    let rise_per_d2 = resin.density.kg_m3() * STANDARD_GRAVITY_M_S2 / 18.0 * sum;
    Ok(Bubbles {
        smallest_m: (depth_m / rise_per_d2.max(1e-12)).sqrt(),
        gels_s: end_s,
        fresh_pa_s: viscosity_pa_s(resin, poured.conversion, poured.t_k),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{ResinClass, shipped};

    #[test]
    fn a_tenth_of_a_millimetre_takes_about_an_hour_for_fifty() {
        // v = 1100 · 9.81 · (0.1 mm)² / (18 · 0.45) = 0.0133 mm/s at 25 °C.
        let resin = shipped::model(ResinClass::SlowCasting);
        let found = rising(&resin, 0.05, Poured::fresh(298.15)).unwrap();
        assert!((found.fresh_pa_s - 0.45).abs() < 1e-9);
        let speed = 1100.0 * 9.806_65 * 1e-8 / (18.0 * 0.45);
        let hour = 0.05 / speed / 3600.0;
        assert!((0.9..1.2).contains(&hour), "{hour}");
        // Hours of open time let even smaller ones out.
        assert!(found.smallest_m < 0.1e-3 && found.smallest_m > 0.02e-3, "{}", found.smallest_m);
    }

    #[test]
    fn thin_slow_resin_clears_better_than_thick_quick_resin() {
        let of = |class, depth| {
            rising(&shipped::model(class), depth, Poured::fresh(295.15)).unwrap().smallest_m
        };
        assert!(of(ResinClass::SlowCasting, 0.02) < of(ResinClass::Coating, 0.02));
        assert!(of(ResinClass::Coating, 0.005) < of(ResinClass::Coating, 0.02));
        let resin = shipped::model(ResinClass::Coating);
        assert!(rising(&resin, 0.0, Poured::fresh(295.0)).is_err());
    }
}

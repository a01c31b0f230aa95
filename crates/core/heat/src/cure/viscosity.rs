//! How the mix thickens.

use super::rate::GAS_CONSTANT_J_MOL_K;
use fondant_materials::resin::Calibrated;

/// Viscosity at a conversion and temperature; infinite at and after the gel.
#[must_use]
pub fn viscosity_pa_s(resin: &Calibrated, conversion: f64, t_k: f64) -> f64 {
    let (v, gel) = (&resin.viscosity, resin.cure.gel_conversion);
    if conversion >= gel {
        return f64::INFINITY;
    }
    let a = conversion.max(0.0);
    let by_heat =
        (v.activation_j_mol / GAS_CONSTANT_J_MOL_K * (1.0 / t_k - 1.0 / v.reference_k)).exp();
    v.fresh_pa_s * by_heat * (gel / (gel - a)).powf(v.exponent_a + v.exponent_b * a)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;

    #[test]
    fn fresh_resin_at_the_reference_has_its_stated_viscosity_and_gel_does_not_flow() {
        let resin = &shipped::models()[0];
        assert!((viscosity_pa_s(resin, 0.0, 298.15) - 0.45).abs() < 1e-12);
        assert!(viscosity_pa_s(resin, 0.0, 308.15) < 0.45);
        assert!(viscosity_pa_s(resin, 0.3, 298.15) > 0.45);
        assert!(viscosity_pa_s(resin, 0.5, 298.15).is_infinite());
    }
}

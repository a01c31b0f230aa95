//! The cure rate and its slopes, prepared for many evaluations.

use fondant_materials::resin::CureParameters;

/// Molar gas constant, J/(mol·K) (CODATA 2018).
pub const GAS_CONSTANT_J_MOL_K: f64 = 8.314_462_618;

/// The exponent of the glass effect is held within ±this, where `exp` neither
/// overflows nor matters.
const GLASS_EXPONENT_LIMIT: f64 = 500.0;

/// [`CureParameters`] with what does not change worked out once.
///
/// The rate needs three exponentials and two logarithms, since both terms of
/// the sum are gathered as `exp(ln A − E/RT + m ln α + n ln(1 − α))`.
#[derive(Debug, Clone, Copy)]
pub struct CureRate {
    p: CureParameters,
    ln_a1: f64,
    ln_a2: f64,
    e1_over_r: f64,
    e2_over_r: f64,
    tg_span_k: f64,
}

/// The rate of cure and how it changes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Slopes {
    /// dα/dt, 1/s.
    pub rate_per_s: f64,
    /// Its slope against conversion, 1/s.
    pub by_conversion_per_s: f64,
    /// Its slope against temperature, 1/(s·K).
    pub by_temperature_per_s_k: f64,
}

impl CureRate {
    /// Prepares the rate of one resin.
    #[must_use]
    pub fn new(parameters: &CureParameters) -> Self {
        Self {
            p: *parameters,
            ln_a1: parameters.a1_per_s.ln(),
            ln_a2: parameters.a2_per_s.ln(),
            e1_over_r: parameters.e1_j_mol / GAS_CONSTANT_J_MOL_K,
            e2_over_r: parameters.e2_j_mol / GAS_CONSTANT_J_MOL_K,
            tg_span_k: parameters.tg_cured_k - parameters.tg_uncured_k,
        }
    }

    /// Glass temperature at a conversion, which is clipped to 0…1.
    #[must_use]
    pub fn glass_k(&self, conversion: f64) -> f64 {
        let a = conversion.clamp(0.0, 1.0);
        let lambda = self.p.tg_lambda;
        self.p.tg_uncured_k + self.tg_span_k * lambda * a / (1.0 - (1.0 - lambda) * a)
    }

    /// Conversion at which it gels.
    #[must_use]
    pub fn gel_conversion(&self) -> f64 {
        self.p.gel_conversion
    }

    /// dα/dt at a conversion and temperature, 1/s.
    #[must_use]
    pub fn rate_per_s(&self, conversion: f64, t_k: f64) -> f64 {
        let a = conversion.clamp(0.0, 1.0);
        if a >= 1.0 {
            return 0.0;
        }
        let (plain, catalysed) = self.terms(a, t_k);
        (plain + catalysed) * self.glass_factor(a, t_k)
    }

    /// The rate with its slopes.
    #[must_use]
    pub fn slopes(&self, conversion: f64, t_k: f64) -> Slopes {
        let a = conversion.clamp(0.0, 1.0);
        if a >= 1.0 {
            return Slopes {
                rate_per_s: 0.0,
                by_conversion_per_s: 0.0,
                by_temperature_per_s_k: 0.0,
            };
        }
        let (plain, catalysed) = self.terms(a, t_k);
        let sum = plain + catalysed;
        let glass = self.glass_factor(a, t_k);
        let glass_slope = glass * (1.0 - glass) / self.p.glass_width_k;
        let lambda = self.p.tg_lambda;
        let tg_slope = self.tg_span_k * lambda / (1.0 - (1.0 - lambda) * a).powi(2);
        // α^m has no slope at α = 0 for m < 1; there the term itself is 0, and
        // so is what is used for its slope. Only the first steps notice.
        let autocatalysis = if a > 0.0 { self.p.order_m * catalysed / a } else { 0.0 };
        Slopes {
            rate_per_s: sum * glass,
            by_conversion_per_s: glass * (autocatalysis - self.p.order_n * sum / (1.0 - a))
                - sum * glass_slope * tg_slope,
            by_temperature_per_s_k: glass * (plain * self.e1_over_r + catalysed * self.e2_over_r)
                / (t_k * t_k)
                + sum * glass_slope,
        }
    }

    /// The two terms `k1 (1 − α)^n` and `k2 α^m (1 − α)^n`, for 0 ≤ α < 1.
    fn terms(&self, a: f64, t_k: f64) -> (f64, f64) {
        let unreacted = self.p.order_n * (1.0 - a).ln();
        let plain = (self.ln_a1 - self.e1_over_r / t_k + unreacted).exp();
        let catalysed = if a > 0.0 {
            (self.ln_a2 - self.e2_over_r / t_k + self.p.order_m * a.ln() + unreacted).exp()
        } else {
            0.0
        };
        (plain, catalysed)
    }

    fn glass_factor(&self, a: f64, t_k: f64) -> f64 {
        let exponent = (self.glass_k(a) - t_k - self.p.glass_shift_k) / self.p.glass_width_k;
        1.0 / (1.0 + exponent.clamp(-GLASS_EXPONENT_LIMIT, GLASS_EXPONENT_LIMIT).exp())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;
    use proptest::prelude::*;

    /// The rate written out as it stands in the literature.
    fn literal(p: &CureParameters, a: f64, t_k: f64) -> f64 {
        let k = |pre: f64, e: f64| pre * (-e / (GAS_CONSTANT_J_MOL_K * t_k)).exp();
        let tg = p.tg_uncured_k
            + (p.tg_cured_k - p.tg_uncured_k) * p.tg_lambda * a / (1.0 - (1.0 - p.tg_lambda) * a);
        let glass = 1.0 / (1.0 + ((tg - t_k - p.glass_shift_k) / p.glass_width_k).exp());
        (k(p.a1_per_s, p.e1_j_mol) + k(p.a2_per_s, p.e2_j_mol) * a.powf(p.order_m))
            * (1.0 - a).powf(p.order_n)
            * glass
    }

    proptest! {
        #[test]
        fn the_gathered_form_is_the_literal_one(a in 0.0f64..0.999, celsius in 0.0f64..160.0) {
            for resin in shipped::models() {
                let t_k = 273.15 + celsius;
                let expected = literal(&resin.cure, a, t_k);
                let rate = CureRate::new(&resin.cure).rate_per_s(a, t_k);
                prop_assert!((rate - expected).abs() <= 1e-12 * expected.abs() + 1e-300);
            }
        }

        #[test]
        fn slopes_agree_with_differences(a in 0.01f64..0.95, celsius in 0.0f64..150.0) {
            for resin in shipped::models() {
                let rate = CureRate::new(&resin.cure);
                let t_k = 273.15 + celsius;
                let slopes = rate.slopes(a, t_k);
                let (da, dt) = (1e-6, 1e-4);
                let by_a = (rate.rate_per_s(a + da, t_k) - rate.rate_per_s(a - da, t_k)) / (2.0 * da);
                let by_t = (rate.rate_per_s(a, t_k + dt) - rate.rate_per_s(a, t_k - dt)) / (2.0 * dt);
                let scale = slopes.rate_per_s;
                prop_assert!((slopes.by_conversion_per_s - by_a).abs() <= 1e-5 * (by_a.abs() + scale));
                prop_assert!((slopes.by_temperature_per_s_k - by_t).abs() <= 1e-5 * (by_t.abs() + scale));
            }
        }
    }

    #[test]
    fn conversions_outside_zero_to_one_are_clipped() {
        let rate = CureRate::new(&shipped::models()[0].cure);
        assert_eq!(rate.rate_per_s(1.2, 300.0).to_bits(), 0.0f64.to_bits());
        assert_eq!(rate.rate_per_s(-0.1, 300.0).to_bits(), rate.rate_per_s(0.0, 300.0).to_bits());
        assert!((rate.glass_k(0.0) - 240.0).abs() < 1e-9);
        assert!((rate.glass_k(1.0) - 339.8).abs() < 1e-9);
    }
}

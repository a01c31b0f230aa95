//! The cure rate and its slopes, prepared for many evaluations.

use fondant_materials::resin::CureParameters;
use fondant_numerics::lanes::{Wide, each, exp, ln};

/// Molar gas constant, J/(mol·K) (CODATA 2018).
pub const GAS_CONSTANT_J_MOL_K: f64 = 8.314_462_618;

/// Shares under this have the logarithm of this: no term of the rate is left then.
const LEAST: f64 = 1e-300;
/// Cells that are computed at a time: two or four of them fit into one register, and the next are begun
/// while those are under way.
const WIDTH: usize = 4;

/// [`CureParameters`] with what does not change worked out once.
///
/// The rate needs three exponentials and two logarithms, since both terms of
/// the sum are gathered as `exp(ln A − E/RT + m ln α + n ln(1 − α))`. They are most
/// of what the model costs, so that cells are computed several at a time.
#[derive(Debug, Clone, Copy)]
pub struct CureRate {
    p: CureParameters,
    ln_a1: f64,
    ln_a2: f64,
    e1_over_r: f64,
    e2_over_r: f64,
    tg_span_k: f64,
    wide: Wide,
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

/// Where the rates of many cells and their slopes are written to.
#[derive(Debug)]
pub struct SlopesOf<'a> {
    /// dα/dt, 1/s.
    pub rate_per_s: &'a mut [f64],
    /// Its slope against conversion, 1/s.
    pub by_conversion_per_s: &'a mut [f64],
    /// Its slope against temperature, 1/(s·K).
    pub by_temperature_per_s_k: &'a mut [f64],
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
            wide: Wide::new(),
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
        let [rate] = self.rates([conversion], [t_k]);
        rate
    }

    /// A rate at one temperature carried to another near it, 1/s: by Arrhenius to first order, by the
    /// catalysed term, which is nearly all of the rate.
    #[inline(always)]
    pub(crate) fn rate_at(&self, rate_per_s: f64, [from_k, to_k]: [f64; 2]) -> f64 {
        (rate_per_s * (1.0 + self.e2_over_r * (to_k - from_k) / (from_k * to_k))).max(0.0)
    }

    /// The rate with its slopes.
    #[must_use]
    pub fn slopes(&self, conversion: f64, t_k: f64) -> Slopes {
        let Lanes { rate: [rate_per_s], by_conversion: [c], by_temperature: [t] } =
            self.slope_lanes([conversion], [t_k]);
        Slopes { rate_per_s, by_conversion_per_s: c, by_temperature_per_s_k: t }
    }

    /// dα/dt of many cells, 1/s, to `rates`. All are of one length.
    pub fn rates_of(&self, conversions: &[f64], t_k: &[f64], rates: &mut [f64]) {
        let (whole, rest) = rates.as_chunks_mut::<WIDTH>();
        let ((a, a_rest), (t, t_rest)) = (conversions.as_chunks(), t_k.as_chunks());
        self.wide.run(
            #[inline(always)]
            || {
                for ((rates, a), t) in whole.iter_mut().zip(a).zip(t) {
                    *rates = self.rates(*a, *t);
                }
            },
        );
        for ((rate, a), t) in rest.iter_mut().zip(a_rest).zip(t_rest) {
            *rate = self.rate_per_s(*a, *t);
        }
    }

    /// dα/dt of many cells and its slopes, to `to`. All are of one length.
    pub fn slopes_of(&self, conversions: &[f64], t_k: &[f64], to: &mut SlopesOf<'_>) {
        let (rates, rates_rest) = to.rate_per_s.as_chunks_mut::<WIDTH>();
        let (by_a, by_a_rest) = to.by_conversion_per_s.as_chunks_mut();
        let (by_t, by_t_rest) = to.by_temperature_per_s_k.as_chunks_mut();
        let ((a, a_rest), (t, t_rest)) = (conversions.as_chunks(), t_k.as_chunks());
        let whole = rates.iter_mut().zip(by_a).zip(by_t).zip(a).zip(t);
        self.wide.run(
            #[inline(always)]
            || {
                for ((((rates, by_a), by_t), a), t) in whole {
                    let lanes = self.slope_lanes(*a, *t);
                    (*rates, *by_a, *by_t) =
                        (lanes.rate, lanes.by_conversion, lanes.by_temperature);
                }
            },
        );
        let rest = rates_rest.iter_mut().zip(by_a_rest).zip(by_t_rest).zip(a_rest).zip(t_rest);
        for ((((rate, by_a), by_t), a), t) in rest {
            let one = self.slopes(*a, *t);
            (*rate, *by_a) = (one.rate_per_s, one.by_conversion_per_s);
            *by_t = one.by_temperature_per_s_k;
        }
    }

    #[inline(always)]
    fn rates<const N: usize>(&self, conversion: [f64; N], t_k: [f64; N]) -> [f64; N] {
        let terms = self.terms(conversion, t_k);
        each(|i| {
            let sum = terms.plain[i] + terms.catalysed[i];
            if terms.a[i] < 1.0 { sum * terms.glass[i] } else { 0.0 }
        })
    }

    #[inline(always)]
    fn slope_lanes<const N: usize>(&self, conversion: [f64; N], t_k: [f64; N]) -> Lanes<N> {
        let terms = self.terms(conversion, t_k);
        let (per_width, n) = (1.0 / self.p.glass_width_k, self.p.order_n);
        let (span, bend) = (self.tg_span_k * self.p.tg_lambda, 1.0 - self.p.tg_lambda);
        let sum: [f64; N] = each(|i| terms.plain[i] + terms.catalysed[i]);
        let glass_slope: [f64; N] = each(|i| terms.glass[i] * (1.0 - terms.glass[i]) * per_width);
        let is_open = |i: usize| terms.a[i] < 1.0;
        let by_conversion = each(|i| {
            let (a, glass) = (terms.a[i], terms.glass[i]);
            let bent = 1.0 - bend * a;
            // α^m has no slope at α = 0 for m < 1; there the term itself is 0, and
            // so is what is used for its slope. Only the first steps notice.
            let autocatalysis = if a > 0.0 { self.p.order_m * terms.catalysed[i] / a } else { 0.0 };
            let slope = glass * (autocatalysis - n * sum[i] / (1.0 - a))
                - sum[i] * glass_slope[i] * span / (bent * bent);
            if is_open(i) { slope } else { 0.0 }
        });
        let by_temperature = each(|i| {
            let by_heat = terms.plain[i] * self.e1_over_r + terms.catalysed[i] * self.e2_over_r;
            let slope = terms.glass[i] * by_heat / (t_k[i] * t_k[i]) + sum[i] * glass_slope[i];
            if is_open(i) { slope } else { 0.0 }
        });
        let rate = each(|i| if is_open(i) { sum[i] * terms.glass[i] } else { 0.0 });
        Lanes { rate, by_conversion, by_temperature }
    }

    /// The two terms `k1 (1 − α)^n` and `k2 α^m (1 − α)^n`, and the effect of the glass.
    #[inline(always)]
    fn terms<const N: usize>(&self, conversion: [f64; N], t_k: [f64; N]) -> Terms<N> {
        let a: [f64; N] = each(|i| conversion[i].clamp(0.0, 1.0));
        let reacted = ln(each::<N>(|i| a[i].max(LEAST)));
        let unreacted = ln(each::<N>(|i| (1.0 - a[i]).max(LEAST)));
        let per_k: [f64; N] = each(|i| 1.0 / t_k[i]);
        let both: [f64; N] = each(|i| self.p.order_n * unreacted[i]);
        let plain = exp(each::<N>(|i| self.ln_a1 - self.e1_over_r * per_k[i] + both[i]));
        let catalysed = exp(each::<N>(|i| {
            self.ln_a2 - self.e2_over_r * per_k[i] + self.p.order_m * reacted[i] + both[i]
        }));
        let (bend, per_width) = (1.0 - self.p.tg_lambda, 1.0 / self.p.glass_width_k);
        let span = self.tg_span_k * self.p.tg_lambda;
        let stiff = exp(each::<N>(|i| {
            let tg_k = self.p.tg_uncured_k + span * a[i] / (1.0 - bend * a[i]);
            (tg_k - t_k[i] - self.p.glass_shift_k) * per_width
        }));
        Terms {
            plain,
            catalysed: each(|i| if a[i] > 0.0 { catalysed[i] } else { 0.0 }),
            glass: each(|i| 1.0 / (1.0 + stiff[i])),
            a,
        }
    }
}

/// Figures of several cells at a time.
struct Lanes<const N: usize> {
    rate: [f64; N],
    by_conversion: [f64; N],
    by_temperature: [f64; N],
}

/// What rate and slopes are made of, of several cells at a time.
struct Terms<const N: usize> {
    /// Conversion, within 0…1.
    a: [f64; N],
    plain: [f64; N],
    catalysed: [f64; N],
    glass: [f64; N],
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

    /// Of any number of cells, in whatever registers: to the last bit.
    #[test]
    fn many_cells_have_the_rates_that_each_has_alone() {
        for resin in shipped::models() {
            let rate = CureRate::new(&resin.cure);
            for cells in 1..12 {
                let a: Vec<f64> = (0..cells).map(|i| f64::from(i) / 9.0).collect();
                let t_k: Vec<f64> = (0..cells).map(|i| 285.0 + 7.0 * f64::from(i)).collect();
                let [mut rates, mut own, mut by_a, mut by_t] = [(); 4].map(|()| vec![0.0; a.len()]);
                rate.rates_of(&a, &t_k, &mut rates);
                let mut to = SlopesOf {
                    rate_per_s: &mut own,
                    by_conversion_per_s: &mut by_a,
                    by_temperature_per_s_k: &mut by_t,
                };
                rate.slopes_of(&a, &t_k, &mut to);
                for i in 0..a.len() {
                    let alone = rate.slopes(a[i], t_k[i]);
                    let both = [(rates[i], alone.rate_per_s), (own[i], alone.rate_per_s)];
                    let slopes = [
                        (by_a[i], alone.by_conversion_per_s),
                        (by_t[i], alone.by_temperature_per_s_k),
                    ];
                    for (among, alone) in both.into_iter().chain(slopes) {
                        assert_eq!(among.to_bits(), alone.to_bits(), "cell {i} of {cells}");
                    }
                }
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

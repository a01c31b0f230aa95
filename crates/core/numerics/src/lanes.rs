//! Exponentials and logarithms of several numbers at once.
//!
//! They have no branch and call nothing, so that the compiler computes as many of them at a time as the
//! processor has room for ([`Wide`]); a call to the C library would be made for each. For figures that
//! are finite and, for the logarithm, positive and not denormal, both are within 1e-14 of the library's.

/// ln 2, its high 32 bits and the rest, so that multiples of the first up to 2²⁰ are exact.
const LN2_HIGH: f64 = 6.931_471_803_691_238e-1;
const LN2_LOW: f64 = 1.908_214_929_270_587_7e-10;
/// Added and taken away again it leaves the nearest whole number, in the low bits between: 1.5 · 2⁵².
const ROUNDS: f64 = 6_755_399_441_055_744.0;
/// The exponent that stands for a factor of 1, and its place.
const BIAS: u64 = 1023;
const PLACE: u32 = 52;
/// The range outside of which e^x is held at its ends: the result stays a normal number.
const LEAST: f64 = -708.0;
const MOST: f64 = 709.0;

/// The widest registers that this processor has.
///
/// What is compiled for any processor of its kind takes two figures at a time. What runs in here, and is
/// inlined into it, is compiled once more for those that take four, and chosen when the program runs.
/// It comes to the same figures: the operations and their order are the same.
#[derive(Debug, Clone, Copy)]
pub struct Wide(pulp::Arch);

impl Wide {
    /// Of the processor that this runs on.
    #[must_use]
    pub fn new() -> Self {
        Self(pulp::Arch::new())
    }

    /// Runs it.
    #[inline(always)]
    pub fn run<R>(self, compute: impl FnOnce() -> R) -> R {
        self.0.dispatch(compute)
    }
}

impl Default for Wide {
    fn default() -> Self {
        Self::new()
    }
}

/// e^x of each, held between e^−708 and e^709.
///
/// x = k ln 2 + r with |r| ≤ ½ ln 2, and Taylor's sum of e^r to its twelfth power, gathered in pairs
/// (Estrin) so that few of its steps wait for one another; what is left out is under 2e-16.
#[inline(always)]
#[must_use]
pub fn exp<const N: usize>(x: [f64; N]) -> [f64; N] {
    each(|i| exp_of_one(x[i]))
}

/// ln x of each, for x > 0.
///
/// x = 2^k m with ½√2 ≤ m < √2, and the sum of ln m in s = (m − 1)/(m + 1) with the coefficients of
/// the freely distributed mathematical library (`e_log.c`, Sun Microsystems 1993).
#[inline(always)]
#[must_use]
pub fn ln<const N: usize>(x: [f64; N]) -> [f64; N] {
    each(|i| ln_of_one(x[i]))
}

/// One figure for each lane.
///
/// A plain loop: the standard library's ways to fill an array are compiled to calls.
#[inline(always)]
#[must_use]
pub fn each<const N: usize>(mut of: impl FnMut(usize) -> f64) -> [f64; N] {
    let mut all = [0.0; N];
    for (i, one) in all.iter_mut().enumerate() {
        *one = of(i);
    }
    all
}

#[inline(always)]
fn exp_of_one(x: f64) -> f64 {
    let x = x.clamp(LEAST, MOST);
    let rounded = x * std::f64::consts::LOG2_E + ROUNDS;
    let k = rounded - ROUNDS;
    let r = (x - k * LN2_HIGH) - k * LN2_LOW;
    let (r2, r4) = (r * r, (r * r) * (r * r));
    let low = (1.0 + r) + (1.0 / 2.0 + r / 6.0) * r2;
    let middle = (1.0 / 24.0 + r * (1.0 / 120.0)) + (1.0 / 720.0 + r * (1.0 / 5040.0)) * r2;
    let high = (1.0 / 40_320.0 + r * (1.0 / 362_880.0))
        + (1.0 / 3_628_800.0 + r * (1.0 / 39_916_800.0)) * r2
        + r4 * (1.0 / 479_001_600.0);
    let power = f64::from_bits(rounded.to_bits().wrapping_add(BIAS) << PLACE);
    (low + middle * r4 + high * (r4 * r4)) * power
}

#[inline(always)]
fn ln_of_one(x: f64) -> f64 {
    /// ½√2, where m begins.
    const FROM: u64 = std::f64::consts::FRAC_1_SQRT_2.to_bits();
    /// 2⁵², whose last bits count ones.
    const COUNTS: f64 = 4_503_599_627_370_496.0;
    let bits = x.to_bits();
    let biased = bits.wrapping_sub(FROM).wrapping_add(BIAS << PLACE) >> PLACE;
    let m = f64::from_bits(bits.wrapping_sub(biased << PLACE).wrapping_add(BIAS << PLACE));
    let k = f64::from_bits(COUNTS.to_bits() | biased) - (COUNTS + BIAS as f64);
    let f = m - 1.0;
    let s = f / (2.0 + f);
    let z = s * s;
    let w = z * z;
    let even = w
        * (3.999_999_999_940_942e-1
            + w * (2.222_219_843_214_978_4e-1 + w * 1.531_383_769_920_937_3e-1));
    let odd = z
        * (6.666_666_666_666_735e-1
            + w * (2.857_142_874_366_239e-1
                + w * (1.818_357_216_161_805e-1 + w * 1.479_819_860_511_658_6e-1)));
    let half = 0.5 * f * f;
    k * LN2_HIGH - ((half - (s * (half + even + odd) + k * LN2_LOW)) - f)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Within 1e-14 of the library's; near 1, where a logarithm vanishes, of 1.
    fn is_near(ours: f64, library: f64) -> bool {
        (ours - library).abs() <= 1e-14 * library.abs().max(f64::MIN_POSITIVE)
    }

    proptest! {
        #[test]
        fn exponentials_are_those_of_the_library(x in proptest::array::uniform4(-708.0f64..709.0)) {
            for (ours, x) in exp(x).into_iter().zip(x) {
                prop_assert!(is_near(ours, x.exp()), "e^{x} = {}, not {ours}", x.exp());
            }
        }

        #[test]
        fn logarithms_are_those_of_the_library(power in -1000.0f64..1000.0, m in 0.5f64..2.0) {
            let x = m * 2f64.powi(power as i32);
            let [ours] = ln([x]);
            prop_assert!(is_near(ours, x.ln()), "ln {x} = {}, not {ours}", x.ln());
            let [near_one] = ln([m]);
            prop_assert!((near_one - m.ln()).abs() <= 1e-15);
        }
    }

    #[test]
    fn ends_are_held_and_ones_are_exact() {
        let [zero, e, small, large] = exp([0.0, 1.0, -1e9, 1e9]);
        assert_eq!(zero.to_bits(), 1.0f64.to_bits());
        assert!((e - std::f64::consts::E).abs() < 1e-15);
        assert!(small > 0.0 && small < 1e-300 && large.is_finite() && large > 1e300);
        assert_eq!(ln([1.0])[0].to_bits(), 0.0f64.to_bits());
    }
}

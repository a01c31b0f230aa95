//! The interval in which a cast's peak and its deepest layer lie, as far as the
//! resin is known.

use crate::column::{Accuracy, Deepest, Goal, Stack, deepest_layer};
use crate::error::HeatError;
use crate::poured::Poured;
use crate::surroundings::Surroundings;
use fondant_materials::resin::{Learnt, Resin};

use super::factors::Factors;
use super::learning::Lesson;

/// Standard deviations of the logarithms of rate and heat of a bottle about the
/// generic resin of its class. Together they put the peak of a deep layer near
/// its limit 10 to 15 K to either side.
pub const UNKNOWN_RATE: f64 = 0.10;
/// See [`UNKNOWN_RATE`].
pub const UNKNOWN_HEAT: f64 = 0.05;
/// Nine tenths of a normal distribution lie within so many standard deviations.
const NINE_TENTHS: f64 = 1.645;
/// Pairs of rate and heat that a forecast tries.
const TRIALS: usize = 64;
/// Most days after a pour in which the peak is looked for, s.
const HORIZON_S: f64 = 14.0 * 86_400.0;
/// What no reading of the resin can tell keeps a depth this far from its limit.
const LEAST_CAUTION: f64 = 0.04;

/// What is known of a resin's rate and heat.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Knowledge {
    /// Factor on the rate.
    pub rate: f64,
    /// Factor on the heat.
    pub heat: f64,
    /// Variances of their logarithms, and their covariance.
    pub covariance: [f64; 3],
}

impl Knowledge {
    /// Nothing but the class.
    pub const OF_CLASS: Self = Self {
        rate: 1.0,
        heat: 1.0,
        covariance: [UNKNOWN_RATE * UNKNOWN_RATE, UNKNOWN_HEAT * UNKNOWN_HEAT, 0.0],
    };

    /// What is known of a resin.
    #[must_use]
    pub fn of(resin: &Resin) -> Self {
        resin.learnt.as_ref().map_or(Self::OF_CLASS, Self::learnt)
    }

    /// What a lesson has taught.
    #[must_use]
    pub fn learnt(learnt: &Learnt) -> Self {
        Self { rate: learnt.rate, heat: learnt.heat, covariance: learnt.covariance }
    }

    /// What a log has just taught.
    #[must_use]
    pub fn taught(lesson: &Lesson) -> Self {
        let Factors { rate, heat, .. } = lesson.factors;
        Self { rate, heat, covariance: lesson.covariance }
    }

    fn scaled(&self, resin: &Resin, ln_rate: f64, ln_heat: f64) -> Resin {
        let mut scaled = Resin { learnt: None, ..resin.clone() };
        let rate = self.rate * ln_rate.exp();
        scaled.cure.a1_per_s *= rate;
        scaled.cure.a2_per_s *= rate;
        scaled.cure.heat_j_kg *= self.heat * ln_heat.exp();
        scaled
    }
}

/// A layer that is forecast.
#[derive(Debug, Clone, PartialEq)]
pub struct Layer {
    /// Its depth, m.
    pub depth_m: f64,
    /// The resin as it leaves the bucket.
    pub poured: Poured,
    /// What stands around.
    pub surroundings: Surroundings,
}

/// A value and the interval that holds nine in ten.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Interval {
    /// One in twenty lies below.
    pub low: f64,
    /// The value.
    pub value: f64,
    /// One in twenty lies above.
    pub high: f64,
}

/// The peak of a single layer, K. `resin` is the generic one: what is known of
/// it comes on top.
///
/// # Errors
/// What the solver reports.
pub fn peak(resin: &Resin, known: &Knowledge, layer: &Layer) -> Result<Interval, HeatError> {
    let of = |ln_rate: f64, ln_heat: f64| -> Result<f64, HeatError> {
        let scaled = known.scaled(resin, ln_rate, ln_heat);
        let accuracy = Accuracy { cells_per_layer: 12, ..Accuracy::default() };
        let mut stack = Stack::new(&scaled, layer.surroundings.clone(), accuracy);
        stack.pour(layer.depth_m, layer.poured.t_k, layer.poured.conversion)?;
        stack.run(HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
        Ok(stack.peak().map_or(layer.poured.t_k, |(peak, _)| peak))
    };
    let mut peaks = Vec::with_capacity(TRIALS);
    for (a, b) in normal_pairs() {
        let (rate, heat) = correlated(known.covariance, a, b);
        peaks.push(of(rate, heat)?);
    }
    peaks.sort_by(f64::total_cmp);
    let at = |share: f64| {
        let place = share * peaks.len() as f64 - 0.5;
        let below = (place.floor().max(0.0) as usize).min(peaks.len() - 2);
        let part = (place - below as f64).clamp(0.0, 1.0);
        peaks[below] + part * (peaks[below + 1] - peaks[below])
    };
    Ok(Interval { low: at(0.05), value: of(0.0, 0.0)?, high: at(0.95) })
}

/// The deepest single layer, m. Its logarithm is nearly straight in those of
/// rate and heat, so that their slopes carry the doubt over.
///
/// # Errors
/// What the solver reports.
pub fn deepest(resin: &Resin, known: &Knowledge, layer: &Layer) -> Result<Interval, HeatError> {
    let limit_k = resin.working.peak_limit.k();
    let of = |ln_rate: f64, ln_heat: f64| -> Result<f64, HeatError> {
        let scaled = known.scaled(resin, ln_rate, ln_heat);
        let accuracy = Accuracy { cells_per_layer: 12, ..Accuracy::default() };
        deepest_layer(&scaled, &layer.surroundings, layer.poured, limit_k, accuracy)
            .map(|found| found.safe_m())
    };
    let value = match deepest_layer(
        &known.scaled(resin, 0.0, 0.0),
        &layer.surroundings,
        layer.poured,
        limit_k,
        Accuracy::default(),
    )? {
        Deepest::Limited { depth_m } => depth_m,
        other => {
            let depth_m = other.safe_m();
            return Ok(Interval { low: depth_m, value: depth_m, high: depth_m });
        }
    };
    let step = 0.03;
    let slope = |up: f64, down: f64| (up.max(1e-4) / down.max(1e-4)).ln() / (2.0 * step);
    let by_rate = slope(of(step, 0.0)?, of(-step, 0.0)?);
    let by_heat = slope(of(0.0, step)?, of(0.0, -step)?);
    let [rate, heat, both] = known.covariance;
    let variance =
        by_rate * by_rate * rate + by_heat * by_heat * heat + 2.0 * by_rate * by_heat * both;
    let away = NINE_TENTHS * variance.max(0.0).sqrt();
    Ok(Interval { low: value * (-away).exp(), value, high: value * away.exp() })
}

/// The share by which a plan keeps off the deepest layer: to the cautious edge of
/// the interval of a resin that has learnt.
///
/// # Errors
/// What the solver reports.
pub fn caution(resin: &Resin, learnt: &Learnt, layer: &Layer) -> Result<f64, HeatError> {
    let found = deepest(resin, &Knowledge::learnt(learnt), layer)?;
    Ok((1.0 - found.low / found.value.max(1e-6)).max(LEAST_CAUTION))
}

/// A pair of independent normal numbers with the covariance given.
fn correlated([rate, heat, both]: [f64; 3], a: f64, b: f64) -> (f64, f64) {
    let sd = rate.max(0.0).sqrt();
    let across = if sd > 0.0 { both / sd } else { 0.0 };
    (sd * a, across * a + (heat - across * across).max(0.0).sqrt() * b)
}

/// Pairs of independent normal numbers, spread evenly: an additive recurrence of
/// two irrational steps through the method of Box and Muller.
fn normal_pairs() -> impl Iterator<Item = (f64, f64)> {
    const PLASTIC: f64 = 1.324_717_957_244_746;
    (0..TRIALS).map(|index| {
        let turn = index as f64 + 1.0;
        let u = (0.5 + turn / PLASTIC).fract().max(1e-9);
        let v = (0.5 + turn / (PLASTIC * PLASTIC)).fract();
        let radius = (-2.0 * u.ln()).sqrt();
        let angle = std::f64::consts::TAU * v;
        (radius * angle.cos(), radius * angle.sin())
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{ResinClass, shipped};

    fn layer(depth_mm: f64) -> Layer {
        Layer {
            depth_m: depth_mm * 1e-3,
            poured: Poured::fresh(293.15),
            surroundings: Surroundings::still_air(293.15),
        }
    }

    #[test]
    fn the_pairs_are_normal_enough() {
        let pairs: Vec<(f64, f64)> = normal_pairs().collect();
        let n = pairs.len() as f64;
        let mean = pairs.iter().map(|p| p.0).sum::<f64>() / n;
        let variance = pairs.iter().map(|p| p.0 * p.0).sum::<f64>() / n;
        let product = pairs.iter().map(|p| p.0 * p.1).sum::<f64>() / n;
        assert!(mean.abs() < 0.06 && (variance - 1.0).abs() < 0.12 && product.abs() < 0.08);
    }

    #[test]
    fn without_a_lesson_a_deep_peak_is_known_to_ten_to_fifteen_kelvins() {
        let resin = shipped::generic(ResinClass::SlowCasting);
        let found = peak(&resin, &Knowledge::OF_CLASS, &layer(50.0)).unwrap();
        assert!((found.value - 273.15 - 62.5).abs() < 0.3);
        for width in [found.high - found.value, found.value - found.low] {
            assert!((9.0..17.0).contains(&width), "{found:?}");
        }
        let depth = deepest(&resin, &Knowledge::OF_CLASS, &layer(50.0)).unwrap();
        assert!((depth.value * 1e3 - 51.8).abs() < 0.3);
        assert!((0.75..0.92).contains(&(depth.low / depth.value)), "{depth:?}");
    }

    #[test]
    fn a_lesson_narrows_both() {
        let resin = shipped::generic(ResinClass::SlowCasting);
        let known = Knowledge { rate: 1.2, heat: 0.95, covariance: [2e-4, 1e-4, -1e-4] };
        let found = peak(&resin, &known, &layer(50.0)).unwrap();
        assert!(found.high - found.low < 6.0, "{found:?}");
        let learnt = Learnt {
            rate: 1.2,
            heat: 0.95,
            covariance: known.covariance,
            lot: String::new(),
            at: jiff::Timestamp::UNIX_EPOCH,
        };
        assert!(caution(&resin, &learnt, &layer(50.0)).unwrap() < 0.08);
    }
}

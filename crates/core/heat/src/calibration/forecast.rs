//! The interval in which a cast's peak and its deepest layer lie, as far as the
//! resin is known.

use crate::column::{Accuracy, Deepest, Goal, Stack, deepest_layer};
use crate::error::HeatError;
use crate::poured::Poured;
use crate::surroundings::Surroundings;
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;

/// Standard deviations on either side that hold 90 % of a normal distribution.
const NINE_TENTHS: f64 = 1.645;
/// Pairs of rate and heat that a forecast tries.
const TRIALS: usize = 64;
/// Most days after a pour in which the peak is looked for, s.
const HORIZON_S: f64 = 14.0 * 86_400.0;
/// What no reading of the resin can tell keeps a depth this far from its limit.
const LEAST_CAUTION: f64 = 0.04;

/// A layer that is forecast.
#[derive(Debug, Clone, PartialEq)]
pub struct Layer {
    /// Depth of the layer, m.
    pub depth_m: f64,
    /// The resin as it leaves the bucket.
    pub poured: Poured,
    /// Surroundings.
    pub surroundings: Surroundings,
    /// Ends the forecast where it is no longer wanted.
    pub stop: Stop,
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

/// The peak of a single layer, K, as far as the resin's rate and heat are known.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn peak(resin: &Calibrated, layer: &Layer) -> Result<Interval, HeatError> {
    let of = |ln_rate: f64, ln_heat: f64| -> Result<f64, HeatError> {
        let scaled = resin.scaled(ln_rate.exp(), ln_heat.exp());
        let accuracy = Accuracy::default().until(&layer.stop);
        let mut stack = Stack::new(&scaled, layer.surroundings.clone(), &accuracy);
        stack.pour(layer.depth_m, layer.poured.t_k, layer.poured.conversion)?;
        stack.run(HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
        Ok(stack.peak().map_or(layer.poured.t_k, |(peak, _)| peak))
    };
    let mut peaks = Vec::with_capacity(TRIALS);
    for (a, b) in normal_pairs() {
        let (rate, heat) = correlated(resin.covariance(), a, b);
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
/// rate and heat, so that their slopes carry the uncertainty over.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn deepest(resin: &Calibrated, layer: &Layer) -> Result<Interval, HeatError> {
    let limit_k = resin.working.peak_limit.k();
    let of = |ln_rate: f64, ln_heat: f64| -> Result<f64, HeatError> {
        let scaled = resin.scaled(ln_rate.exp(), ln_heat.exp());
        let accuracy = Accuracy::default().until(&layer.stop);
        deepest_layer(&scaled, &layer.surroundings, layer.poured, limit_k, &accuracy)
            .map(|found| found.safe_m())
    };
    let value = match deepest_layer(
        resin,
        &layer.surroundings,
        layer.poured,
        limit_k,
        &Accuracy::default().until(&layer.stop),
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
    let [rate, heat, both] = resin.covariance();
    let variance =
        by_rate * by_rate * rate + by_heat * by_heat * heat + 2.0 * by_rate * by_heat * both;
    let away = NINE_TENTHS * variance.max(0.0).sqrt();
    Ok(Interval { low: value * (-away).exp(), value, high: value * away.exp() })
}

/// The share by which a plan keeps off the deepest layer: to the cautious edge of
/// the interval of a resin that has learnt.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn caution(resin: &Calibrated, layer: &Layer) -> Result<f64, HeatError> {
    let found = deepest(resin, layer)?;
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
    use fondant_materials::resin::{Calibration, Properties, ResinClass, shipped};

    fn layer(depth_mm: f64) -> Layer {
        Layer {
            depth_m: depth_mm * 1e-3,
            poured: Poured::fresh(293.15),
            surroundings: Surroundings::still_air(293.15),
            stop: Stop::NEVER,
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
        let resin = shipped::model(ResinClass::SlowCasting);
        let found = peak(&resin, &layer(50.0)).unwrap();
        assert!((found.value - 273.15 - 62.5).abs() < 0.3);
        for width in [found.high - found.value, found.value - found.low] {
            assert!((9.0..17.0).contains(&width), "{found:?}");
        }
        let depth = deepest(&resin, &layer(50.0)).unwrap();
        assert!((depth.value * 1e3 - 51.8).abs() < 0.3);
        assert!((0.75..0.92).contains(&(depth.low / depth.value)), "{depth:?}");
    }

    #[test]
    fn a_lesson_narrows_both() {
        let resin = shipped::model(ResinClass::SlowCasting);
        let calibration = Calibration {
            rate: 1.2,
            heat: 0.95,
            covariance: [2e-4, 1e-4, -1e-4],
            lot: String::new(),
            at: jiff::Timestamp::UNIX_EPOCH,
        };
        let resin = Calibrated::by(Properties::clone(&resin), &calibration);
        let found = peak(&resin, &layer(50.0)).unwrap();
        assert!(found.high - found.low < 6.0, "{found:?}");
        assert!(caution(&resin, &layer(50.0)).unwrap() < 0.08);
    }
}

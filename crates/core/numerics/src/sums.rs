//! Sums over the unknowns of a system.

use crate::lanes::Wide;

/// Adds each of the `xs` with its factor, a few of `y` at a time so that their sums stay in registers.
pub(crate) fn add_all(y: &mut [f64], factors: &[f64], xs: &[Vec<f64>]) {
    Wide::new().run(
        #[inline(always)]
        || add_all_here(y, factors, xs),
    );
}

#[inline(always)]
fn add_all_here(y: &mut [f64], factors: &[f64], xs: &[Vec<f64>]) {
    const WIDTH: usize = 8;
    let (whole, rest) = y.as_chunks_mut::<WIDTH>();
    for (chunk, y) in whole.iter_mut().enumerate() {
        let mut sum = *y;
        for (factor, x) in factors.iter().zip(xs) {
            let (x, _) = x.as_chunks::<WIDTH>();
            for (sum, x) in sum.iter_mut().zip(&x[chunk]) {
                *sum += factor * x;
            }
        }
        *y = sum;
    }
    let begun = WIDTH * whole.len();
    for (factor, x) in factors.iter().zip(xs) {
        add_scaled(rest, *factor, &x[begun..]);
    }
}

/// Adds one of them.
#[inline(always)]
pub(crate) fn add_scaled(y: &mut [f64], factor: f64, x: &[f64]) {
    for (y, x) in y.iter_mut().zip(x) {
        *y += factor * x;
    }
}

/// The largest error in units of its tolerance; NaN counts as infinite.
pub(crate) fn largest_ratio(error: &[f64], tolerance: &[f64]) -> f64 {
    let mut largest = 0.0f64;
    for (e, tolerance) in error.iter().zip(tolerance) {
        let ratio = e.abs() / tolerance;
        if ratio.is_nan() {
            return f64::INFINITY;
        }
        largest = largest.max(ratio);
    }
    largest.max(1e-12)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Nineteen unknowns: two chunks of eight, and three.
    #[test]
    fn every_unknown_gets_every_part() {
        let xs: Vec<Vec<f64>> =
            (1..4).map(|k| (0..19).map(|i| f64::from(k * i)).collect()).collect();
        let mut y = vec![1.0; 19];
        add_all(&mut y, &[1.0, -2.0, 10.0], &xs);
        for (i, y) in (0..19).zip(y) {
            let by_hand = 1.0 + f64::from(i) * (1.0 - 4.0 + 30.0);
            assert!((y - by_hand).abs() < 1e-12, "{i}: {y}");
        }
    }

    #[test]
    fn no_number_is_infinitely_far_off() {
        assert!((largest_ratio(&[0.5, -3.0], &[1.0, 2.0]) - 1.5).abs() < 1e-15);
        assert!(largest_ratio(&[f64::NAN], &[1.0]).is_infinite());
    }
}

//! Where a function crosses zero.

/// Largest number of evaluations that [`brent`] makes. Bisection alone halves
/// a bracket 60 times before it reaches the resolution of an `f64`.
const MAX_EVALUATIONS: usize = 80;

/// Brent's method: bisection kept safe, secant and inverse quadratic steps
/// where they help (R. P. Brent, *Algorithms for Minimization without
/// Derivatives*, 1973, ch. 4).
///
/// `f_low` and `f_high` are the values at the ends, which must differ in sign;
/// otherwise `None`. The root is within `tolerance` of the one returned. An
/// error of `f` ends the search and is handed on.
///
/// # Errors
/// What `f` returns.
pub fn brent<E>(
    (low, f_low): (f64, f64),
    (high, f_high): (f64, f64),
    tolerance: f64,
    mut f: impl FnMut(f64) -> Result<f64, E>,
) -> Result<Option<f64>, E> {
    if (f_low > 0.0) == (f_high > 0.0) {
        return Ok(None);
    }
    let (mut a, mut fa, mut b, mut fb) = (low, f_low, high, f_high);
    let (mut c, mut fc) = (a, fa);
    let mut step = b - a;
    let mut previous = step;
    for _ in 0..MAX_EVALUATIONS {
        if (fb > 0.0) == (fc > 0.0) {
            (c, fc) = (a, fa);
            step = b - a;
            previous = step;
        }
        if fc.abs() < fb.abs() {
            (a, fa, b, fb, c, fc) = (b, fb, c, fc, b, fb);
        }
        let reach = 2.0 * f64::EPSILON * b.abs() + 0.5 * tolerance;
        let half = 0.5 * (c - b);
        if half.abs() <= reach || fb == 0.0 {
            return Ok(Some(b));
        }
        if previous.abs() < reach || fa.abs() <= fb.abs() {
            step = half;
            previous = half;
        } else {
            let (p, q) = interpolation((a, fa), (b, fb), (c, fc));
            if 2.0 * p < (3.0 * half * q - (reach * q).abs()).min((previous * q).abs()) {
                previous = step;
                step = p / q;
            } else {
                step = half;
                previous = half;
            }
        }
        (a, fa) = (b, fb);
        b += if step.abs() > reach { step } else { reach.copysign(half) };
        fb = f(b)?;
    }
    Ok(Some(b))
}

/// The step from `b` towards the interpolated root, as a fraction p / q with p ≥ 0.
fn interpolation((a, fa): (f64, f64), (b, fb): (f64, f64), (c, fc): (f64, f64)) -> (f64, f64) {
    let s = fb / fa;
    // After a swap c stands exactly at a: only two points to go by.
    let (p, q) = if (a - c).abs() <= f64::EPSILON * a.abs() {
        ((c - b) * s, 1.0 - s)
    } else {
        let (q, r) = (fa / fc, fb / fc);
        (s * ((c - b) * q * (q - r) - (b - a) * (r - 1.0)), (q - 1.0) * (r - 1.0) * (s - 1.0))
    };
    if p > 0.0 { (p, -q) } else { (-p, q) }
}

/// The first place in 0…1 where `reached` turns true, by bisection to a millionth (2⁻²⁰).
///
/// Assumes that `reached` is false at 0 and true at 1 and changes once.
#[must_use]
pub fn first_true(mut reached: impl FnMut(f64) -> bool) -> f64 {
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..20 {
        let middle = 0.5 * (low + high);
        if reached(middle) {
            high = middle;
        } else {
            low = middle;
        }
    }
    high
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::convert::Infallible;

    #[test]
    fn a_root_is_found_to_the_tolerance_in_few_evaluations() {
        let mut calls = 0;
        let root = brent::<Infallible>((0.0, -2.0), (3.0, 25.0), 1e-10, |x| {
            calls += 1;
            Ok(x.powi(3) - 2.0)
        });
        assert!((root.unwrap().unwrap() - 2f64.cbrt()).abs() < 1e-10);
        assert!(calls <= 12, "{calls} evaluations");
    }

    #[test]
    fn ends_of_one_sign_have_no_root() {
        let root = brent::<Infallible>((0.0, 1.0), (1.0, 2.0), 1e-6, |_| Ok(1.0));
        assert_eq!(root, Ok(None));
    }

    #[test]
    fn an_error_of_the_function_is_handed_on() {
        assert_eq!(brent((0.0, -1.0), (1.0, 1.0), 1e-6, |_| Err("broke")), Err("broke"));
    }

    #[test]
    fn the_first_true_is_where_the_change_is() {
        assert!((first_true(|x| x >= 0.37) - 0.37).abs() < 1e-6);
    }
}

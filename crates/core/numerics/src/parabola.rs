//! The vertex of the parabola through three equally spaced points.

/// Offset of the vertex from the middle point, in steps, and the value there.
///
/// `None` where the three points do not bend downwards, so that there is no
/// maximum to find. The offset is not clamped: three points of a slope put it
/// outside −1…1.
#[must_use]
pub fn maximum(left: f64, middle: f64, right: f64) -> Option<(f64, f64)> {
    let curvature = left - 2.0 * middle + right;
    if curvature >= 0.0 {
        return None;
    }
    let slope = 0.5 * (right - left);
    let offset = -slope / curvature;
    Some((offset, value_at(left, middle, right, offset)))
}

/// The value of the parabola `offset` steps from its middle point.
#[must_use]
pub fn value_at(left: f64, middle: f64, right: f64, offset: f64) -> f64 {
    let curvature = left - 2.0 * middle + right;
    let slope = 0.5 * (right - left);
    middle + offset * (slope + 0.5 * curvature * offset)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_parabola_is_recovered_exactly() {
        let f = |x: f64| 7.0 - 2.0 * (x - 0.3).powi(2);
        let (offset, value) = maximum(f(-1.0), f(0.0), f(1.0)).unwrap();
        assert!((offset - 0.3).abs() < 1e-12);
        assert!((value - 7.0).abs() < 1e-12);
    }

    #[test]
    fn a_valley_and_a_line_have_no_maximum() {
        assert_eq!(maximum(1.0, 0.0, 1.0), None);
        assert_eq!(maximum(0.0, 1.0, 2.0), None);
    }
}

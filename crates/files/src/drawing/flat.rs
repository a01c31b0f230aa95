//! Curves flattened: no chord lies farther from its curve than a tolerance.

use std::f64::consts::TAU;

use fondant_shapes::geometry::{Point, Ring};

/// Segments of a full turn at most: 0.05 mm at 40 m.
const MOST_SEGMENTS: f64 = 2_000.0;
/// How often a span of a curve is halved at most.
const MOST_HALVINGS: u32 = 12;

/// From one angle counterclockwise to the other; a full turn where they agree.
#[must_use]
pub fn sweep(from: f64, to: f64) -> f64 {
    let sweep = (to - from).rem_euclid(TAU);
    if sweep < 1e-9 { TAU } else { sweep }
}

/// Part of a circle as a line, closed exactly where it is a full turn.
#[must_use]
pub fn arc(middle: Point, radius: f64, from: f64, sweep: f64, tolerance: f64) -> Ring {
    let across = Point { x_m: 0.0, y_m: radius };
    elliptic(middle, (Point { x_m: radius, y_m: 0.0 }, across), from, sweep, tolerance)
}

/// Part of an ellipse by its two half axes, from a parameter on.
#[must_use]
pub fn elliptic(
    middle: Point,
    (major, minor): (Point, Point),
    from: f64,
    sweep: f64,
    tolerance: f64,
) -> Ring {
    let steps = segments(major.norm_m().max(minor.norm_m()), sweep, tolerance);
    let at = |angle: f64| {
        let (sin, cos) = angle.sin_cos();
        middle.plus(major.times(cos)).plus(minor.times(sin))
    };
    let mut ring: Ring = (0..=steps).map(|i| at(from + sweep * i as f64 / steps as f64)).collect();
    if (sweep.abs() - TAU).abs() < 1e-9 {
        let last = ring.len() - 1;
        ring[last] = ring[0];
    }
    ring
}

/// Steps that keep a chord within the tolerance of its arc.
fn segments(radius: f64, sweep: f64, tolerance: f64) -> usize {
    let ratio = (1.0 - tolerance / radius.abs().max(tolerance)).clamp(-1.0, 1.0);
    let step = (2.0 * ratio.acos()).max(TAU / MOST_SEGMENTS);
    (sweep.abs() / step).ceil().clamp(8.0, MOST_SEGMENTS) as usize
}

/// A polyline whose edges may bulge: the bulge is the tangent of a quarter of the arc's angle.
#[must_use]
pub fn bulging(vertices: &[(Point, f64)], is_closed: bool, tolerance: f64) -> Ring {
    let mut ring = Vec::new();
    for (index, (a, bulge)) in vertices.iter().enumerate() {
        ring.push(*a);
        let next = if index + 1 < vertices.len() { index + 1 } else { 0 };
        let b = vertices[next].0;
        if (next == 0 && !is_closed) || bulge.abs() < 1e-9 || b.minus(*a).norm_m() < 1e-12 {
            continue;
        }
        let (chord, sweep) = (b.minus(*a), 4.0 * bulge.atan());
        let radius = 0.5 * chord.norm_m() / (0.5 * sweep).sin().abs().max(1e-12);
        let height = 0.5 * chord.norm_m() / (0.5 * sweep).tan();
        let normal = Point { x_m: -chord.y_m, y_m: chord.x_m }.times(1.0 / chord.norm_m());
        let middle = a.towards(b, 0.5).plus(normal.times(height));
        let from = a.minus(middle).y_m.atan2(a.minus(middle).x_m);
        let round = arc(middle, radius, from, sweep, tolerance);
        ring.extend(round[1..round.len() - 1].iter().copied());
    }
    if is_closed && let Some(first) = ring.first().copied() {
        ring.push(first);
    }
    ring
}

/// A curve over an interval, halved until its middle and quarters lie on its chords.
#[must_use]
pub fn curve(at: &impl Fn(f64) -> Option<Point>, (from, to): (f64, f64), tolerance: f64) -> Ring {
    let mut ring = Vec::new();
    if let (Some(a), Some(b)) = (at(from), at(to)) {
        ring.push(a);
        halved(at, ((from, a), (to, b)), tolerance, MOST_HALVINGS, &mut ring);
    }
    ring
}

fn halved(
    at: &impl Fn(f64) -> Option<Point>,
    ((from, a), (to, b)): ((f64, Point), (f64, Point)),
    tolerance: f64,
    halvings: u32,
    ring: &mut Ring,
) {
    let is_off =
        |share: f64| at(from + (to - from) * share).is_some_and(|p| distance(p, a, b) > tolerance);
    let middle = 0.5 * (from + to);
    // Three places: the middle alone lies on the chord of an S.
    if halvings > 0
        && [0.5, 0.25, 0.75].into_iter().any(is_off)
        && let Some(m) = at(middle)
    {
        halved(at, ((from, a), (middle, m)), tolerance, halvings - 1, ring);
        halved(at, ((middle, m), (to, b)), tolerance, halvings - 1, ring);
    } else {
        ring.push(b);
    }
}

/// From a point to the line between two others, ends included.
fn distance(p: Point, a: Point, b: Point) -> f64 {
    let along = b.minus(a);
    let length2 = along.x_m * along.x_m + along.y_m * along.y_m;
    let reach = p.minus(a);
    let share = if length2 > 0.0 {
        ((reach.x_m * along.x_m + reach.y_m * along.y_m) / length2).clamp(0.0, 1.0)
    } else {
        0.0
    };
    p.minus(a.plus(along.times(share))).norm_m()
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::geometry::signed_area_m2;
    use proptest::prelude::*;

    #[test]
    fn a_full_turn_closes_and_half_a_bulge_is_half_a_circle() {
        let ring = arc(Point::default(), 0.1, 1.0, TAU, 5e-5);
        assert_eq!(ring[0], ring[ring.len() - 1]);
        let ends = [(Point::default(), 1.0), (Point { x_m: 0.2, y_m: 0.0 }, 0.0)];
        let area = signed_area_m2(&bulging(&ends, true, 5e-5)).abs();
        let half = std::f64::consts::PI * 0.01 / 2.0;
        assert!((area / half - 1.0).abs() < 1e-3, "{area}");
    }

    proptest! {
        #[test]
        fn chords_of_an_ellipse_keep_to_it(a in 0.005f64..5.0, share in 0.05f64..1.0) {
            let axes = (Point { x_m: a, y_m: 0.0 }, Point { x_m: 0.0, y_m: a * share });
            let ring = elliptic(Point::default(), axes, 0.0, TAU, 5e-5);
            for pair in ring.windows(2) {
                let middle = pair[0].towards(pair[1], 0.5);
                let angle = (middle.y_m / share).atan2(middle.x_m);
                let (sin, cos) = angle.sin_cos();
                let on = Point { x_m: a * cos, y_m: a * share * sin };
                prop_assert!(on.minus(middle).norm_m() <= 5.1e-5);
            }
        }

        #[test]
        fn chords_of_a_cubic_keep_to_it(b in -9.0f64..9.0, c in -9.0f64..9.0, d in -9.0f64..9.0) {
            let at = |t: f64| Some(Point { x_m: t, y_m: b * t + c * t * t + d * t * t * t });
            let ring = curve(&at, (0.0, 1.0), 5e-5);
            for pair in ring.windows(2) {
                for share in [0.1, 0.3, 0.5, 0.7, 0.9] {
                    let t = pair[0].x_m + (pair[1].x_m - pair[0].x_m) * share;
                    if let Some(p) = at(t) {
                        prop_assert!(distance(p, pair[0], pair[1]) < 1e-4);
                    }
                }
            }
        }
    }
}

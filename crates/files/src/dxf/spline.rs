//! Splines, by their control points or by the points that they run through.

use fondant_shapes::geometry::{Point, Ring};

use super::pairs::{Pair, all, first, flags};
use crate::FileError;
use crate::drawing::flat;

/// Highest degree of a spline.
const MOST_DEGREE: usize = 9;
/// Rounds of relaxation: the system is diagonally dominant by two, each round halves the error.
const ROUNDS: usize = 60;

/// A rational B-spline.
#[derive(Debug)]
pub(super) struct BSpline {
    pub(super) control: Vec<Point>,
    pub(super) weights: Vec<f64>,
    pub(super) knots: Vec<f64>,
    pub(super) degree: usize,
}

/// Points that a curve runs through.
#[derive(Debug)]
pub(super) struct Through {
    pub(super) points: Vec<Point>,
    pub(super) begins: Option<Point>,
    pub(super) ends: Option<Point>,
    pub(super) is_closed: bool,
}

/// The line of a SPLINE entity.
pub(super) fn line(pairs: &[Pair<'_>], tolerance: f64) -> Result<Ring, FileError> {
    let control = points(pairs, 10, 20)?;
    let weights = all(pairs, 41)?;
    let degree = degree(first(pairs, 71, 3.0)?);
    let spline = BSpline { weights, knots: all(pairs, 40)?, degree, control };
    if let Some(line) = spline.line(tolerance) {
        return Ok(line);
    }
    let tangent = |x, y| Ok::<_, FileError>(points(pairs, x, y)?.first().copied());
    let through = Through {
        points: points(pairs, 11, 21)?,
        begins: tangent(12, 22)?,
        ends: tangent(13, 23)?,
        is_closed: flags(pairs, 70)? & 1 == 1,
    };
    Ok(through.line(tolerance))
}

pub(super) fn degree(value: f64) -> usize {
    value.clamp(1.0, MOST_DEGREE as f64) as usize
}

/// Points by the codes of their coordinates.
pub(super) fn points(pairs: &[Pair<'_>], x: i32, y: i32) -> Result<Vec<Point>, FileError> {
    let (xs, ys) = (all(pairs, x)?, all(pairs, y)?);
    Ok(xs.into_iter().zip(ys).map(|(x, y)| Point { x_m: x, y_m: y }).collect())
}

impl BSpline {
    /// The curve as a line; `None` without a sound net of control points.
    pub(super) fn line(mut self, tolerance: f64) -> Option<Ring> {
        let Self { control, knots, degree, .. } = &self;
        let (count, degree) = (control.len(), *degree);
        let is_in_order = knots.windows(2).all(|pair| pair[0] <= pair[1]);
        if count <= degree || knots.len() != count + degree + 1 || !is_in_order {
            return None;
        }
        if self.weights.len() != count {
            self.weights = vec![1.0; count];
        }
        let mut ring = Ring::new();
        for span in degree..count {
            let (from, to) = (self.knots[span], self.knots[span + 1]);
            if to > from {
                let part = flat::curve(&|t| self.at(span, t), (from, to), tolerance);
                ring.extend(part.into_iter().skip(usize::from(!ring.is_empty())));
            }
        }
        (ring.len() > 1).then_some(ring)
    }

    /// A point on a span (C. de Boor, *A Practical Guide to Splines*, chapter IX, in homogeneous
    /// coordinates).
    fn at(&self, span: usize, t: f64) -> Option<Point> {
        let Self { control, weights, knots, degree } = self;
        let mut d: Vec<(Point, f64)> =
            (span - degree..=span).map(|i| (control[i].times(weights[i]), weights[i])).collect();
        for round in 1..=*degree {
            for j in (round..=*degree).rev() {
                let i = span - degree + j;
                let width = knots[i + degree + 1 - round] - knots[i];
                let share = if width.abs() > 1e-15 { (t - knots[i]) / width } else { 0.0 };
                let weight = d[j - 1].1 * (1.0 - share) + d[j].1 * share;
                d[j] = (d[j - 1].0.towards(d[j].0, share), weight);
            }
        }
        let (p, w) = d[*degree];
        (w.abs() > 1e-12).then(|| p.times(1.0 / w))
    }
}

impl Through {
    /// The cubic spline through the points, smooth to the second derivative over the length of its
    /// chords (de Boor, chapter IV): with the tangents at its ends where they are given, without
    /// curvature there where not, and round without an end where it is closed.
    pub(super) fn line(mut self, tolerance: f64) -> Ring {
        self.points.dedup_by(|a, b| a.minus(*b).norm_m() < 1e-12);
        if let [first, .., last] = self.points[..] {
            if first.minus(last).norm_m() < 1e-9 * first.norm_m().max(1.0) {
                self.is_closed = true;
            } else if self.is_closed {
                self.points.push(first);
            }
        }
        if self.points.len() < 3 {
            return self.points;
        }
        let steps: Vec<f64> = self.points.windows(2).map(|p| p[1].minus(p[0]).norm_m()).collect();
        let slopes = self.slopes(&steps);
        let mut ring = Ring::new();
        for (i, step) in steps.iter().enumerate() {
            let (p, q) = (self.points[i], self.points[i + 1]);
            let (d, e) = (slopes[i].times(*step), slopes[i + 1].times(*step));
            let at = |t: f64| Some(hermite((p, d), (q, e), t));
            let part = flat::curve(&at, (0.0, 1.0), tolerance);
            ring.extend(part.into_iter().skip(usize::from(i > 0)));
        }
        ring
    }

    /// The derivative at each point by the length of the chords, by relaxation.
    fn slopes(&self, h: &[f64]) -> Vec<Point> {
        let (p, last) = (&self.points, h.len());
        let chord = |i: usize| p[i + 1].minus(p[i]).times(1.0 / h[i]);
        let inner = |h0: f64, h1: f64, c0: Point, c1: Point, before: Point, after: Point| {
            let wanted = c0.times(h1).plus(c1.times(h0)).times(3.0);
            let around = before.times(h1).plus(after.times(h0));
            wanted.minus(around).times(0.5 / (h0 + h1))
        };
        let mut d: Vec<Point> = (0..=last).map(|i| chord(i.min(last - 1))).collect();
        let unit = |v: Point| (v.norm_m() > 0.0).then(|| v.times(1.0 / v.norm_m()));
        let (begins, ends) = (self.begins.and_then(unit), self.ends.and_then(unit));
        for _ in 0..ROUNDS {
            for i in 1..last {
                d[i] = inner(h[i - 1], h[i], chord(i - 1), chord(i), d[i - 1], d[i + 1]);
            }
            if self.is_closed && begins.is_none() && ends.is_none() {
                let (c0, c1) = (chord(last - 1), chord(0));
                d[0] = inner(h[last - 1], h[0], c0, c1, d[last - 1], d[1]);
                d[last] = d[0];
            } else {
                let natural = |chord: Point, next: Point| chord.times(1.5).minus(next.times(0.5));
                d[0] = begins.unwrap_or_else(|| natural(chord(0), d[1]));
                d[last] = ends.unwrap_or_else(|| natural(chord(last - 1), d[last - 1]));
            }
        }
        d
    }
}

/// A cubic between two points with their derivatives, at a share of the way.
fn hermite((p, d): (Point, Point), (q, e): (Point, Point), t: f64) -> Point {
    let (t2, t3) = (t * t, t * t * t);
    p.times(2.0 * t3 - 3.0 * t2 + 1.0)
        .plus(d.times(t3 - 2.0 * t2 + t))
        .plus(q.times(3.0 * t2 - 2.0 * t3))
        .plus(e.times(t3 - t2))
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::geometry::signed_area_m2;
    use std::f64::consts::{PI, TAU};

    fn on_a_circle(count: usize) -> Vec<Point> {
        let at = |i: usize| (TAU * i as f64 / count as f64).sin_cos();
        (0..count).map(|i| Point { x_m: 100.0 * at(i).1, y_m: 100.0 * at(i).0 }).collect()
    }

    /// A spline through points "is joined by straight lines, −10 %".
    #[test]
    fn a_closed_spline_through_points_of_a_circle_is_nearly_the_circle() {
        let through =
            Through { points: on_a_circle(12), begins: None, ends: None, is_closed: true };
        let ring = through.line(0.05);
        for p in &ring {
            assert!((p.norm_m() - 100.0).abs() < 0.06, "{p:?}");
        }
        assert!((signed_area_m2(&ring) / (PI * 1e4) - 1.0).abs() < 1e-3);
    }

    #[test]
    fn tangents_at_the_ends_are_kept() {
        let half = on_a_circle(12).into_iter().take(7).collect();
        let tangent = |x| Some(Point { x_m: 0.0, y_m: x });
        let through =
            Through { points: half, begins: tangent(1.0), ends: tangent(-1.0), is_closed: false };
        for p in through.line(0.05) {
            assert!((p.norm_m() - 100.0).abs() < 0.06, "{p:?}");
        }
    }

    /// A circle of nine control points is exact (L. Piegl and W. Tiller, *The NURBS Book*, 7.5).
    #[test]
    fn a_rational_circle_keeps_to_its_radius() {
        let corners =
            [(1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1), (1, 0)];
        let control = corners
            .map(|(x, y)| Point { x_m: 300.0 * f64::from(x), y_m: 300.0 * f64::from(y) })
            .to_vec();
        let weights = (0..9).map(|i| if i % 2 == 0 { 1.0 } else { 0.5_f64.sqrt() }).collect();
        let knots = [0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 4].map(f64::from).to_vec();
        let ring = BSpline { control, weights, knots, degree: 2 }.line(0.05).unwrap();
        for pair in ring.windows(2) {
            let middle = pair[0].towards(pair[1], 0.5);
            assert!((pair[0].norm_m() - 300.0).abs() < 1e-9);
            assert!(300.0 - middle.norm_m() < 0.051, "{middle:?}");
        }
    }
}

//! Why an outline is invalid, and where.

use super::{Bounds, Outline, Point, Ring, edges};
use fondant_quantities::Area;

/// Most points that one outline may have; a traced photo gives some hundred.
pub const MOST_POINTS: usize = 2000;
/// Least area of an outline: a speck of a centimetre by a centimetre.
pub const LEAST_AREA: Area = Area::from_m2(1e-4);
/// Largest coordinate that makes sense on a bench, metres.
const FARTHEST_M: f64 = 20.0;

/// Why an outline is invalid, and where.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum OutlineFault {
    /// Fewer than three points that differ.
    #[error("{found} points make no outline; at least 3 are needed")]
    TooFewPoints {
        /// Number found.
        found: usize,
    },
    /// More points than are kept.
    #[error("{found} points are more than {MOST_POINTS}")]
    TooManyPoints {
        /// Number found.
        found: usize,
    },
    /// A point that is not a finite place within 10 m.
    #[error("point {} lies nowhere near the bench", index + 1)]
    FarAway {
        /// Which point of the rim or hole, from 0.
        index: usize,
    },
    /// The line crosses or touches itself.
    #[error("the outline crosses itself")]
    CrossesItself {
        /// Place of the fault, m from the form's corner.
        at: Point,
    },
    /// A hole reaches beyond the rim.
    #[error("a hole lies outside of its outline")]
    HoleOutside {
        /// Place of the fault, m from the form's corner.
        at: Point,
    },
    /// Too small to be a board.
    #[error("the outline is too small")]
    TooSmall {
        /// Area of the outline.
        area: Area,
        /// Place of the fault, m from the form's corner.
        at: Point,
    },
}

impl OutlineFault {
    /// The place to mark on a drawing, where there is one.
    #[must_use]
    pub fn place(&self) -> Option<Point> {
        match self {
            Self::CrossesItself { at } | Self::HoleOutside { at } | Self::TooSmall { at, .. } => {
                Some(*at)
            }
            Self::TooFewPoints { .. } | Self::TooManyPoints { .. } | Self::FarAway { .. } => None,
        }
    }
}

/// Everything that is wrong with an outline, after [`Outline::cleaned`].
#[must_use]
pub fn faults(outline: &Outline) -> Vec<OutlineFault> {
    let count = outline.point_count();
    if count > MOST_POINTS {
        return vec![OutlineFault::TooManyPoints { found: count }];
    }
    for ring in outline.rings() {
        let far = |v: f64| !v.is_finite() || v.abs() > FARTHEST_M;
        if let Some(index) = ring.iter().position(|p| far(p.x_m) || far(p.y_m)) {
            return vec![OutlineFault::FarAway { index }];
        }
        if ring.len() < 3 {
            return vec![OutlineFault::TooFewPoints { found: ring.len() }];
        }
    }
    let mut found = Vec::new();
    if let Some(at) = first_crossing(outline) {
        found.push(OutlineFault::CrossesItself { at });
    }
    for hole in &outline.holes {
        if let Some(at) = hole.iter().find(|p| !contains(&outline.outer, **p)) {
            found.push(OutlineFault::HoleOutside { at: *at });
        }
    }
    let area = outline.area();
    if found.is_empty() && area < LEAST_AREA {
        found.push(OutlineFault::TooSmall { area, at: Bounds::of(&outline.outer).middle() });
    }
    found
}

/// Whether a point lies inside a closed line (even–odd rule).
#[must_use]
pub fn contains(ring: &Ring, p: Point) -> bool {
    edges(ring)
        .filter(|(a, b)| (a.y_m > p.y_m) != (b.y_m > p.y_m))
        .filter(|(a, b)| p.x_m < a.x_m + (b.x_m - a.x_m) * (p.y_m - a.y_m) / (b.y_m - a.y_m))
        .count()
        % 2
        == 1
}

/// One edge and where it stands, to tell neighbours from strangers.
struct Edge {
    a: Point,
    b: Point,
    ring: usize,
    index: usize,
    of: usize,
}

/// The first place in which two edges that are not neighbours meet. Edges are
/// swept along x, so that a long outline is not compared edge by edge.
fn first_crossing(outline: &Outline) -> Option<Point> {
    let mut all: Vec<Edge> = Vec::new();
    for (ring, points) in outline.rings().enumerate() {
        let of = points.len();
        all.extend(edges(points).enumerate().map(|(index, (a, b))| Edge { a, b, ring, index, of }));
    }
    all.sort_by(|p, q| p.a.x_m.min(p.b.x_m).total_cmp(&q.a.x_m.min(q.b.x_m)));
    let mut open: Vec<usize> = Vec::new();
    for i in 0..all.len() {
        let edge = &all[i];
        let left = edge.a.x_m.min(edge.b.x_m);
        open.retain(|&j| all[j].a.x_m.max(all[j].b.x_m) >= left);
        for &j in &open {
            let other = &all[j];
            let apart = edge.index.abs_diff(other.index);
            let neighbours = edge.ring == other.ring && (apart == 1 || apart + 1 == edge.of);
            if neighbours {
                if let Some(at) = folds_back(edge, other) {
                    return Some(at);
                }
            } else if let Some(at) = meeting(edge.a, edge.b, other.a, other.b) {
                return Some(at);
            }
        }
        open.push(i);
    }
    None
}

/// Two neighbouring edges that run back over each other: a spike of no width.
fn folds_back(p: &Edge, q: &Edge) -> Option<Point> {
    let (first, second) = if (p.index + 1) % p.of == q.index { (p, q) } else { (q, p) };
    let (u, v) = (first.b.minus(first.a), second.b.minus(second.a));
    let dot = u.x_m * v.x_m + u.y_m * v.y_m;
    (dot < 0.0 && u.cross(v).abs() <= 1e-9 * u.norm_m() * v.norm_m()).then_some(first.b)
}

/// Where two pieces of line meet.
fn meeting(a: Point, b: Point, c: Point, d: Point) -> Option<Point> {
    let (u, v, w) = (b.minus(a), d.minus(c), c.minus(a));
    let denominator = u.cross(v);
    if denominator.abs() <= 1e-12 * u.norm_m() * v.norm_m() {
        // Parallel: they meet only where they lie on one line and overlap.
        if w.cross(u).abs() > SLIP_M * u.norm_m() {
            return None;
        }
        let along = |p: Point| (p.x_m * u.x_m + p.y_m * u.y_m) / (u.norm_m() * u.norm_m());
        let (s, t) = (along(w), along(d.minus(a)));
        let (low, high) = (s.min(t).max(0.0), s.max(t).min(1.0));
        return (low < high).then(|| a.plus(u.times(low)));
    }
    let (s, t) = (w.cross(v) / denominator, w.cross(u) / denominator);
    let within = |share: f64| (0.0..=1.0).contains(&share);
    (within(s) && within(t)).then(|| a.plus(u.times(s)))
}

/// Lines closer than this run on top of each other, metres.
const SLIP_M: f64 = 1e-7;

#[cfg(test)]
mod tests {
    use super::*;

    fn outline(points: &[(f64, f64)]) -> Outline {
        Outline::new(points.iter().map(|(x, y)| Point::from_mm(*x, *y)).collect())
    }

    #[test]
    fn a_figure_of_eight_is_refused_at_its_crossing() {
        let eight = outline(&[(0.0, 0.0), (100.0, 100.0), (100.0, 0.0), (0.0, 100.0)]);
        let found = faults(&eight);
        let [OutlineFault::CrossesItself { at }] = found[..] else { panic!("{found:?}") };
        assert!((at.x_m - 0.05).abs() < 1e-12 && (at.y_m - 0.05).abs() < 1e-12);
    }

    #[test]
    fn spikes_and_touching_lines_are_refused() {
        let spike =
            outline(&[(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (100.0, 40.0), (0.0, 90.0)]);
        assert!(matches!(faults(&spike)[..], [OutlineFault::CrossesItself { .. }]));
        let pinched = outline(&[
            (0.0, 0.0),
            (50.0, 50.0),
            (100.0, 0.0),
            (100.0, 100.0),
            (50.0, 50.0),
            (0.0, 100.0),
        ]);
        assert!(matches!(faults(&pinched)[..], [OutlineFault::CrossesItself { .. }]));
    }

    #[test]
    fn specks_lines_and_far_points_are_refused() {
        assert!(matches!(
            faults(&outline(&[(0.0, 0.0), (5.0, 0.0), (5.0, 5.0)]))[..],
            [OutlineFault::TooSmall { .. }]
        ));
        assert!(matches!(
            faults(&outline(&[(0.0, 0.0), (5.0, 0.0)]))[..],
            [OutlineFault::TooFewPoints { found: 2 }]
        ));
        for odd in [f64::NAN, f64::INFINITY, 1e9] {
            let far = outline(&[(0.0, 0.0), (odd, 0.0), (50.0, 50.0)]);
            assert!(matches!(faults(&far)[..], [OutlineFault::FarAway { index: 1 }]));
        }
        let many = Outline::circle(Point::default(), Length::from_mm(500.0), MOST_POINTS + 1);
        assert!(matches!(faults(&many)[..], [OutlineFault::TooManyPoints { .. }]));
    }

    use fondant_quantities::Length;

    #[test]
    fn a_hole_must_lie_inside() {
        let mut board = outline(&[(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)]);
        board.holes.push(outline(&[(50.0, 50.0), (90.0, 50.0), (90.0, 90.0)]).outer);
        assert_eq!(faults(&board), []);
        board.holes[0] = outline(&[(350.0, 50.0), (390.0, 50.0), (390.0, 90.0)]).outer;
        assert!(matches!(faults(&board)[..], [OutlineFault::HoleOutside { .. }]));
    }
}

//! An outline with holes.

use fondant_quantities::{Area, Length};
use serde::{Deserialize, Serialize};

use super::point::{Point, SAME_POINT_M};

/// A closed line; the last point is joined to the first.
pub type Ring = Vec<Point>;

/// A shape with holes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Outline {
    /// Outer ring.
    pub outer: Ring,
    /// Rings of the holes.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub holes: Vec<Ring>,
}

/// The smallest upright rectangle around something.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Bounds {
    /// Corner with the least coordinates.
    pub min: Point,
    /// Corner with the largest coordinates.
    pub max: Point,
}

impl Bounds {
    /// Around points; of no points, a point at the origin.
    #[must_use]
    pub fn of<'a>(points: impl IntoIterator<Item = &'a Point>) -> Self {
        let mut points = points.into_iter();
        let first = points.next().copied().unwrap_or_default();
        points.fold(Self { min: first, max: first }, |b, p| Self {
            min: Point { x_m: b.min.x_m.min(p.x_m), y_m: b.min.y_m.min(p.y_m) },
            max: Point { x_m: b.max.x_m.max(p.x_m), y_m: b.max.y_m.max(p.y_m) },
        })
    }

    /// Whether the two have a point in common.
    #[must_use]
    pub fn meets(&self, other: &Self) -> bool {
        self.min.x_m <= other.max.x_m
            && other.min.x_m <= self.max.x_m
            && self.min.y_m <= other.max.y_m
            && other.min.y_m <= self.max.y_m
    }

    /// Whether the other lies within, give or take [`SAME_POINT_M`].
    #[must_use]
    pub fn holds(&self, other: &Self) -> bool {
        other.min.x_m >= self.min.x_m - SAME_POINT_M
            && other.min.y_m >= self.min.y_m - SAME_POINT_M
            && other.max.x_m <= self.max.x_m + SAME_POINT_M
            && other.max.y_m <= self.max.y_m + SAME_POINT_M
    }

    /// The middle.
    #[must_use]
    pub fn middle(&self) -> Point {
        self.min.towards(self.max, 0.5)
    }
}

/// Pairs of a closed line: each point with the next.
pub fn edges(ring: &[Point]) -> impl Iterator<Item = (Point, Point)> + '_ {
    (0..ring.len()).map(|i| (ring[i], ring[(i + 1) % ring.len()]))
}

/// Area of a closed line, positive counterclockwise (Gauss's formula).
#[must_use]
pub fn signed_area_m2(ring: &[Point]) -> f64 {
    // Seen from the first point, so that a small shape far from the origin
    // keeps its digits.
    let Some(&origin) = ring.first() else { return 0.0 };
    0.5 * edges(ring).map(|(a, b)| a.minus(origin).cross(b.minus(origin))).sum::<f64>()
}

impl Outline {
    /// A shape without holes.
    #[must_use]
    pub fn new(outer: Ring) -> Self {
        Self { outer, holes: Vec::new() }
    }

    /// An upright rectangle from the origin.
    #[must_use]
    pub fn rectangle(length: Length, width: Length) -> Self {
        let (l, w) = (length.m(), width.m());
        Self::new([[0.0, 0.0], [l, 0.0], [l, w], [0.0, w]].map(Point::from).to_vec())
    }

    /// A regular polygon of a circle's area around a middle.
    #[must_use]
    pub fn circle(middle: Point, diameter: Length, corners: usize) -> Self {
        let n = corners.max(3) as f64;
        let step = std::f64::consts::TAU / n;
        // A polygon through the circle would be smaller than it.
        let radius = 0.5 * diameter.m() * (step / step.sin()).sqrt();
        Self::new(
            (0..corners.max(3))
                .map(|i| {
                    let (sin, cos) = (i as f64 * step).sin_cos();
                    middle.plus(Point { x_m: radius * cos, y_m: radius * sin })
                })
                .collect(),
        )
    }

    /// All rings, the rim first.
    pub fn rings(&self) -> impl Iterator<Item = &Ring> {
        std::iter::once(&self.outer).chain(&self.holes)
    }

    /// Number of points of all rings.
    #[must_use]
    pub fn point_count(&self) -> usize {
        self.rings().map(Vec::len).sum()
    }

    /// Area without the holes.
    #[must_use]
    pub fn area(&self) -> Area {
        let holes: f64 = self.holes.iter().map(|h| signed_area_m2(h).abs()).sum();
        Area::from_m2(signed_area_m2(&self.outer).abs() - holes)
    }

    /// Length of the rim and of all holes.
    #[must_use]
    pub fn perimeter(&self) -> Length {
        Length::from_m(self.rings().flat_map(|r| edges(r)).map(|(a, b)| b.minus(a).norm_m()).sum())
    }

    /// The rectangle around it.
    #[must_use]
    pub fn bounds(&self) -> Bounds {
        Bounds::of(&self.outer)
    }

    /// Centre of area.
    #[must_use]
    pub fn centroid(&self) -> Point {
        let origin = self.outer.first().copied().unwrap_or_default();
        let (mut sum, mut area) = (Point::default(), 0.0);
        for (index, ring) in self.rings().enumerate() {
            // Holes count against the rim whichever way round they run.
            let sign = if (signed_area_m2(ring) > 0.0) == (index == 0) { 1.0 } else { -1.0 };
            for (a, b) in edges(ring) {
                let (a, b) = (a.minus(origin), b.minus(origin));
                let cross = sign * a.cross(b);
                area += cross;
                sum = sum.plus(a.plus(b).times(cross / 3.0));
            }
        }
        if area.abs() < 1e-15 { self.bounds().middle() } else { origin.plus(sum.times(1.0 / area)) }
    }

    /// Every point through a function.
    #[must_use]
    pub fn map(&self, f: impl Fn(Point) -> Point) -> Self {
        let ring = |r: &Ring| r.iter().map(|p| f(*p)).collect();
        Self { outer: ring(&self.outer), holes: self.holes.iter().map(ring).collect() }
    }

    /// Without points that coincide with the one before, the rim
    /// counterclockwise and holes clockwise.
    #[must_use]
    pub fn cleaned(&self) -> Self {
        let ring = |r: &Ring, counterclockwise: bool| {
            let mut kept: Ring = Vec::with_capacity(r.len());
            for p in r {
                if kept.last().is_none_or(|q| p.minus(*q).norm_m() > SAME_POINT_M) {
                    kept.push(*p);
                }
            }
            while kept.len() > 1 && kept[0].minus(kept[kept.len() - 1]).norm_m() <= SAME_POINT_M {
                kept.pop();
            }
            if (signed_area_m2(&kept) > 0.0) != counterclockwise {
                kept.reverse();
            }
            kept
        };
        Self {
            outer: ring(&self.outer, true),
            holes: self.holes.iter().map(|h| ring(h, false)).filter(|h| h.len() > 2).collect(),
        }
    }

    /// Standard uncertainty of the area where every point may be off by
    /// ± `tolerance` in x and in y, any value equally likely and independent
    /// of its neighbours: each point moves the area by half the arrow between
    /// its neighbours (JCGM 100:2008, 5.1.2).
    #[must_use]
    pub fn area_uncertainty(&self, tolerance: Length) -> Area {
        let each = tolerance.m() / 3f64.sqrt();
        let squares: f64 = self
            .rings()
            .map(|r| {
                let n = r.len();
                (0..n)
                    .map(|i| r[(i + 1) % n].minus(r[(i + n - 1) % n]).norm_m().powi(2))
                    .sum::<f64>()
            })
            .sum();
        Area::from_m2(0.5 * each * squares.sqrt())
    }

    /// Where a line across the form at `x` runs inside the shape: pairs of y,
    /// ascending.
    #[must_use]
    pub fn cut_at(&self, x: Length) -> Vec<(Length, Length)> {
        let x = x.m();
        let mut ys: Vec<f64> = self
            .rings()
            .flat_map(|r| edges(r))
            // Half-open edges: a corner on the line counts once.
            .filter(|(a, b)| (a.x_m <= x) != (b.x_m <= x))
            .map(|(a, b)| a.y_m + (b.y_m - a.y_m) * (x - a.x_m) / (b.x_m - a.x_m))
            .collect();
        ys.sort_by(f64::total_cmp);
        ys.chunks_exact(2).map(|p| (Length::from_m(p[0]), Length::from_m(p[1]))).collect()
    }
}

#[cfg(test)]
mod tests;

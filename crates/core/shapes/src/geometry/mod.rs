//! Plane shapes in metres: outlines, solids between two outlines, what they
//! cover together, and squaring up a picture of them.
//!
//! - this file: a point, an outline with holes
//! - [`faults`]: why an outline is none
//! - [`ruled`]: the solid between two outlines, its area and volume by level
//! - [`overlay`]: clipping and overlap, by the `geo` crate
//! - [`homography`]: from the plane of a photo to the plane of the bench
//! - [`mesh`]: volume and soundness of a triangle mesh

pub mod faults;
pub mod homography;
pub mod mesh;
pub mod overlay;
pub mod ruled;

use serde::{Deserialize, Serialize};

use fondant_quantities::{Area, Length};

/// Points closer than this are one point, metres: a hundredth of a millimetre.
pub const SAME_POINT_M: f64 = 1e-5;

/// A point, or an arrow between two points, in metres. Kept as `[x, y]`.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[serde(from = "[f64; 2]", into = "[f64; 2]")]
pub struct Point {
    /// Along the form, from its left end.
    pub x_m: f64,
    /// Across the form, from its near wall.
    pub y_m: f64,
}

impl From<[f64; 2]> for Point {
    fn from([x_m, y_m]: [f64; 2]) -> Self {
        Self { x_m, y_m }
    }
}

impl From<Point> for [f64; 2] {
    fn from(point: Point) -> Self {
        [point.x_m, point.y_m]
    }
}

impl Point {
    /// From millimetres.
    #[must_use]
    pub fn from_mm(x_mm: f64, y_mm: f64) -> Self {
        Self { x_m: x_mm * 1e-3, y_m: y_mm * 1e-3 }
    }

    /// Moved by an arrow.
    #[must_use]
    pub fn plus(self, by: Self) -> Self {
        Self { x_m: self.x_m + by.x_m, y_m: self.y_m + by.y_m }
    }

    /// The arrow from `other` to this point.
    #[must_use]
    pub fn minus(self, other: Self) -> Self {
        Self { x_m: self.x_m - other.x_m, y_m: self.y_m - other.y_m }
    }

    /// Longer by a factor, seen from the origin.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self { x_m: self.x_m * factor, y_m: self.y_m * factor }
    }

    /// Length of the arrow.
    #[must_use]
    pub fn norm_m(self) -> f64 {
        self.x_m.hypot(self.y_m)
    }

    /// Twice the area of the triangle with the origin, positive counterclockwise.
    #[must_use]
    pub fn cross(self, other: Self) -> f64 {
        self.x_m * other.y_m - self.y_m * other.x_m
    }

    /// A share of the way to another point.
    #[must_use]
    pub fn towards(self, other: Self, share: f64) -> Self {
        self.plus(other.minus(self).times(share))
    }
}

/// A closed line; the last point is joined to the first.
pub type Ring = Vec<Point>;

/// A shape with holes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Outline {
    /// Its rim.
    pub outer: Ring,
    /// What is missing inside.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub holes: Vec<Ring>,
}

/// The smallest upright rectangle around something.
#[derive(Debug, Clone, Copy, PartialEq)]
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
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn ring_with_a_hole() -> Outline {
        let circle = |d| Outline::circle(Point::from_mm(300.0, 200.0), Length::from_mm(d), 400);
        Outline { outer: circle(200.0).outer, holes: vec![circle(80.0).outer] }
    }

    #[test]
    fn areas_against_closed_forms() {
        let mm = Length::from_mm;
        let rectangle = Outline::rectangle(mm(300.0), mm(120.0));
        assert!((rectangle.area().m2() - 0.036).abs() < 1e-15);
        assert!((rectangle.perimeter().mm() - 840.0).abs() < 1e-9);
        let ring = std::f64::consts::PI / 4.0 * (0.2_f64.powi(2) - 0.08_f64.powi(2));
        assert!((ring_with_a_hole().area().m2() - ring).abs() < 1e-12);
    }

    #[test]
    fn a_ring_is_cut_twice_and_its_centre_is_its_middle() {
        let ring = ring_with_a_hole();
        let cut = ring.cut_at(Length::from_mm(300.1));
        assert_eq!(cut.len(), 2);
        assert!((cut[0].0.mm() - 100.0).abs() < 0.1 && (cut[1].1.mm() - 300.0).abs() < 0.1);
        assert!(ring.cut_at(Length::from_mm(10.0)).is_empty());
        let centre = ring.centroid();
        assert!((centre.x_m - 0.3).abs() < 1e-9 && (centre.y_m - 0.2).abs() < 1e-9);
    }

    #[test]
    fn cleaning_drops_doubled_points_and_turns_rings() {
        let raw = [[0.0, 0.0], [0.0, 1.0], [0.0, 1.0], [1.0, 1.0], [1.0, 0.0], [0.0, 0.0]];
        let clean = Outline::new(raw.map(Point::from).to_vec()).cleaned();
        assert_eq!(clean.outer.len(), 4);
        assert!(signed_area_m2(&clean.outer) > 0.0);
    }

    #[test]
    fn the_doubt_of_a_square_by_hand() {
        // Four corners, neighbours a diagonal apart: ½ · u · √(4 · 2 s²).
        let square = Outline::rectangle(Length::from_m(1.0), Length::from_m(1.0));
        let doubt = square.area_uncertainty(Length::from_m(3f64.sqrt() * 1e-3));
        assert!((doubt.m2() - 0.5e-3 * 8f64.sqrt()).abs() < 1e-12);
    }

    fn star() -> impl Strategy<Value = Outline> {
        proptest::collection::vec(0.05f64..0.3, 3..40).prop_map(|radii| {
            let n = radii.len() as f64;
            Outline::new(
                radii
                    .iter()
                    .enumerate()
                    .map(|(i, r)| {
                        let (sin, cos) = (std::f64::consts::TAU * i as f64 / n).sin_cos();
                        Point { x_m: 0.5 + r * cos, y_m: 0.4 + r * sin }
                    })
                    .collect(),
            )
        })
    }

    proptest! {
        #[test]
        fn area_and_perimeter_do_not_care_where_and_how_it_lies(
            shape in star(), turn in 0.0f64..6.3, dx in -5.0f64..5.0, dy in -5.0f64..5.0,
        ) {
            let (sin, cos) = turn.sin_cos();
            let moved = shape.map(|p| Point {
                x_m: p.x_m * cos - p.y_m * sin + dx,
                y_m: p.x_m * sin + p.y_m * cos + dy,
            });
            prop_assert!((moved.area().m2() - shape.area().m2()).abs() < 1e-12);
            prop_assert!((moved.perimeter().m() - shape.perimeter().m()).abs() < 1e-12);
        }

        #[test]
        fn the_cuts_add_up_to_the_area(shape in star()) {
            let steps = 4000;
            let bounds = shape.bounds();
            let dx = (bounds.max.x_m - bounds.min.x_m) / f64::from(steps);
            let sum: f64 = (0..steps)
                .map(|i| {
                    let x = bounds.min.x_m + dx * (f64::from(i) + 0.5);
                    shape.cut_at(Length::from_m(x)).iter().map(|(a, b)| (*b - *a).m()).sum::<f64>() * dx
                })
                .sum();
            prop_assert!((sum / shape.area().m2() - 1.0).abs() < 2e-3, "{sum}");
        }

        #[test]
        fn random_points_hit_it_as_often_as_its_area_says(shape in star(), seed in 0u64..u64::MAX) {
            // A splitmix generator: seeded, so that a failure can be repeated.
            let mut state = seed;
            let mut next = || {
                state = state.wrapping_add(0x9E37_79B9_7F4A_7C15);
                let mut z = state;
                z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
                z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
                ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
            };
            let tries = 4000;
            let hits = (0..tries)
                .filter(|_| {
                    let (x, y) = (0.2 + 0.6 * next(), 0.1 + 0.6 * next());
                    shape.cut_at(Length::from_m(x)).iter().any(|(a, b)| a.m() <= y && y <= b.m())
                })
                .count();
            let share = shape.area().m2() / 0.36;
            let spread = (share * (1.0 - share) / f64::from(tries)).sqrt();
            prop_assert!((hits as f64 / f64::from(tries) - share).abs() < 6.0 * spread + 1e-9);
        }
    }
}

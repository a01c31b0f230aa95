//! What outlines have in common: clipping to the form, overlap.

use geo::bool_ops::FillRule;
use geo::{Area as _, BooleanOps, Coord, LineString, MultiPolygon, Polygon, Simplify};

use super::{Outline, Point, Ring, SAME_POINT_M, edges, signed_area_m2};
use fondant_quantities::{Area, Length};

/// Overlaps smaller than this are boards that touch: 10 mm².
pub const TOUCHING: Area = Area::from_m2(1e-5);

fn polygon(outline: &Outline) -> Polygon<f64> {
    let ring = |r: &Ring| LineString::from_iter(r.iter().map(|p| Coord { x: p.x_m, y: p.y_m }));
    Polygon::new(ring(&outline.outer), outline.holes.iter().map(ring).collect())
}

fn outline(polygon: &Polygon<f64>) -> Outline {
    let ring = |r: &LineString<f64>| {
        let mut points: Ring = r.coords().map(|c| Point { x_m: c.x, y_m: c.y }).collect();
        points.pop();
        points
    };
    Outline {
        outer: ring(polygon.exterior()),
        holes: polygon.interiors().iter().map(ring).collect(),
    }
    .cleaned()
}

/// The parts of an outline that lie in the form, a rectangle from the origin.
#[must_use]
pub fn clip(shape: &Outline, length: Length, width: Length) -> Vec<Outline> {
    let form = Outline::rectangle(length, width);
    if form.bounds().holds(&shape.bounds()) {
        return vec![shape.clone()];
    }
    polygon(shape).intersection(&polygon(&form)).iter().map(outline).collect()
}

/// The parts of an outline that lie in any of some others.
#[must_use]
pub fn within(shape: &Outline, region: &[Outline]) -> Vec<Outline> {
    let region = region.iter().map(polygon).fold(MultiPolygon::new(Vec::new()), |all, next| {
        if all.0.is_empty() { MultiPolygon::new(vec![next]) } else { all.union(&next) }
    });
    polygon(shape).intersection(&region).iter().map(outline).collect()
}

/// Which side of its rings a shape fills.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Filled {
    /// What an odd number of rings goes around.
    EvenOdd,
    /// What the rings go around more often one way than the other.
    NonZero,
}

/// The shapes that rings make together, closed or not.
#[must_use]
pub fn filled(rings: &[Ring], how: Filled) -> Vec<Outline> {
    let one = |ring: &Ring| polygon(&Outline { outer: ring.clone(), holes: Vec::new() });
    let all = MultiPolygon::new(rings.iter().map(one).collect());
    let rule = match how {
        Filled::EvenOdd => FillRule::EvenOdd,
        Filled::NonZero => FillRule::NonZero,
    };
    all.union_with_fill_rule(&MultiPolygon::new(Vec::new()), rule).iter().map(outline).collect()
}

/// Area of the part that lies in the form. A sloping board is asked for it at
/// many levels, so the four walls cut one after the other (I. Sutherland and
/// G. Hodgman, *Comm. ACM* 17 (1974) 32–42): what that leaves of a shape that
/// falls into parts is joined by lines of no area.
#[must_use]
pub fn area_within(shape: &Outline, length: Length, width: Length) -> Area {
    let form = Outline::rectangle(length, width);
    if form.bounds().holds(&shape.bounds()) {
        return shape.area();
    }
    let (l, w) = (length.m(), width.m());
    let part = |ring: &Ring| {
        let cut = half(ring, |p| p.x_m);
        let cut = half(&cut, |p| l - p.x_m);
        let cut = half(&cut, |p| p.y_m);
        signed_area_m2(&half(&cut, |p| w - p.y_m)).abs()
    };
    let holes: f64 = shape.holes.iter().map(part).sum();
    Area::from_m2(part(&shape.outer) - holes)
}

/// The part of a ring on the side of a line where the distance is positive.
fn half(ring: &Ring, distance: impl Fn(Point) -> f64) -> Ring {
    let mut kept = Ring::with_capacity(ring.len() + 4);
    for (a, b) in edges(ring) {
        let (da, db) = (distance(a), distance(b));
        if da >= 0.0 {
            kept.push(a);
        }
        if (da > 0.0 && db < 0.0) || (da < 0.0 && db > 0.0) {
            kept.push(a.towards(b, da / (da - db)));
        }
    }
    kept
}

/// Where two outlines lie on each other by more than [`TOUCHING`]: how much
/// and the middle of the largest patch.
#[must_use]
pub fn overlap(a: &Outline, b: &Outline) -> Option<(Area, Point)> {
    if !a.bounds().meets(&b.bounds()) {
        return None;
    }
    let common: MultiPolygon<f64> = polygon(a).intersection(&polygon(b));
    let area = Area::from_m2(common.unsigned_area());
    if area <= TOUCHING {
        return None;
    }
    let largest = common.iter().max_by(|p, q| p.unsigned_area().total_cmp(&q.unsigned_area()))?;
    Some((area, outline(largest).centroid()))
}

/// Where the rim crosses the walls of the form: the marks to saw a board at
/// (each edge clipped after Liang and Barsky, 1984).
#[must_use]
pub fn trim_marks(shape: &Outline, length: Length, width: Length) -> Vec<Point> {
    let (l, w) = (length.m(), width.m());
    let mut marks = Vec::new();
    for (a, b) in edges(&shape.outer) {
        let d = b.minus(a);
        let (mut enters, mut leaves) = (0.0_f64, 1.0_f64);
        let mut misses = false;
        let walls = [(-d.x_m, a.x_m), (d.x_m, l - a.x_m), (-d.y_m, a.y_m), (d.y_m, w - a.y_m)];
        for (rate, room) in walls {
            if rate.abs() < 1e-12 {
                misses |= room < -SAME_POINT_M;
            } else if rate < 0.0 {
                enters = enters.max(room / rate);
            } else {
                leaves = leaves.min(room / rate);
            }
        }
        let hair = SAME_POINT_M / d.norm_m().max(SAME_POINT_M);
        if misses || leaves - enters <= hair {
            continue;
        }
        for share in [enters, leaves] {
            if share > hair && share < 1.0 - hair {
                marks.push(a.plus(d.times(share)));
            }
        }
    }
    marks
}

/// Fewer points, none farther than `tolerance` from the line as it was
/// (Ramer 1972; Douglas and Peucker 1973).
#[must_use]
pub fn simplified(shape: &Outline, tolerance: Length) -> Outline {
    outline(&polygon(shape).simplify(tolerance.m()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn rectangle_at(x: f64, y: f64, l: f64, w: f64) -> Outline {
        Outline::rectangle(Length::from_mm(l), Length::from_mm(w))
            .map(|p| p.plus(Point::from_mm(x, y)))
    }

    /// A ring within another is a hole, unless both go the same way round and the rule counts turns.
    #[test]
    fn a_ring_within_another_is_a_hole_by_either_rule() {
        let outer = rectangle_at(0.0, 0.0, 100.0, 60.0).outer;
        let inner = rectangle_at(20.0, 20.0, 40.0, 20.0).outer;
        let turned: Ring = inner.iter().rev().copied().collect();
        let found = |inner: &Ring, how| {
            let shapes = filled(&[outer.clone(), inner.clone()], how);
            shapes.iter().map(|shape| shape.area().m2() * 1e6).sum::<f64>()
        };
        for (inner, how, mm2) in [
            (&inner, Filled::EvenOdd, 5200.0),
            (&turned, Filled::EvenOdd, 5200.0),
            (&inner, Filled::NonZero, 6000.0),
            (&turned, Filled::NonZero, 5200.0),
        ] {
            assert!((found(inner, how) - mm2).abs() < 1e-3, "{how:?}: {}", found(inner, how));
        }
    }

    #[test]
    fn a_board_over_the_wall_is_clipped_and_marked() {
        let (length, width) = (Length::from_mm(1000.0), Length::from_mm(500.0));
        let board = rectangle_at(-50.0, -20.0, 600.0, 200.0);
        let parts = clip(&board, length, width);
        assert_eq!(parts.len(), 1);
        assert!((parts[0].area().m2() - 0.55 * 0.18).abs() < 1e-8);
        assert!((area_within(&board, length, width).m2() - 0.55 * 0.18).abs() < 1e-8);
        let marks = trim_marks(&board, length, width);
        assert_eq!(marks.len(), 2, "{marks:?}");
    }

    #[test]
    fn touching_boards_do_not_overlap_and_crossing_ones_say_where() {
        let a = rectangle_at(0.0, 0.0, 300.0, 100.0);
        assert_eq!(overlap(&a, &rectangle_at(300.0, 0.0, 300.0, 100.0)), None);
        assert_eq!(overlap(&a, &rectangle_at(900.0, 0.0, 300.0, 100.0)), None);
        let (area, at) = overlap(&a, &rectangle_at(280.0, 50.0, 300.0, 100.0)).unwrap();
        assert!((area.m2() - 0.02 * 0.05).abs() < 1e-8);
        assert!((at.x_m - 0.29).abs() < 1e-7 && (at.y_m - 0.075).abs() < 1e-7);
    }

    #[test]
    fn simplifying_keeps_within_its_tolerance() {
        let circle = Outline::circle(Point::from_mm(500.0, 500.0), Length::from_mm(400.0), 2000);
        let fewer = simplified(&circle, Length::from_mm(0.5));
        assert!(fewer.outer.len() < 120, "{}", fewer.outer.len());
        assert!((fewer.area().m2() / circle.area().m2() - 1.0).abs() < 0.01);
    }

    /// A comb from a corner on, mm, that falls into parts where a wall cuts its teeth.
    fn comb(x: f64, y: f64, teeth: usize, deep: f64) -> Outline {
        let mut ring: Ring = vec![Point::from_mm(x, y)];
        for i in 0..teeth {
            let at = x + 60.0 * i as f64;
            ring.extend([
                Point::from_mm(at + 10.0, y + deep),
                Point::from_mm(at + 40.0, y + deep),
                Point::from_mm(at + 50.0, y + 15.0),
            ]);
        }
        ring.push(Point::from_mm(x + 60.0 * teeth as f64, y));
        Outline::new(ring).cleaned()
    }

    /// By how much the area of a comb in a form of 800 × 400 mm differs from that of its clipped parts,
    /// m². Parts thinner than [`SAME_POINT_M`] are none: along the comb's back that much is lost.
    fn unlike(comb: &Outline) -> f64 {
        let (length, width) = (Length::from_mm(800.0), Length::from_mm(400.0));
        let clipped: f64 = clip(comb, length, width).iter().map(|o| o.area().m2()).sum();
        area_within(comb, length, width).m2() - clipped
    }

    /// 180 mm of a comb's back, 6 µm of which reach into the form: its parts have no area.
    #[test]
    fn a_sliver_in_the_form_is_no_part_of_a_board() {
        let lost = unlike(&comb(0.0, 399.994, 3, 20.0));
        assert!((lost - 0.18 * 6e-6).abs() < 2e-8, "{lost}");
    }

    proptest! {
        #[test]
        fn what_lies_within_is_what_is_clipped(
            x in -300.0f64..900.0, y in -300.0f64..500.0, teeth in 3usize..12, deep in 20.0f64..200.0,
        ) {
            let back_m = 0.06 * teeth as f64;
            let lost = unlike(&comb(x, y, teeth, deep));
            prop_assert!(lost.abs() < 2e-7 + SAME_POINT_M * back_m, "{lost}");
        }

        #[test]
        fn upright_rectangles_overlap_by_their_common_rectangle(
            x in -200.0f64..400.0, y in -200.0f64..300.0, l in 20.0f64..500.0, w in 20.0f64..300.0,
        ) {
            let a = rectangle_at(0.0, 0.0, 300.0, 150.0);
            let b = rectangle_at(x, y, l, w);
            let common = overlap(&a, &b).map_or(0.0, |(area, _)| area.m2());
            let side = |a: f64, la: f64, b: f64, lb: f64| ((a + la).min(b + lb) - a.max(b)).max(0.0);
            let expected = side(0.0, 300.0, x, l) * side(0.0, 150.0, y, w) * 1e-6;
            prop_assert!((common - expected).abs() < 1.1e-5, "{common} against {expected}");
        }
    }
}

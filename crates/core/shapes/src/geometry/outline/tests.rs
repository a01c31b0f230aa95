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
fn the_uncertainty_of_a_square_by_hand() {
    // Four corners, neighbours a diagonal apart: ½ · u · √(4 · 2 s²).
    let square = Outline::rectangle(Length::from_m(1.0), Length::from_m(1.0));
    let uncertainty = square.area_uncertainty(Length::from_m(3f64.sqrt() * 1e-3));
    assert!((uncertainty.m2() - 0.5e-3 * 8f64.sqrt()).abs() < 1e-12);
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

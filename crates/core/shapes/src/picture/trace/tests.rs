use super::*;
use proptest::prelude::*;

/// A picture of 1 × 0.5 m at 1 px a mm: timber where `is_timber` says, with
/// grain and noise, on a grey bench.
fn picture(is_timber: impl Fn(f64, f64) -> bool) -> Raster {
    let mut rgb = Vec::new();
    for y in 0..500 {
        for x in 0..1000 {
            let noise = f64::from((x * 7919 + y * 104_729) % 23) - 11.0;
            let colour = if is_timber(f64::from(x) + 0.5, f64::from(y) + 0.5) {
                let grain = 14.0 * (f64::from(y) * 0.35 + f64::from(x) * 0.02).sin();
                [190.0 + grain, 150.0 + grain, 105.0 + grain]
            } else {
                [92.0, 98.0, 104.0]
            };
            rgb.extend(colour.map(|c| (c + noise).clamp(0.0, 255.0) as u8));
        }
    }
    Raster::new(1000, 500, rgb).unwrap()
}

#[test]
fn two_boards_are_found_along_their_live_edges() {
    let near = |x: f64| 160.0 + 30.0 * (x * 0.012).sin();
    let far = |x: f64| 330.0 + 20.0 * (x * 0.02).cos();
    let found = outlines(&picture(|x, y| y < near(x) || y > far(x)), 1000.0, TimberIs::Warmer);
    assert_eq!(found.len(), 2);
    let area =
        |f: &dyn Fn(f64) -> f64| (0..1000).map(|x| f(f64::from(x) + 0.5) * 1e-6).sum::<f64>();
    let (near_area, far_area) = (area(&near), area(&|x| 500.0 - far(x)));
    let total: f64 = found.iter().map(|o| o.area().m2()).sum();
    assert!((total / (near_area + far_area) - 1.0).abs() < 0.005, "{total}");
    assert!(found.iter().all(|o| o.outer.len() < 400), "straightened");
    assert!(found.iter().all(|o| crate::geometry::faults::faults(o).is_empty()));
}

#[test]
fn a_knot_hole_is_a_hole_and_a_speck_is_nothing() {
    let hole = |x: f64, y: f64| (x - 500.0).hypot(y - 250.0) < 30.0;
    let speck = |x: f64, y: f64| (x - 60.0).hypot(y - 40.0) < 8.0;
    let board = |x: f64, y: f64| (100.0..900.0).contains(&x) && (100.0..400.0).contains(&y);
    let found = outlines(
        &picture(|x, y| speck(x, y) || (board(x, y) && !hole(x, y))),
        1000.0,
        TimberIs::Warmer,
    );
    assert_eq!(found.len(), 1);
    assert_eq!(found[0].holes.len(), 1);
    let expected = 0.24 - std::f64::consts::PI * 0.0009;
    assert!((found[0].area().m2() / expected - 1.0).abs() < 0.005);
}

#[test]
fn the_other_half_can_be_asked_for_and_one_colour_has_none() {
    let river = outlines(&picture(|_, y| !(200.0..300.0).contains(&y)), 1000.0, TimberIs::Cooler);
    assert_eq!(river.len(), 1);
    assert!((river[0].area().m2() / 0.1 - 1.0).abs() < 0.01);
    let flat = Raster::new(50, 50, vec![120; 7500]).unwrap();
    assert_eq!(outlines(&flat, 1000.0, TimberIs::Warmer), []);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]
    #[test]
    fn a_board_anywhere_has_its_area(
        x in 20.0f64..300.0, y in 20.0f64..150.0, l in 200.0f64..600.0, w in 80.0f64..300.0,
        lean in -0.1f64..0.1,
    ) {
        let inside = |px: f64, py: f64| {
            let (dx, dy) = (px - x, py - y - lean * (px - x));
            (0.0..l).contains(&dx) && (0.0..w).contains(&dy)
        };
        let expected = (0..500_000)
            .filter(|i| inside(f64::from(i % 1000) + 0.5, f64::from(i / 1000) + 0.5))
            .count() as f64 * 1e-6;
        let found = outlines(&picture(inside), 1000.0, TimberIs::Warmer);
        prop_assert!(!found.is_empty());
        let ratio = found[0].area().m2() / expected;
        prop_assert!((ratio - 1.0).abs() < 0.01, "{ratio}: {found:?}");
    }
}

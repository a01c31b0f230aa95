use super::*;
use proptest::prelude::*;

fn station(at_mm: f64, width_mm: f64) -> Station {
    Station { at: Length::from_mm(at_mm), width: Length::from_mm(width_mm), from_wall: None }
}

fn river(stations: &[(f64, f64)], length_mm: f64, width_mm: f64) -> Result<River, Vec<RiverError>> {
    River::new(
        stations.iter().map(|(at, width)| station(*at, *width)).collect(),
        Length::from_mm(length_mm),
        Length::from_mm(width_mm),
    )
}

#[test]
fn a_wedge_has_the_area_of_a_wedge() {
    let wedge = river(&[(0.0, 100.0), (1000.0, 300.0)], 1000.0, 500.0).unwrap();
    assert!((wedge.area().m2() - 0.2).abs() < 1e-12);
    assert!((wedge.mean_width().mm() - 200.0).abs() < 1e-9);
    assert!((wedge.width_at(Length::from_mm(250.0)).mm() - 150.0).abs() < 1e-9);
    assert!((wedge.near_board_area().m2() - 0.15).abs() < 1e-12);
    assert!((wedge.far_board_area().m2() - 0.15).abs() < 1e-12);
}

#[test]
fn ends_beyond_the_outer_stations_keep_their_width() {
    let inner = river(&[(200.0, 100.0), (800.0, 100.0)], 1000.0, 500.0).unwrap();
    assert!((inner.area().m2() - 0.1).abs() < 1e-12);
}

#[test]
fn each_misfit_is_reported_with_its_station() {
    assert_eq!(river(&[(0.0, 10.0)], 1000.0, 500.0), Err(vec![RiverError::TooFew { found: 1 }]));
    let errors =
        river(&[(0.0, 600.0), (900.0, 50.0), (400.0, 50.0), (1200.0, 50.0)], 1000.0, 500.0)
            .unwrap_err();
    assert!(matches!(errors[0], RiverError::WiderThanForm { index: 0, .. }));
    assert!(matches!(errors[1], RiverError::OutOfOrder { index: 2, .. }));
    assert!(matches!(errors[2], RiverError::BeyondForm { index: 3, .. }));
    let past = Station { from_wall: Some(Length::from_mm(450.0)), ..station(1000.0, 100.0) };
    let errors = River::new(
        vec![station(0.0, 100.0), past],
        Length::from_mm(1000.0),
        Length::from_mm(500.0),
    )
    .unwrap_err();
    assert!(matches!(errors[0], RiverError::PastFarWall { index: 1, .. }));
}

#[test]
fn a_straight_edge_costs_nothing_between_stations_and_two_stations_cost_a_tenth() {
    let straight = river(&[(0.0, 100.0), (500.0, 150.0), (1000.0, 200.0)], 1000.0, 500.0).unwrap();
    assert!(straight.area_uncertainty_from_spacing().m2() < 1e-12);
    let two = river(&[(0.0, 100.0), (1000.0, 200.0)], 1000.0, 500.0).unwrap();
    assert!((two.area_uncertainty_from_spacing() / two.area() - 0.1).abs() < 1e-12);
}

#[test]
fn the_spacing_estimate_is_of_the_size_of_the_true_error() {
    // A bowed edge, w = 200 + 80 sin(πx/L): its mean is 200 + 160/π.
    let exact = 200.0 + 160.0 / std::f64::consts::PI;
    let stations: Vec<(f64, f64)> = (0..=6u32)
        .map(|i| {
            let x = f64::from(i) / 6.0;
            (x * 1500.0, 200.0 + 80.0 * (std::f64::consts::PI * x).sin())
        })
        .collect();
    let bowed = river(&stations, 1500.0, 600.0).unwrap();
    let error = (bowed.mean_width().mm() - exact).abs();
    let estimate = bowed.area_uncertainty_from_spacing().m2() / 1.5 * 1e3;
    assert!(error < 3.0 * estimate && estimate < 3.0 * error, "{error} against {estimate}");
}

#[test]
fn tape_errors_of_many_stations_average_out() {
    let make = |n: u32| {
        let step = 1000.0 / f64::from(n);
        let all: Vec<_> = (0..=n).map(|i| (f64::from(i) * step, 100.0)).collect();
        river(&all, 1000.0, 500.0).unwrap().area_uncertainty_from_tape(Length::from_mm(1.0)).m2()
    };
    assert!(make(10) < 0.6 * make(2));
}

/// Widths of 3 to 20 stations spread over a form of 1.5 × 0.8 m.
fn any_river() -> impl Strategy<Value = River> {
    proptest::collection::vec((0.05f64..1.0, 0.0f64..800.0), 3..20).prop_map(|raw| {
        let total: f64 = raw.iter().map(|(gap, _)| gap).sum();
        let mut at = 0.0;
        let stations: Vec<_> = raw
            .iter()
            .map(|(gap, width)| {
                at += gap / total * 1500.0;
                (at, *width)
            })
            .collect();
        river(&stations, 1500.0, 800.0).expect("a river that fits")
    })
}

proptest! {
    #[test]
    fn area_adds_up_when_the_river_is_split(river in any_river(), cut in 0.0f64..1500.0) {
        let cut = Length::from_mm(cut);
        let parts = river.area_between(Length::ZERO, cut)
            + river.area_between(cut, river.form_length());
        prop_assert!((parts.m2() - river.area().m2()).abs() < 1e-12);
    }

    #[test]
    fn boards_and_river_fill_the_form(river in any_river()) {
        let all = river.area() + river.near_board_area() + river.far_board_area();
        prop_assert!((all.m2() - 1.2).abs() < 1e-9);
        prop_assert!(river.far_board_area().m2() >= -1e-12);
    }

    #[test]
    fn turning_the_form_round_keeps_the_area(river in any_river()) {
        let turned: Vec<Station> = river
            .stations()
            .iter()
            .rev()
            .map(|s| Station { at: river.form_length() - s.at, ..*s })
            .collect();
        let turned = River::new(turned, river.form_length(), river.form_width()).unwrap();
        prop_assert!((turned.area().m2() - river.area().m2()).abs() < 1e-12);
    }
}

//! Moulds of several rows of cavities, and tubes that lie in them.

use super::*;

fn row(count: u32, hollow: Hollow, pressed: Option<PressedShape>) -> Cavities {
    let density = Density::from_kg_m3(600.0);
    let pressed = pressed.map(|shape| Pressed { count: 1, shape, density, is_sealed: false });
    Cavities { pressed, ..Cavities::empty(count, hollow) }
}

fn with_rows(rows: Vec<Cavities>) -> Document {
    let mut plan = begun(Kind::Moulds, 100.0, 100.0, 10.0);
    moulds_of(&mut plan).cavities = rows;
    plan
}

#[test]
fn rows_of_other_shapes_are_filled_together() {
    let square = Hollow::Box { length: mm(90.0), width: mm(90.0), depth: mm(10.0) };
    let round = Hollow::Round { diameter: mm(80.0), depth: mm(16.0) };
    let disc = PressedShape::Round { diameter: mm(40.0), height: mm(6.0) };
    let plan = with_rows(vec![row(4, square, None), row(3, round, Some(disc))]);
    let measured = measure(&plan).unwrap();
    let pi = std::f64::consts::PI;
    // mL: 4 × 81; 3 × π/4 (80² × 16 − 40² × 6) mm³.
    let by_hand = 4.0 * 81.0 + 3.0 * pi / 4.0 * (6400.0 * 16.0 - 1600.0 * 6.0) / 1e3;
    assert!((measured.sizing.total.l() * 1e3 - by_hand).abs() < 1e-6);
    // V(z) knows that the shallow ones are full at 10 mm: above, the round ones alone.
    let above = measured.fill.volume_to(mm(16.0)) - measured.fill.volume_to(mm(10.0));
    assert!((above.l() * 1e3 - 3.0 * pi / 4.0 * 6400.0 * 6.0 / 1e3).abs() < 1e-6);
    assert!((measured.fill.depth().mm() - 16.0).abs() < 1e-9);
    // Only the second row holds something; its place is its row.
    assert_eq!(measured.submerged.len(), 1);
    assert_eq!(measured.submerged[0].what, fondant_shapes::volume::layout::What::Insert(1));
}

#[test]
fn a_trough_fills_as_its_round_floor_lets_it() {
    let trough = Hollow::Trough { length: mm(130.0), width: mm(20.0), depth: mm(14.0) };
    let plan = with_rows(vec![row(5, trough, None)]);
    let measured = measure(&plan).unwrap();
    let each = 130.0 * (std::f64::consts::PI / 8.0 * 400.0 + 20.0 * 4.0) / 1e3;
    assert!((measured.sizing.total.l() * 1e3 - 5.0 * each).abs() < 1e-6);
    // Half way up the round floor: the segment of a circle of 10 mm below 5 mm, by hand.
    let segment = 100.0 * (60f64.to_radians() - 0.5 * 120f64.to_radians().sin());
    let found = measured.fill.volume_to(mm(5.0)).l() * 1e3;
    assert!((found / (5.0 * 130.0 * segment / 1e3) - 1.0).abs() < 0.01, "{found}");
}

#[test]
fn a_tube_that_is_too_long_to_stand_lies_along_its_cavity() {
    let mut plan = begun(Kind::Tubes, 70.0, 20.0, 20.0);
    let tubes = tubes_of(&mut plan);
    tubes.count = 6;
    tubes.hollow = Hollow::Box { length: mm(75.0), width: mm(20.0), depth: mm(18.0) };
    (tubes.tube.outside, tubes.tube.length, tubes.tube.plugs) = (mm(10.0), mm(60.0), mm(8.0));
    let measured = measure(&plan).unwrap();
    let by_hand = 6.0 * (75.0 * 20.0 * 18.0 - std::f64::consts::PI / 4.0 * 100.0 * 68.0) / 1e3;
    assert!((measured.sizing.total.l() * 1e3 - by_hand).abs() < 1e-6);
    // Half way up: resin alone below 4 mm and above 14.
    assert!(
        (measured.fill.volume_to(mm(4.0)).l() * 1e3 - 6.0 * 75.0 * 20.0 * 4.0 / 1e3).abs() < 1e-6
    );
    tubes_of(&mut plan).hollow = Hollow::Box { length: mm(60.0), width: mm(20.0), depth: mm(18.0) };
    let refused = measure(&plan).unwrap_err();
    assert_eq!(refused, [Conflict::TubeTooLarge { is_length: true }]);
}

#[test]
fn pieces_that_do_not_fit_are_named_with_their_row() {
    let square = Hollow::Box { length: mm(50.0), width: mm(50.0), depth: mm(10.0) };
    let tall = PressedShape::Block { length: mm(30.0), width: mm(30.0), height: mm(12.0) };
    let plan = with_rows(vec![row(2, square, None), row(2, square, Some(tall))]);
    let refused = measure(&plan).unwrap_err();
    let (height, depth) = (mm(12.0), mm(10.0));
    assert_eq!(refused, [Conflict::PressedTooTall { row: 1, height, depth }]);
    let large = PressedShape::Volume { volume: Volume::from_l(0.026) };
    let plan = with_rows(vec![row(2, square, Some(large))]);
    assert!(matches!(measure(&plan).unwrap_err()[..], [Conflict::RowTooSmall { row: 0, .. }]));
    assert_eq!(measure(&with_rows(Vec::new())).unwrap_err(), [Conflict::NothingToFill]);
}

/// A flat piece on a round floor lies where the floor is as wide as it is; a piece of which only the
/// volume is known takes a share of every level. Both were refused as wider than the form.
#[test]
fn pieces_lie_in_a_trough() {
    let trough = Hollow::Trough { length: mm(130.0), width: mm(20.0), depth: mm(18.0) };
    let cavity = 130.0 * (std::f64::consts::PI / 8.0 * 400.0 + 20.0 * 8.0) / 1e3;
    let flat = PressedShape::Block { length: mm(60.0), width: mm(12.0), height: mm(4.0) };
    let measured = measure(&with_rows(vec![row(3, trough, Some(flat))])).unwrap();
    let by_hand = 3.0 * (cavity - 60.0 * 12.0 * 4.0 / 1e3);
    assert!((measured.sizing.total.l() * 1e3 - by_hand).abs() < 1e-6);
    assert!((measured.fill.volume().l() * 1e3 - by_hand).abs() < 1e-6);
    // 12 mm of floor are 10 − √(100 − 36) = 2 mm up.
    let insert = measured
        .layout
        .laid
        .iter()
        .find(|laid| matches!(laid.what, fondant_shapes::volume::layout::What::Insert(_)));
    let insert = insert.expect("a piece");
    let floor = measured.layout.laid[0].from;
    assert!(((insert.from - floor).mm() - 2.0).abs() < 1e-9);
    let water = PressedShape::Volume { volume: Volume::from_l(0.015) };
    let measured = measure(&with_rows(vec![row(1, trough, Some(water))])).unwrap();
    assert!((measured.sizing.total.l() * 1e3 - (cavity - 15.0)).abs() < 1e-6);
    assert!((measured.fill.volume().l() * 1e3 - (cavity - 15.0)).abs() < 1e-6);
}

#[test]
fn pieces_wider_than_their_cavity_are_refused_with_their_row() {
    let square = Hollow::Box { length: mm(50.0), width: mm(40.0), depth: mm(20.0) };
    let of = |l: f64, w: f64, count: u32| {
        let shape = PressedShape::Block { length: mm(l), width: mm(w), height: mm(3.0) };
        let mut all = row(2, square, Some(shape));
        all.pressed.as_mut().unwrap().count = count;
        measure(&with_rows(vec![row(1, square, None), all])).map(|_| ())
    };
    assert_eq!(of(45.0, 30.0, 1), Ok(()));
    assert_eq!(of(38.0, 48.0, 1), Ok(()), "turned");
    for (l, w, count) in [(60.0, 10.0, 1), (45.0, 45.0, 1), (45.0, 30.0, 2)] {
        assert_eq!(of(l, w, count), Err(vec![Conflict::PressedTooWide { row: 1 }]), "{l} × {w}");
    }
}

proptest! {
    /// Rows are measured each by itself: together they take what they take alone.
    #[test]
    fn rows_take_together_what_they_take_alone(
        counts in prop::collection::vec(1u32..30, 1..5),
        sides in prop::collection::vec((10.0..90.0f64, 10.0..60.0f64, 3.0..40.0f64), 5),
        kinds in prop::collection::vec(0u8..3, 5),
    ) {
        let rows: Vec<Cavities> = counts.iter().enumerate().map(|(i, count)| {
            let (l, w, d) = (mm(sides[i].0), mm(sides[i].1), mm(sides[i].2));
            row(*count, match kinds[i] {
                0 => Hollow::Box { length: l, width: w, depth: d },
                1 => Hollow::Round { diameter: w, depth: d },
                _ => Hollow::Trough { length: l, width: w, depth: d },
            }, None)
        }).collect();
        let alone: f64 = rows.iter().map(|one| litres(&with_rows(vec![one.clone()]))).sum();
        let measured = measure(&with_rows(rows)).unwrap();
        prop_assert!((measured.sizing.total.l() / alone - 1.0).abs() < 1e-9);
        prop_assert!((measured.fill.volume().l() / alone - 1.0).abs() < 1e-9);
        prop_assert!(measured.fill.only_rises());
    }
}

//! Boards of which only amounts are known.

use super::*;

/// Boards of 40 mm in a form of 1000 × 500 mm, of which only amounts are known.
fn amounts(boards: usize) -> Document {
    let mut plan = begun(Kind::River, 1000.0, 500.0, 40.0);
    let river = plan.contents.river_mut().unwrap();
    river.base_gap = Length::ZERO;
    river.shaping = Shaping::Amounts;
    river.boards = vec![Board { absorption: Absorption::ZERO, ..Board::usual(mm(40.0)) }; boards];
    plan
}

#[test]
fn a_form_is_measured_by_filling_it_alone() {
    let mut plan = amounts(3);
    assert!(plan.river_is_guess());
    plan.contents.river_mut().unwrap().checks.dry_fill = Some(Volume::from_l(6.2));
    assert!(!plan.river_is_guess());
    let measured = measure(&plan).unwrap();
    assert!((measured.sizing.total.l() - 6.2).abs() < 1e-9);
    // 20 L less 6.2 are the boards, a third each, with two channels between them.
    assert!(measured.submerged.iter().all(|s| (s.volume.l() - 13.8 / 3.0).abs() < 1e-9));
    // ±4 % of what was filled, and nothing for a drawing that nobody made.
    let uncertain = measured.sizing.uncertainty.l();
    assert!((0.98..1.02).contains(&(uncertain / (0.04 * 6.2))), "{uncertain}");
    let ways: Vec<_> = measured.ways.readings.iter().map(|r| r.method).collect();
    assert_eq!(ways, [Method::DryFill]);
}

#[test]
fn a_form_is_measured_by_weighing_its_boards_alone() {
    let mut plan = amounts(2);
    let boards = &mut plan.contents.river_mut().unwrap().boards;
    for (board, kg) in boards.iter_mut().zip([5.2, 3.9]) {
        (board.weighed, board.density) = (Some(Mass::from_kg(kg)), Density::from_kg_m3(650.0));
    }
    // 9.1 kg ÷ 650 kg/m³ = 14 L of the form's 20.
    let measured = measure(&plan).unwrap();
    assert!((measured.sizing.total.l() - 6.0).abs() < 1e-9);
    let each: Vec<f64> = measured.submerged.iter().map(|s| s.volume.l()).collect();
    assert!((each[0] - 8.0).abs() < 1e-9 && (each[1] - 6.0).abs() < 1e-9, "{each:?}");
    // The boards are straight, one metre long: 200 and 150 mm, 150 mm of resin between them.
    assert!((measured.layout.laid[1].shape.upper.bounds().min.y_m - 0.35).abs() < 1e-9);
    // A dry fill beside it is another way; the scale may be used instead.
    let river = plan.contents.river_mut().unwrap();
    river.checks.dry_fill = Some(Volume::from_l(7.5));
    let both = measure(&plan).unwrap();
    assert!((both.sizing.total.l() - 7.5).abs() < 1e-9);
    assert_eq!(both.ways.disagreements.len(), 1);
    plan.contents.river_mut().unwrap().checks.figure = Some(Method::Weighed);
    assert!((measure(&plan).unwrap().sizing.total.l() - 6.0).abs() < 1e-9);
}

/// The sketch of what was weighed is where drawing goes on, not the guess of the stations.
#[test]
fn outlines_begin_from_what_was_weighed() {
    let mut plan = amounts(3);
    for board in &mut plan.contents.river_mut().unwrap().boards {
        board.weighed = Some(Mass::from_kg(2.6));
    }
    let weighed = measure(&plan).unwrap().sizing.total;
    plan.outlines_from_sketch();
    assert_eq!(plan.contents.river().unwrap().shaping, Shaping::Outlines);
    assert!((measure(&plan).unwrap().sizing.total / weighed - 1.0).abs() < 1e-9);
}

#[test]
fn amounts_that_leave_no_room_are_refused() {
    let mut plan = amounts(1);
    plan.contents.river_mut().unwrap().checks.dry_fill = Some(Volume::from_l(20.0));
    let room = Volume::from_l(20.0);
    let refused = |by| vec![Conflict::AmountBeyondForm { by, room }];
    assert_eq!(measure(&plan).unwrap_err(), refused(Method::DryFill));
    let river = plan.contents.river_mut().unwrap();
    river.checks.dry_fill = None;
    river.boards[0].weighed = Some(Mass::from_kg(14.0));
    assert_eq!(measure(&plan).unwrap_err(), refused(Method::Weighed));
}

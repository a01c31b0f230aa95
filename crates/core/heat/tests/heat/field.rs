//! The field solver against closed forms, laws of conservation, the column
//! solver and its own convergence.

use std::ops::ControlFlow;

use fondant_heat::cooling::{Cooling, CoolingBy};
use fondant_heat::field::{
    Around, Axis, Block, Body, Content, Face, Field, FieldGoal, Fineness, Inside, LOOKED_AT, Mesh,
    Progress, Steps, shapes,
};
use fondant_heat::{Accuracy, Air, Goal, HeatError, Poured, Stack, Surroundings};
use fondant_materials::Material;
use fondant_materials::resin::{Calibrated, Properties, shipped};
use fondant_quantities::{Span, Temperature};
use proptest::prelude::*;

/// Coarse enough for many blocks of any material.
const COARSE: Fineness = Fineness { half_cells: 6.0, largest: 1.3, across: 10.0 };
const ROOM_K: f64 = 293.15;
const HOUR_S: f64 = 3600.0;
const ASH: Material = Material { conductivity_w_m_k: 0.15, capacity_j_m3_k: 650.0 * 1600.0 };

fn to_the_end(_: Progress) -> ControlFlow<()> {
    ControlFlow::Continue(())
}

fn slow() -> Calibrated {
    shipped::models().remove(0)
}

fn channel(width_m: f64) -> Body {
    let boards_m = [0.15, 0.15];
    shapes::Channel { layers_m: vec![0.04], width_m, boards_m, timber: ASH }.body()
}

fn poured(body: Body, resin: &Calibrated, around: Around, steps: Steps, depth_m: f64) -> Field {
    let mut field = Field::new(body, resin, around, ROOM_K, steps).expect("a room in range");
    field.pour(depth_m, ROOM_K, 0.0).expect("resin to pour");
    field
}

fn peak_of(field: &mut Field) -> f64 {
    field
        .run(48.0 * HOUR_S, FieldGoal::Peak { enough_k: 500.0 }, &mut to_the_end)
        .expect("the solver goes on");
    field.peak().expect("a peak").t_k
}

#[test]
fn a_section_without_sides_is_a_column() {
    let mesh = Mesh {
        is_round: false,
        x: Axis::single(1.0),
        y: Axis::single(1.0),
        z: Axis::equal(&[(0.0, 0.05, 40)]),
    };
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let body = Body::new(mesh, |_| Content::Resin);
    let mut field = poured(body, &slow(), around, Steps::default(), 0.05);
    field.run(400.0 * HOUR_S, FieldGoal::Hard, &mut to_the_end).unwrap();
    let accuracy = Accuracy { degree: 15, ..Accuracy::default() };
    let mut stack = Stack::new(&slow(), Surroundings::still_air(ROOM_K), &accuracy);
    stack.pour(0.05, ROOM_K, 0.0).unwrap();
    stack.run(400.0 * HOUR_S, Goal::Hard).unwrap();
    let (column, section) = (stack.top().unwrap(), field.segments()[0]);
    assert!((column.peak_k - section.peak.unwrap().t_k).abs() < 0.03);
    assert!((column.opens_s.unwrap() - section.opens_s.unwrap()).abs() < 30.0);
    assert!((column.closes_s.unwrap() - section.closes_s.unwrap()).abs() < 90.0);
    assert!((column.hard_s.unwrap() / section.hard_s.unwrap() - 1.0).abs() < 0.01);
}

/// What lay in a section of another resin than the cast's own gave off no heat.
#[test]
fn a_section_of_two_resins_without_sides_is_a_column_of_them() {
    let coating = shipped::models().remove(2);
    let mesh = Mesh {
        is_round: false,
        x: Axis::single(1.0),
        y: Axis::single(1.0),
        z: Axis::equal(&[(0.0, 0.006, 12), (0.006, 0.04, 34)]),
    };
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let body = Body::new(mesh, |_| Content::Resin);
    let mut field = Field::new(body, &slow(), around, ROOM_K, Steps::default()).unwrap();
    field.pour_of(&coating, 0.006, Poured::fresh(ROOM_K)).unwrap();
    field.run(8.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
    field.pour(0.04, ROOM_K, 0.0).unwrap();
    field.run(400.0 * HOUR_S, FieldGoal::Hard, &mut to_the_end).unwrap();
    let mut stack = Stack::new(&slow(), Surroundings::still_air(ROOM_K), &Accuracy::default());
    stack.pour_of(&coating, 0.006, ROOM_K, 0.0).unwrap();
    stack.run(8.0 * HOUR_S, Goal::Time).unwrap();
    stack.pour(0.034, ROOM_K, 0.0).unwrap();
    stack.run(400.0 * HOUR_S, Goal::Hard).unwrap();
    for (column, section) in stack.layers().zip(field.segments()) {
        let peak_k = section.peak.unwrap().t_k;
        assert!(peak_k > ROOM_K + 3.0 && peak_k < ROOM_K + 40.0, "{peak_k}");
        assert!((column.opens_s.unwrap() - section.opens_s.unwrap()).abs() < 60.0);
    }
    let (column, section) = (stack.top().unwrap(), field.segments()[1]);
    assert!((stack.peak().unwrap().0 - field.peak().unwrap().t_k).abs() < 0.1);
    assert!((column.closes_s.unwrap() - section.closes_s.unwrap()).abs() < 120.0);
    assert!((column.hard_s.unwrap() / section.hard_s.unwrap() - 1.0).abs() < 0.01);
}

/// A bath counted from the first pour alone: what was poured after its end stood in warm air.
#[test]
fn each_pour_begins_with_its_own_bath() {
    const DEPTH_M: f64 = 0.015;
    let resin = shipped::models().remove(1);
    let cooling = |hours: f64| Cooling {
        by: CoolingBy::Bath,
        at: Some(Temperature::from_celsius(8.0)),
        lasts: Span::from_h(hours),
    };
    let second_k = |hours: f64| {
        let around = cooling(hours).surroundings(Air::Steady(293.15));
        let mut stack = Stack::new(&resin, around, &Accuracy::default());
        stack.pour(DEPTH_M, 293.15, 0.0).expect("a layer");
        stack.run(30.0 * 3600.0, Goal::Time).expect("it goes on");
        stack.pour(DEPTH_M, 293.15, 0.0).expect("a layer");
        stack.run(150.0 * 3600.0, Goal::Hard).expect("it goes on");
        stack.top().expect("a layer").peak_k
    };
    // The same by hand: ice comes with each pour, and is taken away a day later.
    let by_hand = || {
        let bath = || cooling(0.0).surroundings(Air::Steady(293.15));
        let mut stack = Stack::new(&resin, bath(), &Accuracy::default());
        for begins_h in [0.0, 30.0] {
            stack.surround(bath());
            stack.pour(DEPTH_M, 293.15, 0.0).expect("a layer");
            stack.run((begins_h + 24.0) * 3600.0, Goal::Time).expect("it goes on");
            stack.surround(Surroundings::still_air(293.15));
            stack.run((begins_h + 30.0) * 3600.0, Goal::Time).expect("it goes on");
        }
        stack.run(150.0 * 3600.0, Goal::Hard).expect("it goes on");
        stack.top().expect("a layer").peak_k
    };
    let (each, never) = (second_k(24.0), second_k(0.01));
    assert!((each - by_hand()).abs() < 0.02, "{each} {}", by_hand());
    assert!(never > each + 1.0, "{never} {each}");
    // A field of a single column of cells gives the same.
    let layers_m = [DEPTH_M; 2];
    let z = shapes::up(&layers_m);
    let mesh = Mesh { is_round: false, x: Axis::single(1.0), y: Axis::single(1.0), z };
    let mut around = cooling(24.0).around(Air::Steady(293.15), false);
    let closed =
        |around: &mut Around| (around.x, around.y) = ([Face::CLOSED; 2], [Face::CLOSED; 2]);
    closed(&mut around);
    closed(&mut around.then.as_mut().expect("without a bath").1);
    let body = Body::new(mesh, |_| Content::Resin);
    let mut field = Field::new(body, &resin, around, 293.15, Steps::default()).expect("in range");
    field.pour(DEPTH_M, 293.15, 0.0).expect("resin");
    field.run(30.0 * 3600.0, FieldGoal::Time, &mut to_the_end).expect("it goes on");
    field.pour(2.0 * DEPTH_M, 293.15, 0.0).expect("resin");
    field.run(150.0 * 3600.0, FieldGoal::Hard, &mut to_the_end).expect("it goes on");
    let section_k = field.segments()[1].peak.expect("a peak").t_k;
    assert!((section_k - each).abs() < 0.3, "{section_k} {each}");
}

#[test]
fn what_cure_releases_is_stored_or_lost_to_a_thousandth() {
    let steps = Steps { release_k: 1.0, ..Steps::default() };
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let mut field = poured(channel(0.12), &slow(), around, steps, 0.04);
    let (mut lost_j, mut from) = (0.0, (0.0, field.loss_w()));
    while field.time_s() < 24.0 * HOUR_S {
        field.run(field.time_s() + 120.0, FieldGoal::Time, &mut to_the_end).unwrap();
        let now = (field.time_s(), field.loss_w());
        lost_j += 0.5 * (from.1 + now.1) * (now.0 - from.0);
        from = now;
    }
    let (released, stored) = (field.released_j(0.0), field.stored_j(ROOM_K));
    assert!(released > 1e5, "{released}");
    assert!(((lost_j + stored) / released - 1.0).abs() < 1e-3, "{released} {stored} {lost_j}");
}

#[test]
fn a_slab_with_a_steady_source_reaches_the_parabola() {
    // Two films of 10 and a source q: T = q L/2h + q (L²/8k) in the middle. The
    // source is a resin whose cure neither warms nor thins out what reacts.
    let mut resin = Properties::clone(&slow());
    resin.cure.a1_per_s = 1e-9;
    resin.cure.e1_j_mol = 0.0;
    resin.cure.a2_per_s = 1e-30;
    resin.cure.order_n = 0.0;
    resin.cure.tg_cured_k = resin.cure.tg_uncured_k;
    resin.cure.heat_j_kg = 1e8;
    let resin = Calibrated::of_class(resin);
    let depth = 0.05;
    let mesh = Mesh {
        is_round: false,
        x: Axis::single(1.0),
        y: Axis::single(1.0),
        z: Axis::equal(&[(0.0, depth, 25)]),
    };
    let film = Face { resistance_m2k_w: 0.1, beyond_k: None };
    let around = Around { base: film, ..Around::on_a_board(Air::Steady(ROOM_K)) };
    let body = Body::new(mesh, |_| Content::Resin);
    let mut field = poured(body, &resin, around, Steps::default(), depth);
    field.run(200.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
    let source = resin.density.kg_m3() * resin.cure.heat_j_kg * 1e-9;
    let middle = source * depth / 20.0 + source * depth * depth / (8.0 * resin.conductivity_w_m_k);
    let found = field.peak().unwrap().t_k - ROOM_K;
    assert!((found / middle - 1.0).abs() < 3e-3, "{found} for {middle}");
}

#[test]
fn halving_the_release_of_a_step_hardly_moves_the_peak() {
    let peak = |release_k| {
        let around = Around::on_a_board(Air::Steady(ROOM_K));
        let steps = Steps { release_k, ..Steps::default() };
        peak_of(&mut poured(channel(0.12), &slow(), around, steps, 0.04))
    };
    let (usual, half, eighth) = (peak(2.0), peak(1.0), peak(0.25));
    assert!((usual - eighth).abs() < 0.05, "{usual} {half} {eighth}");
}

#[test]
fn a_river_costs_a_few_hundred_steps() {
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let mut field = poured(channel(0.3), &slow(), around, Steps::default(), 0.04);
    field.run(72.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
    let work = field.work();
    assert!(work.steps < 420 && work.cells < 900, "{work:?}");
    assert!((field.peak().unwrap().t_k - 273.15 - 48.616).abs() < 0.15);
}

#[test]
fn brass_in_a_block_takes_heat_from_around_it() {
    let block = |of: Option<Material>| {
        let wall = Face::wall(0.006, 0.19, 10.0);
        let around = Around {
            x: [Face::CLOSED, wall],
            y: [Face::CLOSED, wall],
            ..Around::on_a_board(Air::Steady(ROOM_K))
        };
        let inside = of.map(|of| Inside { half_m: [0.025; 2], levels_m: [0.025, 0.075], of });
        let body = Block::new([0.1; 2], inside).body(&[0.1], LOOKED_AT);
        peak_of(&mut poured(body, &slow(), around, Steps::default(), 0.1))
    };
    let (clear, brass, timber) = (block(None), block(Some(Material::BRASS)), block(Some(ASH)));
    assert!((clear - 273.15 - 56.30).abs() < 0.3, "{clear}");
    assert!(brass < timber && timber < clear, "{brass} {timber} {clear}");
}

#[test]
fn a_second_pour_lies_on_the_first_and_its_window_is_its_own() {
    let boards_m = [0.15, 0.15];
    let body =
        shapes::Channel { layers_m: vec![0.02, 0.02], width_m: 0.12, boards_m, timber: ASH }.body();
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let mut field = poured(body, &slow(), around, Steps::default(), 0.02);
    field.record();
    field.run(20.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
    field.pour(0.04, ROOM_K, 0.0).unwrap();
    field.run(200.0 * HOUR_S, FieldGoal::Hard, &mut to_the_end).unwrap();
    let [first, second] = field.segments() else { panic!("two segments") };
    assert!(first.opens_s.unwrap() < 20.0 * HOUR_S && second.opens_s.unwrap() > 24.0 * HOUR_S);
    assert!(first.opens_everywhere_s.unwrap() >= first.opens_s.unwrap());
    let frames = field.frames().unwrap();
    let pictures: Vec<_> = frames.pictures().collect();
    assert!(pictures.len() > 20 && pictures.len() <= 181);
    assert!(pictures.windows(2).all(|pair| pair[0].t_s <= pair[1].t_s));
    // The hottest step is a picture, however little it is above those around it.
    let hottest = frames.samples.iter().map(|sample| sample.hottest);
    let hottest = hottest.max_by(|a, b| a.t_k.total_cmp(&b.t_k)).unwrap();
    assert!(pictures.iter().any(|picture| picture.hottest == hottest), "{hottest:?}");
    assert!(frames.samples.windows(2).all(|pair| pair[0].t_s <= pair[1].t_s));
    assert!(field.pour(0.04, ROOM_K, 0.0).is_err(), "it is full");
}

#[test]
fn a_run_that_nobody_waits_for_ends_at_once() {
    let around = Around::on_a_board(Air::Steady(ROOM_K));
    let mut field = poured(channel(0.1), &slow(), around, Steps::default(), 0.04);
    let mut seen = 0;
    let ended = field.run(72.0 * HOUR_S, FieldGoal::Time, &mut |_| {
        seen += 1;
        if seen < 5 { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
    });
    assert!(matches!(ended, Err(HeatError::Abandoned { .. })));
    assert_eq!(field.work().steps, 5);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Over what can be entered nothing diverges or is not a number. A cell
    /// warmed by its neighbours before it reacts may pass what it would reach
    /// alone, but not by much.
    #[test]
    fn every_field_makes_sense(
        kind in 0usize..7, depth in 0.002f64..0.15, width in 0.01f64..0.6,
        air_c in 5.0f64..40.0, pour_c in 10.0f64..40.0,
    ) {
        let resin = shipped::models().remove(kind);
        let boards_m = [0.1, 0.1];
        let body = shapes::Channel { layers_m: vec![depth], width_m: width, boards_m, timber: ASH }.body();
        let around = Around::on_a_board(Air::Steady(air_c + 273.15));
        let mut field = Field::new(body, &resin, around, air_c + 273.15, Steps::default()).unwrap();
        field.record();
        field.pour(depth, pour_c + 273.15, 0.0).unwrap();
        field.run(36.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
        let peak = field.peak().unwrap();
        let most = air_c.max(pour_c) + 273.15 + 1.15 * resin.adiabatic_rise().k();
        prop_assert!(peak.t_k.is_finite() && peak.t_k <= most, "{} over {most}", peak.t_k);
        let samples = &field.frames().unwrap().samples;
        prop_assert!(samples.iter().all(|s| s.surface_k.is_finite() && s.base_k.is_finite()));
    }

    /// Metal, stone and timber of any size and a bath around: the method stays
    /// stable at every step it chooses.
    #[test]
    fn blocks_with_anything_inside_stay_sensible(
        kind in 0usize..7, side in 0.03f64..0.2, share in 0.1f64..0.8, what in 0usize..4, bath in any::<bool>(),
    ) {
        let resin = shipped::models().remove(kind);
        let of = [Material::BRASS, Material::STEEL, Material::STONE, ASH][what];
        let film = if bath { 300.0 } else { 10.0 };
        let wall = Face { beyond_k: bath.then_some(277.15), ..Face::wall(0.006, 0.19, film) };
        let around = Around {
            x: [Face::CLOSED, wall],
            y: [Face::CLOSED, wall],
            ..Around::on_a_board(Air::Steady(ROOM_K))
        };
        let half = 0.5 * side * share;
        let levels_m = [0.5 * side - half, 0.5 * side + half];
        let inside = Some(Inside { half_m: [half; 2], levels_m, of });
        let body = Block::new([side; 2], inside).body(&[side], COARSE);
        let mut field = poured(body, &resin, around, Steps::default(), side);
        field.run(30.0 * HOUR_S, FieldGoal::Time, &mut to_the_end).unwrap();
        let peak = field.peak().unwrap();
        prop_assert!(peak.t_k <= ROOM_K + 1.15 * resin.adiabatic_rise().k(), "{}", peak.t_k);
    }
}

//! A column with a loss to its sides against converged sections and blocks.

use fondant_heat::cooling::Cooling;
use fondant_heat::field::shapes::Channel;
use fondant_heat::field::{Block, Face, Field, FieldGoal, Inside, LOOKED_AT, Shell, Steps};
use fondant_heat::sides::{Beside, Between, Extent, Sides, Stretch};
use fondant_heat::{Accuracy, Air, Deepest, Goal, LayerEvents, Poured, Stack, Surroundings};
use fondant_materials::Material;
use fondant_materials::resin::{Calibrated, shipped};
use proptest::prelude::*;
use proptest::test_runner::RngSeed;
use std::ops::ControlFlow;

const ROOM_K: f64 = 293.15;
const SEARCHED_M: f64 = 0.25;
const HOUR_S: f64 = 3600.0;
const ASH: Material = Material { conductivity_w_m_k: 0.15, capacity_j_m3_k: 650.0 * 1600.0 };

fn between(resin: &Calibrated, extent: Extent) -> Between<'_> {
    Between {
        resin,
        poured: Poured::fresh(ROOM_K),
        extent,
        column: Surroundings::still_air(ROOM_K),
        around: Cooling::default().around(Air::Steady(ROOM_K), matches!(extent, Extent::Block(_))),
        accuracy: Accuracy::coarse(),
        solid_k: ROOM_K,
    }
}

fn between_ash(width_m: f64) -> Extent {
    Extent::Channel(Stretch { width_m, beside: [Beside::Solid(ASH, 0.15); 2] })
}

/// A column of one layer with a side loss, until all is demouldable.
fn column(resin: &Calibrated, depths: &[(f64, f64)], column: Surroundings, sides: Sides) -> Stack {
    let around = column.with_sides(sides.loss_w_m3k);
    let mut stack = Stack::new(resin, around, &Accuracy::default());
    for (depth_m, at_s) in depths {
        if *at_s > 0.0 {
            stack.run(*at_s, Goal::Time).expect("the solver goes on");
        }
        stack.pour(*depth_m, ROOM_K, 0.0).expect("resin to pour");
    }
    stack.run(400.0 * HOUR_S, Goal::Hard).expect("the solver goes on");
    stack
}

fn in_still_air(resin: &Calibrated, depth_m: f64, sides: Sides) -> LayerEvents {
    *column(resin, &[(depth_m, 0.0)], Surroundings::still_air(ROOM_K), sides)
        .top()
        .expect("a layer")
}

#[test]
fn windows_of_rivers_are_those_of_their_sections() {
    // Class, depth and width in mm; peak °C, opening and closing s, converged.
    let sections = [
        (0, 40.0, 60.0, 35.073, 40_565.0, 72_834.0),
        (0, 40.0, 120.0, 43.051, 31_814.0, 62_444.0),
        (0, 40.0, 300.0, 48.616, 27_145.0, 54_824.0),
        (0, 40.0, 600.0, 48.752, 27_000.0, 54_432.0),
        (1, 15.0, 120.0, 34.775, 31_292.0, 55_819.0),
        (2, 6.0, 60.0, 26.805, 17_584.0, 36_627.0),
    ];
    for (class, depth_mm, width_mm, peak_c, opens_s, closes_s) in sections {
        let resin = &shipped::models()[class];
        let depth_m = depth_mm * 1e-3;
        let sides = between(resin, between_ash(width_mm * 1e-3)).sides(depth_m).expect("sides");
        let found = in_still_air(resin, depth_m, sides);
        let said = format!("{class} {depth_mm} × {width_mm}: {sides:?} {found:?}");
        assert!((found.peak_k - 273.15 - peak_c).abs() < 0.5, "{said}");
        assert!((found.opens_s.unwrap() - opens_s).abs() < 900.0, "{said}");
        assert!((found.closes_s.unwrap() - closes_s).abs() < 900.0, "{said}");
    }
}

#[test]
fn what_only_loses_sideways_cools_by_the_exponential() {
    // No film, no base, no cure: T − T0 falls by exp(−g t / ρ cp).
    let resin = shipped::models().remove(0).scaled(1e-30, 1.0);
    let loss = 60.0;
    let around = Surroundings {
        top_film_w_m2k: 0.0,
        base_resistance_m2k_w: f64::INFINITY,
        ..Surroundings::still_air(ROOM_K).with_sides(loss)
    };
    let mut stack = Stack::new(&resin, around, &Accuracy::default());
    stack.pour(0.03, ROOM_K + 20.0, 0.0).expect("resin to pour");
    for hours in [1.0, 4.0, 12.0] {
        stack.run(hours * HOUR_S, Goal::Time).expect("the solver goes on");
        let capacity = resin.density.kg_m3() * resin.heat_capacity_j_kg_k;
        let expected = 20.0 * (-loss * hours * HOUR_S / capacity).exp();
        let found = stack.mean_temperature_k() - ROOM_K;
        assert!((found - expected).abs() < 0.02, "after {hours} h: {found} for {expected}");
    }
}

#[test]
fn walls_and_timber_on_two_sides_each_take_their_half() {
    let resin = &shipped::models()[0];
    let timber = Beside::Solid(ASH, 0.15);
    let wall = Beside::Wall(Face::wall(0.018, 0.13, 10.0));
    let loss = |beside| {
        let extent = Extent::Channel(Stretch { width_m: 0.1, beside });
        between(resin, extent).side_loss(0.04).expect("a loss")
    };
    let (both_timber, both_walls, mixed) =
        (loss([timber; 2]), loss([wall; 2]), loss([timber, wall]));
    // The hottest point moves towards the warmer side.
    let mean = 0.5 * (both_timber + both_walls);
    assert!(mixed <= mean + 0.5 && mixed > both_timber.min(both_walls), "{mixed} {mean}");
    assert!((mixed - loss([wall, timber])).abs() < 1e-3 * mixed, "left is as right");
}

#[test]
fn thin_timber_holds_less_heat_than_thick() {
    // 30 mm instead of 150 on one side: a tenth of a kelvin hotter in 120 mm.
    let resin = &shipped::models()[0];
    let peak = |thin_m: f64| {
        let beside = [Beside::Solid(ASH, thin_m), Beside::Solid(ASH, 0.15)];
        let extent = Extent::Channel(Stretch { width_m: 0.12, beside });
        let sides = between(resin, extent).sides(0.04).expect("sides");
        in_still_air(resin, 0.04, sides).peak_k
    };
    let hotter = peak(0.03) - peak(0.15);
    assert!((0.0..0.4).contains(&hotter), "{hotter}");
}

#[test]
fn a_second_layer_goes_by_the_loss_of_the_first() {
    // Two pours of 20 mm thirteen hours apart: 29.98 °C in 120 mm.
    let resin = &shipped::models()[0];
    let sides = between(resin, between_ash(0.12)).sides(0.02).expect("sides");
    let pours = [(0.02, 0.0), (0.02, 13.0 * HOUR_S)];
    let stack = column(resin, &pours, Surroundings::still_air(ROOM_K), sides);
    let (peak_k, _) = stack.peak().expect("a peak");
    assert!((peak_k - 273.15 - 29.983).abs() < 0.5, "{}", peak_k - 273.15);
    let first = stack.layers().next().expect("the first layer");
    assert!(first.opens_s.is_none(), "poured before it was sticky: {first:?}");
}

#[test]
fn the_rim_is_hard_after_the_middle_even_where_it_is_wide() {
    let resin = &shipped::models()[0];
    let sides = between(resin, between_ash(0.6)).sides(0.04).expect("sides");
    let middle_s = in_still_air(resin, 0.04, sides).hard_s.expect("hard");
    let all_s = sides.hard_s(0.0, middle_s);
    // The rim of a wide 40 mm river is hard 47 h after the pour.
    assert!(sides.loss_w_m3k == 0.0 && middle_s < 40.0 * HOUR_S, "{sides:?}");
    assert!((all_s / HOUR_S - 47.05).abs() < 0.7, "{}", all_s / HOUR_S);
}

#[test]
fn a_block_loses_heat_both_ways() {
    // Free top, walls of 6 mm acrylic in still air: side and height, mm, and °C.
    let resin = &shipped::models()[0];
    let blocks = [(0.1, 0.1, 56.303), (0.12, 0.16, 79.404)];
    for (side_m, height_m, peak_c) in blocks {
        let extent = Extent::Block(Block::new([side_m; 2], None));
        let sides = between(resin, extent).sides(height_m).expect("sides");
        let still = Surroundings::still_air(ROOM_K);
        let (peak_k, _) = column(resin, &[(height_m, 0.0)], still, sides).peak().expect("a peak");
        let found = peak_k - 273.15;
        assert!((found - peak_c).abs() < 0.5, "{side_m} {sides:?}: {found} for {peak_c}");
    }
}

#[test]
fn a_solid_in_a_block_keeps_it_cool() {
    // A timber core of 40 × 40 × 60 mm in 100 × 100 × 120 mm: 48.65 °C, converged.
    let resin = &shipped::models()[0];
    let core = Material { conductivity_w_m_k: 0.15, capacity_j_m3_k: 650.0 * 1400.0 };
    let inside = Some(Inside { half_m: [0.02; 2], levels_m: [0.03, 0.09], of: core });
    let of = |inside| between(resin, Extent::Block(Block::new([0.1; 2], inside)));
    let sides = of(inside).sides(0.12).expect("sides");
    let still = Surroundings::still_air(ROOM_K);
    let (peak_k, _) = column(resin, &[(0.12, 0.0)], still, sides).peak().expect("a peak");
    assert!((peak_k - 273.15 - 48.647).abs() < 0.8, "{}", peak_k - 273.15);
    let deepest = |inside| of(inside).deepest(338.15, 0.4).expect("a depth").0.safe_m();
    assert!(deepest(inside) > deepest(None), "{} {}", deepest(inside), deepest(None));
}

#[test]
fn the_largest_cube_in_still_air_is_111_mm() {
    let resin = &shipped::models()[0];
    let deepest = |side_m: f64| {
        let extent = Extent::Block(Block::new([side_m; 2], None));
        between(resin, extent).deepest(338.15, 0.4).expect("a depth").0.safe_m()
    };
    // Converged: a cube of 111 mm meets 65 °C, so that it may be as deep as it is wide.
    assert!((deepest(0.111) / 0.111 - 1.0).abs() < 0.04, "{}", deepest(0.111));
    assert!(deepest(0.4) < 0.056, "wide blocks are slabs of 51.8 mm: {}", deepest(0.4));
}

/// The hottest point of a single layer in a field as fine as one that is looked at, K.
fn converged_k(resin: &Calibrated, extent: Extent, depth_m: f64) -> f64 {
    let is_block = matches!(extent, Extent::Block(_));
    let body = match extent {
        Extent::Block(block) => block.body(&[depth_m], LOOKED_AT),
        Extent::Channel(stretch) => {
            let (boards_m, layers_m) = ([0.15; 2], vec![depth_m]);
            Channel { layers_m, width_m: stretch.width_m, boards_m, timber: ASH }.body()
        }
    };
    let mut around = Cooling::default().around(Air::Steady(ROOM_K), is_block);
    if !is_block {
        around.x = [Face::CLOSED; 2];
    }
    let mut field = Field::new(body, resin, around, ROOM_K, Steps::default()).expect("in range");
    field.pour(depth_m, ROOM_K, 0.0).expect("resin");
    let goal = FieldGoal::Peak { enough_k: 500.0 };
    field.run(400.0 * HOUR_S, goal, &mut |_| ControlFlow::Continue(())).expect("it goes on");
    field.peak().expect("a peak").t_k
}

fn any_extent() -> impl Strategy<Value = Extent> {
    let channel = (40.0..600.0f64).prop_map(|width_mm| between_ash(width_mm * 1e-3));
    let object = prop_oneof![
        Just(None),
        (0.2..0.6f64, prop_oneof![Just(ASH), Just(Material::STONE), Just(Material::BRASS)])
            .prop_map(Some),
    ];
    let block = (60.0..220.0f64, 1.0..1.6f64, object).prop_map(|(side_mm, ratio, object)| {
        let size_m = [side_mm * 1e-3 * ratio, side_mm * 1e-3];
        let inside = object.map(|(share, of)| {
            let half = 0.5 * share * size_m[1];
            Inside { half_m: [half; 2], levels_m: [0.3 * half, 2.3 * half], of }
        });
        Extent::Block(Block::new(size_m, inside))
    });
    let cavity = (10.0..60.0f64, 0.0..0.7f64, any::<bool>(), 4.0..12.0f64).prop_map(
        |(width_mm, share, is_round, wall_mm)| {
            let half = 0.5e-3 * width_mm;
            let of = Material::brass_tube(2.0 * share * half + 1e-3);
            let tube = Inside { half_m: [share * half; 2], levels_m: [0.0, 1.0], of };
            let inside = (share > 0.1).then_some(tube);
            let shell = Some(Shell { thick_m: [wall_mm * 1e-3; 2], of: Material::SILICONE });
            let size_m = [2.0 * half, if is_round { 2.0 } else { 4.0 } * half];
            Extent::Block(Block { is_round, shell, ..Block::new(size_m, inside) })
        },
    );
    prop_oneof![channel, block, cavity]
}

proptest! {
    #![proptest_config(ProptestConfig {
        rng_seed: RngSeed::Fixed(20_261_128),
        max_shrink_iters: 8,
        ..ProptestConfig::with_cases(10)
    })]

    #[test]
    fn the_plans_column_is_as_hot_and_as_deep_as_the_field(
        class in 0usize..7,
        extent in any_extent(),
        share in 0.5..1.0f64,
    ) {
        let resin = &shipped::models()[class];
        let limit_k = resin.working.peak_limit.k();
        let between = between(resin, extent);
        let (deepest, _) = between.deepest(limit_k, SEARCHED_M).expect("a depth");
        let deepest_m = deepest.safe_m();
        // Never unsafe by more than 3 % of the depth, nor stricter.
        prop_assert!(converged_k(resin, extent, 0.97 * deepest_m) < limit_k + 0.05);
        if let Deepest::Limited { .. } = deepest {
            prop_assert!(converged_k(resin, extent, 1.03 * deepest_m) > limit_k - 0.05);
        }
        let depth_m = share * deepest_m;
        let sides = Sides { loss_w_m3k: between.side_loss(depth_m).expect("a loss"), ..Sides::NONE };
        let planned = in_still_air(resin, depth_m, sides).peak_k;
        let field = converged_k(resin, extent, depth_m);
        prop_assert!((planned - field).abs() < 1.0, "planned {planned}, field {field}");
    }
}

/// The product of three directions grew at the edges of an object in a thin layer.
#[test]
fn an_object_that_makes_no_heat_makes_a_layer_no_hotter() {
    let coating = &shipped::models()[2];
    for low in [0.004, 0.0078] {
        let inside = Some(Inside { half_m: [0.026; 2], levels_m: [low, 0.06], of: ASH });
        let of = |inside| Extent::Block(Block::new([0.213, 0.182], inside));
        let (with, without) =
            (converged_k(coating, of(inside), 0.0088), converged_k(coating, of(None), 0.0088));
        assert!(with < without + 0.5, "{with} {without}");
    }
}

#[test]
fn sides_far_off_take_nothing_from_the_middle_of_a_thin_layer() {
    let coating = &shipped::models()[2];
    let between = between(coating, between_ash(0.42));
    assert_eq!(between.side_loss(0.0115), Ok(0.0));
    assert!(between.sides(0.0115).expect("sides").loss_w_m3k.abs() < 1e-12);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    #[test]
    fn narrower_is_cooler_and_sticky_later(
        class in 0usize..3,
        depth_mm in 5.0..25.0f64,
        width_mm in 30.0..200.0f64,
    ) {
        let resin = &shipped::models()[class];
        let depth_m = depth_mm * 1e-3;
        let of = |width_mm: f64| {
            let extent = between_ash(width_mm * 1e-3);
            let sides = between(resin, extent).sides(depth_m).expect("sides");
            (sides, in_still_air(resin, depth_m, sides))
        };
        let ((sides, narrow), (wider_sides, wide)) = (of(width_mm), of(1.5 * width_mm));
        prop_assert!(sides.loss_w_m3k >= wider_sides.loss_w_m3k, "{sides:?} {wider_sides:?}");
        prop_assert!(narrow.peak_k <= wide.peak_k + 1e-6);
        prop_assert!(narrow.opens_s >= wide.opens_s);
        prop_assert!(sides.hard_ratio >= 1.0);
    }
}

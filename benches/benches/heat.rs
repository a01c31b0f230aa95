//! What the heat model costs. The figures asked for: the 72 h solve of a 50 mm
//! slab at most 0.7 ms, the search for the deepest layer at most 6 ms, a map of
//! 12 × 9 of them at most 0.4 s, a river's section at most 150 ms, a quarter of a
//! block at most 3 s.
#![allow(missing_docs, reason = "criterion's macros make undocumented functions")]

use std::ops::ControlFlow;

use criterion::{Criterion, criterion_group, criterion_main};
use fondant_cast::planning::depth_map;
use fondant_cast::{Document, Inputs, Site, evaluate};
use fondant_heat::cooling::Cooling;
use fondant_heat::field::shapes::Channel;
use fondant_heat::field::{Around, Block, Field, FieldGoal, LOOKED_AT, Steps};
use fondant_heat::sides::{Beside, Between, Extent, Stretch};
use fondant_heat::{Accuracy, Air, Goal, Poured, Stack, Surroundings, deepest_layer};
use fondant_materials::Material;
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use jiff::civil::Time;

fn heat(c: &mut Criterion) {
    let resin = &shipped::models()[0];
    let air = Surroundings::still_air(293.15);
    c.bench_function("slab 50 mm, 72 h", |b| {
        b.iter(|| {
            let mut stack = Stack::new(resin, air.clone(), &Accuracy::default());
            stack.pour(0.05, 293.15, 0.0).expect("a depth in range");
            stack.run(72.0 * 3600.0, Goal::Time).expect("the solver goes on");
            stack.peak()
        });
    });
    c.bench_function("deepest layer under 65 °C", |b| {
        b.iter(|| {
            deepest_layer(
                resin,
                &air,
                Poured::fresh(293.15),
                resin.working.peak_limit.k(),
                &Accuracy::default(),
            )
        });
    });
    c.bench_function("three layers of 20 mm, 120 h", |b| {
        b.iter(|| {
            let mut stack = Stack::new(resin, air.clone(), &Accuracy::default());
            for pour in 0..3 {
                stack.pour(0.02, 293.15, 0.0).expect("a depth in range");
                stack
                    .run(f64::from(pour + 1) * 40.0 * 3600.0, Goal::Time)
                    .expect("the solver goes on");
            }
            stack.peak()
        });
    });
}

fn bar() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(2400.0), mm(620.0), mm(64.0), mm(10.0));
    let begin = "2026-11-23T08:00:00Z".parse().expect("a time");
    Document::river_top("Bar".into(), piece, begin)
}

/// An edit in the browser costs this once, and the page on top.
fn whole_plan(c: &mut Criterion) {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
    let site = Site::plain(ShopHours::new([Some(day); 7], "UTC").expect("hours"));
    let inputs = Inputs::new(bar(), shipped::all().remove(0), &site);
    c.bench_function("whole plan of a deep bar top", |b| {
        b.iter(|| {
            evaluate(&inputs, &Stop::NEVER).map(|evaluation| evaluation.measured.sizing.total)
        });
    });
}

/// Sections and blocks over 72 h, and the map of deepest layers.
fn fields(c: &mut Criterion) {
    let resin = &shipped::models()[0];
    let timber = Material::timber(650.0, 10.0);
    let follow = |body, around, to_m: f64| {
        let mut field =
            Field::new(body, resin, around, 293.15, Steps::default()).expect("in range");
        field.pour(to_m, 293.15, 0.0).expect("resin");
        let end = &mut |_| ControlFlow::Continue(());
        field.run(72.0 * 3600.0, FieldGoal::Time, end).expect("the solver goes on");
        field.peak()
    };
    c.bench_function("river 40 × 300 mm between timber, 72 h", |b| {
        b.iter(|| {
            let channel =
                Channel { layers_m: vec![0.04], width_m: 0.3, boards_m: [0.15, 0.15], timber };
            follow(channel.body(), Around::on_a_board(Air::Steady(293.15)), 0.04)
        });
    });
    let stretch = Stretch { width_m: 0.2, beside: [Beside::Solid(timber, 0.15); 2] };
    let between = Between {
        resin,
        poured: Poured::fresh(293.15),
        extent: Extent::Channel(stretch),
        column: Surroundings::still_air(293.15),
        around: Around::on_a_board(Air::Steady(293.15)),
        accuracy: Accuracy::coarse(),
        solid_k: 293.15,
    };
    c.bench_function("sides of a layer 20 × 200 mm", |b| b.iter(|| between.sides(0.02)));
    c.bench_function("deepest layer 200 mm wide", |b| b.iter(|| between.deepest(338.15, 0.25)));
    let block = Between {
        extent: Extent::Block(Block::new([0.1; 2], None)),
        around: Cooling::default().around(Air::Steady(293.15), true),
        ..between.clone()
    };
    c.bench_function("deepest pour of a block 100 × 100 mm", |b| {
        b.iter(|| block.deepest(338.15, 0.25));
    });
    let mut group = c.benchmark_group("blocks");
    group.sample_size(10);
    group.bench_function("quarter of a block 120 × 120 × 160 mm, 72 h", |b| {
        b.iter(|| {
            let around = Cooling::default().around(Air::Steady(293.15), true);
            let block = Block::new([0.12; 2], None);
            follow(block.body(&[0.16], LOOKED_AT), around, 0.16)
        });
    });
    let air: Vec<f64> = (0..12).map(|i| 283.15 + 2.0 * f64::from(i)).collect();
    let pour: Vec<f64> = (0..9).map(|i| 288.15 + 2.0 * f64::from(i)).collect();
    group.bench_function("map of 12 × 9 deepest layers", |b| {
        b.iter(|| depth_map((Cooling::default(), 0.0), resin, &air, &pour, &Stop::NEVER));
    });
    group.finish();
}

criterion_group!(benches, heat, whole_plan, fields);
criterion_main!(benches);

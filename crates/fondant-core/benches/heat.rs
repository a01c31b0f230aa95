//! What the heat model costs. The figures asked for: the 72 h solve of a 50 mm
//! slab at most 2 ms, the search for the deepest layer at most 20 ms.
#![allow(missing_docs, reason = "criterion's macros make undocumented functions")]

use criterion::{Criterion, criterion_group, criterion_main};
use fondant_core::form::Piece;
use fondant_core::heat::{Accuracy, Goal, Stack, Surroundings, deepest_layer};
use fondant_core::plan::{Plan, evaluate};
use fondant_core::quantities::Length;
use fondant_core::resin::shipped;
use fondant_core::schedule::{ShopHours, Workday};
use jiff::civil::Time;

fn heat(c: &mut Criterion) {
    let resin = &shipped::all()[0];
    let air = Surroundings::still_air(293.15);
    c.bench_function("slab 50 mm, 72 h", |b| {
        b.iter(|| {
            let mut stack = Stack::new(resin, air.clone(), Accuracy::default());
            stack.pour(0.05, 293.15, 0.0).expect("a depth in range");
            stack.run(72.0 * 3600.0, Goal::Time).expect("the solver goes on");
            stack.peak()
        });
    });
    c.bench_function("deepest layer under 65 °C", |b| {
        b.iter(|| {
            deepest_layer(resin, &air, 293.15, resin.working.peak_limit.k(), Accuracy::default())
        });
    });
    c.bench_function("three layers of 20 mm, 120 h", |b| {
        b.iter(|| {
            let mut stack = Stack::new(resin, air.clone(), Accuracy::default());
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

/// An edit in the browser costs this once, and the page on top.
fn whole_plan(c: &mut Criterion) {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(2400.0), mm(620.0), mm(64.0), mm(10.0));
    let begin = "2026-11-23T08:00:00Z".parse().expect("a time");
    let plan = Plan::river_top("Bar".into(), piece, begin);
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
    let hours = ShopHours::new([Some(day); 7], "UTC").expect("hours");
    let resin = &shipped::all()[0];
    c.bench_function("whole plan of a deep bar top", |b| {
        b.iter(|| {
            evaluate(&plan, resin, &hours).map(|evaluation| evaluation.measured.sizing.total)
        });
    });
}

criterion_group!(benches, heat, whole_plan);
criterion_main!(benches);

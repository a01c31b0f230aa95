//! The search for pour times, and how well a plan holds.

use criterion::{Criterion, criterion_group, criterion_main};
use fondant_heat::Poured;
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::profile::{DayNight, Known, Profile, Way};
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_pours::layers::{Filling, Ladder};
use fondant_pours::simulate::tries::{TRIES, robust};
use fondant_pours::{Aim, Allowance, Crew, Given, ShopHours, Task, Workday, search};
use fondant_quantities::{Area, Length, Span, Temperature};
use fondant_shapes::volume::Fill;
use jiff::Timestamp;
use jiff::civil::Time;

fn air() -> AirSeries {
    let c = Temperature::from_celsius;
    let day_night = DayNight {
        coldest: c(17.0),
        warmest: c(22.0),
        warmest_at: Time::constant(15, 0, 0, 0),
        humidity_percent: 55.0,
    };
    let profile = Profile { by: Way::DayNight, day_night, ..Profile::default() };
    let at = |text: &str| text.parse::<Timestamp>().expect("a moment");
    profile
        .series(
            &jiff::tz::TimeZone::UTC,
            at("2026-11-20T00:00:00Z"),
            at("2027-01-20T00:00:00Z"),
            Known::default(),
        )
        .expect("a series")
}

/// Five layers, first pours of a week on the quarter hour.
fn five_layers(c: &mut Criterion) {
    let resin = &shipped::models()[0];
    let mm = Length::from_mm;
    let fill = Fill::prism(Area::from_m2(0.3), mm(2.0), mm(74.0));
    let ladder = Ladder::of(&Filling::plain(&fill).split(4));
    let day = Workday::read_day("08:00-18:00").expect("hours");
    let mut days = [const { Vec::new() }; 7];
    for open in days.iter_mut().take(6) {
        open.clone_from(&day);
    }
    let hours = ShopHours::new(days, "UTC").expect("hours");
    let air = air();
    let task = Task {
        resin,
        stage_resins: &[],
        air: &air,
        cooling: Cooling::default(),
        sides: Sides::NONE,
        poured: Poured::fresh(293.15),
        air_rule: None,
        limit: resin.working.peak_limit,
        ladder: &ladder,
        hours: &hours,
        not_before: "2026-11-23T07:00:00Z".parse().expect("a moment"),
        crew: Crew::default(),
        sanding: Span::from_h(1.0),
        finishing: Span::ZERO,
        stop: Stop::NEVER,
    };
    let mut group = c.benchmark_group("schedule");
    group.sample_size(10);
    group.bench_function("five layers, seven days", |b| {
        b.iter(|| search(&task, &Allowance::thorough(Aim::Soonest)).map(|s| s.hard));
    });
    group.bench_function("five layers, quick", |b| {
        b.iter(|| search(&task, &Allowance::quick()).map(|s| s.hard));
    });
    let found = search(&task, &Allowance::thorough(Aim::Soonest)).expect("a plan");
    let given: Vec<Given> = found.pours.iter().map(|p| Given::planned(p.layer, p.at)).collect();
    group.bench_function("a hundred tries of five layers", |b| {
        b.iter(|| robust(&task, &given, TRIES));
    });
    group.finish();
}

criterion_group!(benches, five_layers);
criterion_main!(benches);

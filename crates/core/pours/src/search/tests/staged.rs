//! Layers of several resins, inclusions and flood coats in a search.

use super::*;
use crate::layers::{FloodCoat, Purpose, StagePour, Stages};
use crate::simulate::AirRule;
use crate::simulate::task::StageResin;
use fondant_heat::climate::trouble::AirLimits;

use fondant_materials::resin::ResinId;
use fondant_quantities::Area;
use fondant_shapes::volume::Fill;

fn mm(value: f64) -> Length {
    Length::from_mm(value)
}

/// A coated base, a deep fill and a flood coat, the thin ones of a coating resin.
fn stages() -> Stages {
    let base = StagePour { purpose: Purpose::Base, depth: mm(3.0), resin: 1 };
    let flood = FloodCoat { thickness: mm(1.6), area: Area::from_m2(0.55), resin: 1 };
    Stages { below: vec![base], flood: Some(flood), ..Stages::NONE }
}

fn coating() -> Vec<StageResin> {
    let resin = shipped::models().into_iter().find(|r| r.id.0 == shipped::COATING).unwrap();
    vec![StageResin { resin, poured: Poured::fresh(293.15) }]
}

#[test]
fn each_layer_keeps_the_limit_and_the_window_of_its_own_resin() {
    let (resins, air) = (shipped::models(), steady(20.0));
    let (deep, coating, always) = (&resins[0], coating(), hours(0, 23));
    let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(38.0));
    let stages = stages();
    let ladder = Ladder::of(&Filling { fill: &fill, stages: &stages }.split(1));
    let task = Task { stage_resins: &coating, ..task(deep, &ladder, &air, &always) };
    let plan = search(&task, &exact(Aim::Soonest)).unwrap();
    let kinds: Vec<LayerKind> = plan.pours.iter().map(|pour| pour.layer.kind).collect();
    let of = |purpose| LayerKind::Stage(purpose, 1);
    assert_eq!(kinds, [of(Purpose::Base), LayerKind::Main(1), of(Purpose::Flood)]);
    assert_eq!(plan.pours[1].joint, Joint::WetOnTacky);

    // The base's window is that of three millimetres of coating resin, followed by itself.
    let around = Surroundings::still_air(293.15);
    let mut alone = Stack::new(&coating[0].resin, around, &Accuracy::coarse());
    alone.pour(0.003, 293.15, 0.0).unwrap();
    alone.run(14.0 * 86_400.0, Goal::WindowClosed).unwrap();
    let opens_s = alone.top().unwrap().opens_s.unwrap();
    let opened = plan.pours[0].opens.duration_since(plan.pours[0].at).as_secs_f64();
    assert!((opened - opens_s).abs() < 60.0, "{opened} and {opens_s} s");

    // The flood coat waits until the piece is hard, out of its form and finished: six hours of
    // work, of which the shop's are from 0 to 23 o'clock.
    let Joint::AfterCure { hard, sanding } = plan.pours[2].joint else { panic!("{plan:?}") };
    assert!(hard <= sanding && plan.pours[2].at.duration_since(sanding).as_secs() >= 6 * 3600);
    assert!(plan.pours[1].closes < hard);
    assert!(plan.hard > plan.pours[2].closes);
}

#[test]
fn a_stage_over_its_own_limit_is_told_of_though_the_cast_stays_under_its() {
    let (resins, air) = (shipped::models(), steady(20.0));
    let (deep, coating, always) = (&resins[0], coating(), hours(0, 23));
    assert!(coating[0].resin.working.peak_limit != deep.working.peak_limit);
    let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(60.0));
    let base = StagePour { purpose: Purpose::Base, depth: mm(30.0), resin: 1 };
    let stages = Stages { below: vec![base], ..Stages::NONE };
    let layers = Filling { fill: &fill, stages: &stages }.split(1);
    let ladder = Ladder::of(&layers);
    let task = Task { stage_resins: &coating, ..task(deep, &ladder, &air, &always) };
    let given = [Given::planned(layers[0], at(BEGIN))];
    let judged = judge(&task, &given).unwrap();
    let [Break::TooHot { pour: 0, peak }] = judged.breaks[..] else { panic!("{judged:?}") };
    assert!(peak > coating[0].resin.working.peak_limit);
    assert_eq!(search(&task, &exact(Aim::Soonest)).unwrap_err(), ScheduleError::TooHot);
}

#[test]
fn what_covers_inclusions_goes_in_while_they_are_sticky_or_not_at_all() {
    let (resins, air) = (shipped::models(), steady(20.0));
    let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(24.0));
    let laid = StagePour { purpose: Purpose::Inclusions, depth: mm(4.0), resin: 0 };
    let stages = Stages { below: vec![laid], ..Stages::NONE };
    let layers = Filling { fill: &fill, stages: &stages }.split(1);
    let ladder = Ladder::of(&layers);
    // Open all day, the window is met ...
    let always = hours(0, 23);
    let plan = search(&task(&resins[0], &ladder, &air, &always), &exact(Aim::Soonest)).unwrap();
    assert_eq!(plan.pours[1].joint, Joint::WetOnTacky);
    // ... and one day a week never meets it: nothing is proposed that would be sanded.
    let monday = Workday { opens: Time::constant(9, 0, 0, 0), closes: Time::constant(11, 0, 0, 0) };
    let mut week = [None; 7];
    week[0] = Some(monday);
    let mondays = ShopHours::new(week, "UTC").unwrap();
    let found = search(&task(&resins[0], &ladder, &air, &mondays), &exact(Aim::Soonest));
    assert_eq!(found.unwrap_err(), ScheduleError::MissesInclusions);
    let late = [layers[0], layers[1]];
    let given = [0, 6].map(|day| at(BEGIN) + SignedDuration::from_hours(24 * day));
    let given: Vec<Given> = late.iter().zip(given).map(|(l, at)| Given::planned(*l, at)).collect();
    let judged = judge(&task(&resins[0], &ladder, &air, &always), &given).unwrap();
    assert!(matches!(judged.breaks[..], [Break::CannotBeSanded { pour: 1, .. }]), "{judged:?}");
}

/// Days of 21 °C and nights of 13 °C. The coat asks for 20 °C and the deep resin for 10: the coat goes in by
/// day and the fill on it in the evening. Were both as strict, the form would open later.
#[test]
fn each_layer_goes_in_when_the_air_is_fit_for_its_own_resin() {
    let c = Temperature::from_celsius;
    let (air, always) = (swinging(17.0, 4.0), hours(0, 23));
    let resin = |id: &str, coldest| {
        let mut record = shipped::find(&ResinId(id.into())).unwrap();
        record.properties.working.coldest = coldest;
        record.calibrated()
    };
    let coat = resin(shipped::COATING, c(20.0));
    let coating = [StageResin { resin: coat, poured: Poured::fresh(293.15) }];
    let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(38.0));
    let base = StagePour { purpose: Purpose::Base, depth: mm(3.0), resin: 1 };
    let stages = Stages { below: vec![base], ..Stages::NONE };
    let ladder = Ladder::of(&Filling { fill: &fill, stages: &stages }.split(1));
    let plan_of = |coldest: Temperature| {
        let deep = resin(shipped::SLOW_CASTING, coldest);
        let limits = AirLimits {
            coldest: c(20.0),
            warmest: c(60.0),
            humidity_care_percent: 70.0,
            humidity_stop_percent: 85.0,
        };
        let rule = AirRule { limits, surface: c(20.0) };
        let task = Task {
            stage_resins: &coating,
            air_rule: Some(rule),
            ..task(&deep, &ladder, &air, &always)
        };
        let plan = search(&task, &exact(Aim::Soonest)).unwrap();
        let forbidden = plan.pours.iter().find_map(|pour| task.unfit(&pour.layer, pour.at));
        assert_eq!(forbidden, None);
        let given: Vec<Given> =
            plan.pours.iter().map(|pour| Given::planned(pour.layer, pour.at)).collect();
        assert!(judge(&task, &given).unwrap().breaks.is_empty());
        plan
    };
    let (own, strictest) = (plan_of(c(10.0)), plan_of(c(20.0)));
    let air_at = |plan: &Schedule, pour: usize| air.at(plan.pours[pour].at).temperature;
    assert!(air_at(&own, 0) >= c(20.0) && air_at(&own, 1) < c(20.0), "{:?}", own.pours);
    assert!(air_at(&strictest, 1) >= c(20.0));
    assert!(own.hard < strictest.hard, "{} and {}", own.hard, strictest.hard);
}

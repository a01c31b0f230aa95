mod random;
mod staged;

use super::path::Cost;
use super::run::OTHER_AIMS_WITHIN_S;
use super::*;
use crate::Binding;
use crate::Break;
use crate::Joint;
use crate::crew::Crew;
use crate::hours::{Exception, ShopHours, Workday};
use crate::layers::{Filling, Ladder, Layer, LayerKind};
use crate::simulate::course::{Course, LAYER_HORIZON_S, LIMIT_SLACK_K};
use crate::simulate::slots::Slots;
use crate::{Given, Proof, Schedule, ScheduleError, Task, judge, refit};
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::profile::{DayNight, Known, Profile, Way};
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_heat::{Accuracy, Goal, HeatError, Poured, Stack, Surroundings, deepest_layer};
use fondant_materials::resin::{Calibrated, shipped};
use fondant_numerics::Stop;
use fondant_quantities::{Length, Span, Temperature, Volume};
use jiff::civil::Time;
use jiff::{SignedDuration, Timestamp};

const BEGIN: &str = "2026-11-23T09:10:00Z";

fn at(text: &str) -> Timestamp {
    text.parse().unwrap()
}

fn hours(opens: i8, closes: i8) -> ShopHours {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    ShopHours::new([Some(day); 7], "UTC").unwrap()
}

fn layer(index: usize, from_mm: f64, to_mm: f64) -> Layer {
    let mm = Length::from_mm;
    Layer::new(LayerKind::Main(index + 1), mm(from_mm), mm(to_mm), Volume::from_l(1.0))
}

fn ladder(depths_mm: &[f64]) -> Ladder {
    let mut level = 0.0;
    let layers: Vec<Layer> = depths_mm
        .iter()
        .enumerate()
        .map(|(index, depth)| {
            let from = level;
            level += depth;
            layer(index, from, level)
        })
        .collect();
    Ladder::of(&layers)
}

/// Night and day around a mean.
fn swinging(mean: f64, amplitude: f64) -> AirSeries {
    let c = Temperature::from_celsius;
    let day_night = DayNight {
        coldest: c(mean - amplitude),
        warmest: c(mean + amplitude),
        warmest_at: Time::constant(15, 0, 0, 0),
        humidity_percent: 50.0,
    };
    let profile = Profile { by: Way::DayNight, day_night, ..Profile::default() };
    let (from, to) = (at("2026-10-01T00:00:00Z"), at("2027-02-15T00:00:00Z"));
    profile.series(&jiff::tz::TimeZone::UTC, from, to, Known::default()).unwrap()
}

fn steady(celsius: f64) -> AirSeries {
    AirSeries::steady(Temperature::from_celsius(celsius), 50.0)
}

/// Two pairs of hands with big buckets: every pour takes half an hour.
const CREW: Crew = Crew {
    hands: 2,
    bucket: fondant_quantities::Mass::from_kg(5.0),
    mixing: Span::from_s(1200.0),
    pouring: Span::from_s(600.0),
    mixed: crate::MixedRatio::NOTHING_LOST,
};

fn task<'a>(
    resin: &'a Calibrated,
    ladder: &'a Ladder,
    air: &'a AirSeries,
    hours: &'a ShopHours,
) -> Task<'a> {
    let mixed = air.mean(at(BEGIN), at(BEGIN) + SignedDuration::from_hours(24));
    Task {
        resin,
        stage_resins: &[],
        air,
        cooling: Cooling::default(),
        sides: Sides::NONE,
        poured: Poured::fresh(mixed.k()),
        air_rule: None,
        limit: resin.working.peak_limit,
        ladder,
        hours,
        not_before: at(BEGIN),
        crew: CREW,
        sanding: Span::from_s(3600.0),
        finishing: Span::from_h(6.0),
        stop: Stop::NEVER,
    }
}

fn planned(
    resin: &Calibrated,
    depths_mm: &[f64],
    air: &AirSeries,
    hours: &ShopHours,
) -> Result<Schedule, ScheduleError> {
    let ladder = ladder(depths_mm);
    search(&task(resin, &ladder, air, hours), &exact(Aim::Soonest))
}

/// The best to the second.
fn exact(aim: Aim) -> Allowance<'static> {
    Allowance {
        close: Span::ZERO,
        most_runs: 100_000,
        most_bounding_runs: 1_000_000,
        ..Allowance::thorough(aim)
    }
}

/// Every promise that a plan makes, read from the plan itself.
fn holds(schedule: &Schedule, hours: &ShopHours, limit: Temperature) -> Result<(), String> {
    let hands = SignedDuration::from_mins(30);
    for (index, pour) in schedule.pours.iter().enumerate() {
        if !hours.is_open(pour.at, pour.at + hands) {
            return Err(format!("pour {index} at {} is outside the hours", pour.at));
        }
        if pour.peak.k() > limit.k() + LIMIT_SLACK_K {
            return Err(format!("pour {index} is too hot: {} °C", pour.peak.celsius()));
        }
        if index == 0 {
            continue;
        }
        let below = &schedule.pours[index - 1];
        let good = match pour.joint {
            Joint::First => false,
            Joint::WetOnTacky => below.opens <= pour.at && pour.at + hands <= below.closes,
            Joint::AfterCure { hard, sanding } => {
                hard >= below.closes && sanding >= hard && pour.at >= sanding + 2 * hands
            }
        };
        if !good {
            return Err(format!("pour {index} at {} joins badly: {:?}", pour.at, pour.joint));
        }
    }
    Ok(())
}

#[test]
fn the_first_pour_waits_for_an_hour_from_which_the_windows_fall_in_the_day() {
    let resin = &shipped::models()[0];
    let day = hours(8, 18);
    let schedule = planned(resin, &[2.0, 20.0, 20.0], &steady(20.0), &day).unwrap();
    assert_eq!(schedule.sanded_joints(), 0, "{:#?}", schedule.pours);
    holds(&schedule, &day, resin.working.peak_limit).unwrap();
    assert!(schedule.hard > schedule.pours[2].closes);
    assert_eq!(schedule.proof, Proof::Best);
    assert!(schedule.pours.iter().all(|pour| pour.binding.is_some()));
}

#[test]
fn where_no_window_falls_in_the_hours_the_plan_sands_after_cure() {
    // One hour a day: the window of 20 mm opens after 13 h and closes after 22.
    let resin = &shipped::models()[0];
    let schedule = planned(resin, &[20.0, 20.0], &steady(20.0), &hours(10, 11)).unwrap();
    assert_eq!(schedule.sanded_joints(), 1);
    let Joint::AfterCure { hard, sanding } = schedule.pours[1].joint else {
        panic!("expected a sanded joint")
    };
    assert!(hard - schedule.pours[0].at > SignedDuration::from_hours(40));
    assert!(sanding >= hard);
    assert!(schedule.pours[1].at >= sanding + SignedDuration::from_hours(1));
}

#[test]
fn the_hour_matters_as_much_as_the_depth() {
    // 45 mm of slow resin in a room of 20 ± 5 °C: poured at noon it passes
    // 65 °C, poured in the evening it stays under 50. Where 52 °C is the limit,
    // the morning does not do: the search waits.
    let resin = &shipped::models()[0];
    let (air, always) = (swinging(20.0, 5.0), hours(0, 23));
    let ladder = ladder(&[45.0]);
    let limit = Temperature::from_celsius(52.0);
    let task = Task { limit, ..task(resin, &ladder, &air, &always) };
    let schedule = search(&task, &Allowance::thorough(Aim::Soonest)).unwrap();
    assert!(schedule.peak().k() <= limit.k() + LIMIT_SLACK_K);
    let hour = schedule.pours[0].at.to_zoned_datetime(jiff::tz::TimeZone::UTC).hour();
    assert!((17..23).contains(&hour), "{hour} h");
    assert_eq!(schedule.pours[0].binding, Some(Binding::Limit));
    let peak = |moment: &str| {
        judge(&task, &[Given::planned(*layer_of(&ladder), at(moment))]).unwrap().peak()
    };
    let (noon, evening) = (peak("2026-11-24T13:00:00Z"), peak("2026-11-24T22:00:00Z"));
    assert!((noon - evening).k() > 14.0, "{} {}", noon.celsius(), evening.celsius());
}

fn layer_of(ladder: &Ladder) -> &Layer {
    &ladder.from(0)[0].layer
}

#[test]
fn coats_that_fit_into_one_long_day_are_poured_in_it() {
    // As the window of the layer below opens the next one would get too hot;
    // a plan that then waits for the middle of the window loses the day.
    let resin = &shipped::models()[2];
    let day = hours(6, 22);
    let schedule = planned(resin, &[2.0, 8.0, 8.0, 8.0, 8.0], &steady(24.0), &day).unwrap();
    holds(&schedule, &day, resin.working.peak_limit).unwrap();
    assert_eq!(schedule.sanded_joints(), 0);
    let working = schedule.pours[4].at - schedule.pours[0].at;
    assert!(working < SignedDuration::from_hours(15), "{working}: {:#?}", schedule.pours);
}

#[test]
fn layers_that_are_too_deep_have_no_plan() {
    let resin = &shipped::models()[1];
    let refusal = planned(resin, &[40.0], &steady(22.0), &hours(8, 18)).unwrap_err();
    assert_eq!(refusal, ScheduleError::TooHot);
}

#[test]
fn a_shop_that_is_open_for_minutes_cannot_pour() {
    let minutes =
        Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(8, 20, 0, 0) };
    let hours = ShopHours::new([Some(minutes); 7], "UTC").unwrap();
    let refusal = planned(&shipped::models()[0], &[20.0], &steady(20.0), &hours).unwrap_err();
    assert!(matches!(refusal, ScheduleError::NoTimeToPour { .. }));
}

#[test]
fn the_search_chooses_depths_on_its_grid() {
    // 30 mm of medium resin: one pour gets far too hot; on a grid of 5 mm the
    // search finds its own split.
    let resin = &shipped::models()[1];
    let fill = fondant_shapes::volume::Fill::prism(
        fondant_quantities::Area::from_m2(0.05),
        Length::ZERO,
        Length::from_mm(30.0),
    );
    let ladder = Filling::plain(&fill).ladder(Length::from_mm(5.0), Length::from_mm(15.0));
    let (air, day) = (steady(21.0), hours(8, 18));
    let task = task(resin, &ladder, &air, &day);
    let soonest = search(&task, &exact(Aim::Soonest)).unwrap();
    holds(&soonest, &day, resin.working.peak_limit).unwrap();
    assert_eq!(soonest.pours.last().unwrap().layer.to, fill.depth());
    let numbers: Vec<LayerKind> = soonest.pours.iter().map(|pour| pour.layer.kind).collect();
    assert_eq!(numbers[0], LayerKind::Main(1));
    let fewest = search(&task, &Allowance::thorough(Aim::FewestPours)).unwrap();
    assert!(fewest.pours.len() <= soonest.pours.len());
    assert!(soonest.hard <= fewest.hard);
}

#[test]
fn an_exception_opens_a_window_and_a_holiday_closes_one() {
    let resin = &shipped::models()[0];
    let usual = hours(9, 18);
    let early = Exception {
        date: "2026-11-24".parse().unwrap(),
        hours: Workday::read_day("04:00-18:00").unwrap(),
    };
    let wider = usual.clone().with_exceptions(&[early]).unwrap();
    let plan = |hours: &ShopHours| planned(resin, &[20.0, 20.0], &steady(20.0), hours).unwrap();
    assert!(plan(&wider).hard <= plan(&usual).hard);
    let closed: Vec<Exception> = (24..30)
        .map(|day| Exception { date: jiff::civil::date(2026, 11, day), hours: Vec::new() })
        .collect();
    let holiday = usual.clone().with_exceptions(&closed).unwrap();
    let after = plan(&holiday);
    holds(&after, &holiday, resin.working.peak_limit).unwrap();
    assert!(after.hard > plan(&usual).hard);
}

#[test]
fn plans_hold_across_a_clock_change_midnight_and_the_week_end() {
    let resin = &shipped::models()[0];
    let air = swinging(19.0, 3.0);
    for (zone, begin) in [
        ("Europe/Lisbon", "2026-10-23T17:00:00Z"),
        ("America/Chicago", "2026-10-30T22:00:00Z"),
        ("Pacific/Auckland", "2026-10-09T03:00:00Z"),
    ] {
        let mut days = [const { Vec::new() }; 7];
        for day in days.iter_mut().take(6) {
            *day = Workday::read_day("08:00-12:00, 13:00-23:45").unwrap();
        }
        let hours = ShopHours::new(days, zone).unwrap();
        let ladder = ladder(&[2.0, 20.0, 20.0]);
        let task = Task { not_before: at(begin), ..task(resin, &ladder, &air, &hours) };
        let schedule = search(&task, &Allowance::thorough(Aim::Soonest)).unwrap();
        holds(&schedule, &hours, resin.working.peak_limit).unwrap();
        for pour in &schedule.pours {
            let clock = pour.at.to_zoned_datetime(hours.zone().clone());
            assert_ne!(clock.weekday(), jiff::civil::Weekday::Sunday, "{zone}: {clock}");
            assert!((8..24).contains(&clock.hour()) && clock.hour() != 12, "{zone}: {clock}");
        }
    }
}

#[test]
fn quiet_nights_are_quieter_and_an_inset_plan_keeps_off_the_edges() {
    let resin = &shipped::models()[0];
    let (air, day) = (swinging(20.0, 3.0), hours(7, 19));
    let ladder = ladder(&[2.0, 18.0, 18.0]);
    let task = task(resin, &ladder, &air, &day);
    let soonest = search(&task, &exact(Aim::Soonest)).unwrap();
    let quiet = search(&task, &exact(Aim::QuietNights)).unwrap();
    let slots = Slots::of(&day, at(BEGIN), at("2026-12-20T00:00:00Z"));
    let closed = |s: &Schedule| -> i64 {
        s.pours.iter().map(|p| slots.closed_s(p.done.as_second(), p.opens.as_second()) / 60).sum()
    };
    assert!(closed(&quiet) <= closed(&soonest), "{} {}", closed(&quiet), closed(&soonest));
    let inset = Allowance { inset: Span::from_s(3600.0), ..Allowance::thorough(Aim::Soonest) };
    let steady = search(&task, &inset).expect("windows are hours long");
    let mut wet = 0;
    for pair in steady.pours.windows(2) {
        if pair[1].joint == Joint::WetOnTacky {
            assert!(pair[1].at >= pair[0].opens + SignedDuration::from_hours(1));
            assert!(pair[1].done <= pair[0].closes - SignedDuration::from_hours(1));
            wet += 1;
        }
    }
    assert!(wet > 0, "no joint was looked at");
}

#[test]
fn what_is_moved_takes_the_rest_along_and_what_breaks_is_said() {
    let resin = &shipped::models()[0];
    let (air, day) = (steady(20.0), hours(8, 18));
    let ladder = ladder(&[2.0, 20.0, 20.0]);
    let task = task(resin, &ladder, &air, &day);
    let schedule = search(&task, &Allowance::thorough(Aim::Soonest)).unwrap();
    let mut given: Vec<Given> =
        schedule.pours.iter().map(|pour| Given::planned(pour.layer, pour.at)).collect();
    // The first pour a day later: the others follow, and nothing breaks.
    given[0].at += SignedDuration::from_hours(24);
    let moved = judge(&task, &refit(&task, &given, 0).unwrap()).unwrap();
    assert_eq!(moved.breaks, []);
    assert!(moved.pours[1].at > schedule.pours[1].at);
    // The second before its window: it stays where it was put, and says why.
    given[1].at = given[0].at + SignedDuration::from_hours(3);
    let early = judge(&task, &refit(&task, &given, 1).unwrap()).unwrap();
    assert!(
        early.breaks.iter().any(|b| matches!(b, Break::NotSticky { pour: 1, .. })),
        "{:?}",
        early.breaks
    );
    given[1].at = given[0].at + SignedDuration::from_hours(30);
    let late = judge(&task, &given).unwrap();
    assert!(late.breaks.iter().any(|b| matches!(b, Break::Set { pour: 1, .. })));
    given[2].at = given[1].at;
    let tangled = judge(&task, &given).unwrap();
    assert!(tangled.breaks.iter().any(|b| matches!(b, Break::OutOfOrder { pour: 2 })));
}

#[test]
fn close_enough_is_no_farther_from_the_best_than_is_said() {
    let resin = &shipped::models()[0];
    let (air, day) = (swinging(20.0, 4.0), hours(8, 18));
    let ladder = ladder(&[2.0, 18.0, 18.0]);
    let task = task(resin, &ladder, &air, &day);
    let close = search(&task, &Allowance::thorough(Aim::Soonest)).unwrap();
    let best = search(&task, &exact(Aim::Soonest)).unwrap();
    assert!(best.hard <= close.hard);
    assert!(close.hard - best.hard <= SignedDuration::from_mins(30));
    assert!(close.runs <= best.runs);
}

#[test]
fn an_abandoned_search_ends() {
    let resin = &shipped::models()[0];
    let ladder = ladder(&[2.0, 20.0, 20.0]);
    let (air, day) = (swinging(20.0, 4.0), hours(8, 18));
    let abandoned = Allowance { watch: &|_| false, ..Allowance::thorough(Aim::Soonest) };
    let refusal = search(&task(resin, &ladder, &air, &day), &abandoned).unwrap_err();
    assert_eq!(refusal, ScheduleError::Abandoned);
}

#[test]
fn the_coarser_column_of_the_search_moves_windows_and_peaks_by_less_than_matters() {
    for resin in shipped::models() {
        let air = Surroundings::still_air(293.15);
        let limit_k = resin.working.peak_limit.k();
        let poured = Poured::fresh(293.15);
        // Where the limit decides, on a thin base.
        let depth_m = 0.95
            * deepest_layer(&resin, &air, poured, limit_k, &Accuracy::default()).unwrap().safe_m();
        let layer = |accuracy: Accuracy| {
            let mut stack = Stack::new(&resin, air.clone(), &accuracy);
            stack.pour(0.002, 293.15, 0.0)?;
            stack.run(36_000.0, Goal::Time)?;
            stack.pour(depth_m, 293.15, 0.0)?;
            stack.run(LAYER_HORIZON_S, Goal::WindowClosed)?;
            let top = stack.top().copied().ok_or(HeatError::Empty)?;
            Ok::<_, HeatError>((top.opens_s.unwrap(), top.closes_s.unwrap(), top.peak_k))
        };
        let fine = Accuracy { degree: 15, ..Accuracy::default() };
        let (coarse, fine) = (layer(Accuracy::coarse()).unwrap(), layer(fine).unwrap());
        let name = &resin.name;
        assert!((coarse.0 - fine.0).abs() < 60.0, "{name}: opens {coarse:?} {fine:?}");
        assert!((coarse.1 - fine.1).abs() < 60.0, "{name}: closes {coarse:?} {fine:?}");
        assert!((coarse.2 - fine.2).abs() < LIMIT_SLACK_K, "{name}: {coarse:?} {fine:?}");
    }
}

use super::*;
use crate::heat::{HeatError, Poured, Surroundings};
use crate::layers::{Layer, LayerKind};
use crate::quantities::{Length, Volume};
use crate::resin::{Resin, shipped};
use crate::schedule::hours::{ShopHours, Workday};
use jiff::civil::Time;
use proptest::prelude::*;

fn hours(opens: i8, closes: i8) -> ShopHours {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    ShopHours::new([Some(day); 7], "UTC").unwrap()
}

fn layers(depths_mm: &[f64]) -> Vec<Layer> {
    let mut level = Length::ZERO;
    depths_mm
        .iter()
        .enumerate()
        .map(|(index, depth)| {
            let from = level;
            level = level + Length::from_mm(*depth);
            Layer {
                kind: LayerKind::Main(index + 1),
                from,
                to: level,
                volume: Volume::from_l(1.0),
                heat_depth: level - from,
            }
        })
        .collect()
}

fn planned(
    resin: &Resin,
    depths_mm: &[f64],
    air_c: f64,
    hours: &ShopHours,
) -> Result<Schedule, ScheduleError> {
    let air = Temperature::from_celsius(air_c);
    plan(&Task {
        resin,
        surroundings: Surroundings::still_air(air.k()),
        poured: Poured::fresh(air.k()),
        limit: resin.working.peak_limit,
        layers: &layers(depths_mm),
        hours,
        not_before: "2026-11-23T09:10:00Z".parse().unwrap(),
        hands: Span::from_s(1800.0),
        sanding: Span::from_s(3600.0),
    })
}

/// Every promise that a plan makes, read from the plan itself.
fn holds(schedule: &Schedule, hours: &ShopHours, limit: Temperature) -> Result<(), String> {
    let hands = SignedDuration::from_mins(30);
    for (index, pour) in schedule.pours.iter().enumerate() {
        let open = hours
            .spans(pour.at, pour.at + hands)
            .iter()
            .any(|span| span.from <= pour.at && pour.at + hands <= span.to);
        if !open {
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
    let resin = &shipped::all()[0];
    let day = hours(8, 18);
    let schedule = planned(resin, &[2.0, 20.0, 20.0], 20.0, &day).unwrap();
    assert_eq!(schedule.sanded_joints(), 0, "{:#?}", schedule.pours);
    holds(&schedule, &day, resin.working.peak_limit).unwrap();
    assert!(schedule.hard > schedule.pours[2].closes);
}

#[test]
fn where_no_window_falls_in_the_hours_the_plan_sands_after_cure() {
    // One hour a day: the window of 20 mm opens after 13 h and closes after 22.
    let resin = &shipped::all()[0];
    let hour = hours(10, 11);
    let schedule = planned(resin, &[20.0, 20.0], 20.0, &hour).unwrap();
    assert_eq!(schedule.sanded_joints(), 1);
    let Joint::AfterCure { hard, sanding } = schedule.pours[1].joint else {
        panic!("expected a sanded joint")
    };
    assert!(hard - schedule.pours[0].at > SignedDuration::from_hours(40));
    assert!(sanding >= hard);
    assert!(schedule.pours[1].at >= sanding + SignedDuration::from_hours(1));
}

#[test]
fn coats_that_fit_into_one_long_day_are_poured_in_it() {
    // As the window of the layer below opens the next one would get too hot;
    // a plan that then waits for the middle of the window loses the day.
    let resin = &shipped::all()[2];
    let day = hours(6, 22);
    let schedule = planned(resin, &[2.0, 8.0, 8.0, 8.0, 8.0], 24.0, &day).unwrap();
    holds(&schedule, &day, resin.working.peak_limit).unwrap();
    assert_eq!(schedule.sanded_joints(), 0);
    let working = schedule.pours[4].at - schedule.pours[0].at;
    assert!(working < SignedDuration::from_hours(15), "{working}: {:#?}", schedule.pours);
}

#[test]
fn layers_that_are_too_deep_have_no_plan() {
    let resin = &shipped::all()[1];
    let refusal = planned(resin, &[40.0], 22.0, &hours(8, 18)).unwrap_err();
    assert_eq!(refusal, ScheduleError::TooHot);
}

#[test]
fn a_shop_that_is_open_for_minutes_cannot_pour() {
    let minutes =
        Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(8, 20, 0, 0) };
    let hours = ShopHours::new([Some(minutes); 7], "UTC").unwrap();
    let refusal = planned(&shipped::all()[0], &[20.0], 20.0, &hours).unwrap_err();
    assert!(matches!(refusal, ScheduleError::NoTimeToPour { .. }));
}

#[test]
fn the_search_spends_a_bounded_number_of_runs() {
    let schedule =
        planned(&shipped::all()[0], &[2.0, 20.0, 20.0, 20.0], 20.0, &hours(8, 18)).unwrap();
    assert!(schedule.runs <= 2 * RUNS_FOR_ALTERNATIVES, "{} runs", schedule.runs);
}

#[test]
fn the_coarser_cells_of_the_search_move_windows_by_minutes_at_most() {
    for resin in shipped::all() {
        let depth = if resin.working.peak_limit.celsius() > 62.0 { 0.02 } else { 0.006 };
        let window = |accuracy: Accuracy| {
            let air = Surroundings::still_air(293.15);
            let mut stack = Stack::new(&resin, air, accuracy);
            for pour in 0..2u8 {
                stack.run(f64::from(pour) * 36_000.0, Goal::Time).or_else(|error| match error {
                    HeatError::Empty => Ok(()),
                    other => Err(other),
                })?;
                stack.pour([0.002, depth][usize::from(pour)], 293.15, 0.0)?;
            }
            stack.run(LAYER_HORIZON_S, Goal::WindowClosed)?;
            let top = stack.top().copied().ok_or(HeatError::Empty)?;
            Ok::<_, HeatError>((top.opens_s.unwrap(), top.closes_s.unwrap(), top.peak_k))
        };
        let fine = Accuracy { cells_per_layer: 40, ..Accuracy::default() };
        let (coarse, fine) = (window(accuracy()).unwrap(), window(fine).unwrap());
        assert!((coarse.0 - fine.0).abs() < 180.0, "{}: opens {coarse:?} {fine:?}", resin.name);
        assert!((coarse.1 - fine.1).abs() < 180.0, "{}: closes {coarse:?} {fine:?}", resin.name);
        assert!((coarse.2 - fine.2).abs() < LIMIT_SLACK_K, "{}: {coarse:?} {fine:?}", resin.name);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    #[test]
    fn every_plan_keeps_its_promises(
        kind in 0usize..3,
        depth in 3.0f64..18.0,
        count in 1usize..4,
        air in 16.0f64..28.0,
        opens in 5i8..12,
        open_for in 1i8..12,
    ) {
        let resin = &shipped::all()[kind];
        let day = hours(opens, opens + open_for);
        let depths = vec![if kind == 2 { depth / 2.5 } else { depth }; count];
        match planned(resin, &depths, air, &day) {
            Ok(schedule) => prop_assert_eq!(holds(&schedule, &day, resin.working.peak_limit), Ok(())),
            Err(error) => prop_assert_eq!(error, ScheduleError::TooHot),
        }
    }
}

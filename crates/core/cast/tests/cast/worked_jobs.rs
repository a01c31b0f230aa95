//! Whole jobs, against figures that do not come from the model: datasheets of such resins, and
//! arithmetic by hand.

use fondant_cast::{Document, Evaluation, Inputs, NotEvaluated, Site, evaluate};
use fondant_heat::bucket::pot_life_s;
use fondant_heat::{Accuracy, Goal, Stack, Surroundings};
use fondant_materials::resin::{Calibrated, shipped};
use fondant_numerics::Stop;
use fondant_pours::{Joint, ShopHours, Workday};
use fondant_quantities::{Length, Mass, Temperature};
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::civil::Time;

const HOUR_S: f64 = 3600.0;

fn worked(plan: &Document, hours: &ShopHours) -> Result<Evaluation, NotEvaluated> {
    let resin = shipped::find(&plan.resin).expect("it ships");
    let site = Site::plain(hours.clone());
    evaluate(&Inputs::new(plan.clone(), resin, &site), &Stop::NEVER)
}

fn resin(index: usize) -> Calibrated {
    shipped::models().remove(index)
}

/// One layer at one temperature, followed until it is hard.
fn layer(resin: &Calibrated, depth_mm: f64, celsius: f64) -> Stack {
    let t_k = Temperature::from_celsius(celsius).k();
    let mut stack = Stack::new(resin, Surroundings::still_air(t_k), &Accuracy::default());
    stack.pour(depth_mm * 1e-3, t_k, 0.0).expect("a layer in range");
    stack.run(30.0 * 24.0 * HOUR_S, Goal::Full).expect("the solver goes on");
    stack
}

fn minutes_in_the_pot(resin: &Calibrated, kg: f64, celsius: f64) -> f64 {
    let warm = Temperature::from_celsius(celsius);
    let seconds = pot_life_s(resin, Mass::from_kg(kg), warm, warm).expect("the solver goes on");
    seconds.expect("it thickens") / 60.0
}

#[test]
fn pot_lives_are_those_of_datasheets_of_their_class() {
    // Slow casting resins claim 5 to 8 h for 500 g at 20 °C, medium ones 60 to 90 min for 200 g,
    // coating resins about 45 min for 150 g at 22 °C.
    let slow_h = minutes_in_the_pot(&resin(0), 0.5, 20.0) / 60.0;
    assert!((5.0..=8.0).contains(&slow_h), "{slow_h} h");
    let medium = minutes_in_the_pot(&resin(1), 0.2, 22.0);
    assert!((60.0..=90.0).contains(&medium), "{medium} min");
    let coating = minutes_in_the_pot(&resin(2), 0.15, 22.0);
    assert!((40.0..=50.0).contains(&coating), "{coating} min");
}

#[test]
fn a_bigger_bucket_and_a_warmer_shop_shorten_the_pot_life() {
    for index in 0..3 {
        let resin = resin(index);
        let usual = minutes_in_the_pot(&resin, 0.5, 20.0);
        assert!(minutes_in_the_pot(&resin, 5.0, 20.0) < usual, "{}", resin.name);
        assert!(minutes_in_the_pot(&resin, 0.5, 28.0) < usual, "{}", resin.name);
    }
}

#[test]
fn a_slow_layer_of_20_mm_is_tacky_overnight_and_demouldable_in_two_days() {
    // Such resins say: the next layer after 10 to 14 h, out of the form after about 48 h, full
    // cure after about 7 days.

    let slow = layer(&resin(0), 20.0, 20.0);
    let events = slow.top().unwrap();
    let hours = |s: Option<f64>| s.unwrap() / HOUR_S;
    assert!((10.0..=14.0).contains(&hours(events.opens_s)), "{events:?}");
    assert!(hours(events.closes_s) - hours(events.opens_s) > 4.0, "several hours wide: {events:?}");
    assert!((44.0..=52.0).contains(&hours(events.hard_s)), "{events:?}");
    assert!((156.0..=180.0).contains(&hours(events.full_s)), "{events:?}");
}

#[test]
fn a_flood_coat_of_3_mm_takes_the_next_within_the_working_day() {
    let coat = layer(&resin(2), 3.0, 22.0);
    let events = coat.top().unwrap();
    // Coating resins say: the next coat after 3 to 5 h, hard after 24 h.
    let hours = |s: Option<f64>| s.unwrap() / HOUR_S;
    assert!((3.0..=5.0).contains(&hours(events.opens_s)), "{events:?}");
    assert!((20.0..=26.0).contains(&hours(events.hard_s)), "{events:?}");
}

#[test]
fn pouring_as_the_window_opens_runs_hotter_than_waiting_in_it() {
    let second = |after_h: f64| {
        let mut stack =
            Stack::new(&resin(0), Surroundings::still_air(293.15), &Accuracy::default());
        stack.pour(0.04, 293.15, 0.0).unwrap();
        stack.run(after_h * HOUR_S, Goal::Time).unwrap();
        stack.pour(0.04, 293.15, 0.0).unwrap();
        stack.run(60.0 * HOUR_S, Goal::Time).unwrap();
        stack.peak().unwrap().0 - 273.15
    };
    let (early, late) = (second(8.0), second(13.0));
    assert!((early - 56.3).abs() < 0.2, "{early}");
    assert!((late - 48.8).abs() < 0.2, "{late}");
}

/// A top of 40 mm boards in the shop's hours.
fn planned(zone: &str, not_before: &str, opens: i8, closes: i8) -> (Document, ShopHours) {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
    let mut plan = Document::river_top("Top".into(), piece, not_before.parse().expect("a time"));
    plan.conditions.air = Temperature::from_celsius(22.0);
    plan.conditions.resin = Temperature::from_celsius(22.0);
    plan.contents.river_mut().expect("a river").stations =
        [(0.0, 180.0), (610.0, 240.0), (1220.0, 150.0)]
            .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
            .to_vec();
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    (plan, ShopHours::new([Some(day); 7], zone).expect("hours"))
}

#[test]
fn a_shop_that_never_closes_never_sands() {
    let (plan, hours) = planned("UTC", "2026-11-23T09:00:00Z", 0, 23);
    let schedule = worked(&plan, &hours).unwrap().pours.unwrap();
    assert_eq!(schedule.sanded_joints(), 0);
    assert!(schedule.pours[1..].iter().all(|pour| pour.joint == Joint::WetOnTacky));
}

#[test]
fn across_a_clock_change_pours_stay_inside_the_hours_of_the_shops_clock() {
    // Clocks go back at 02:00 on Sunday, 25 October 2026.
    let (plan, hours) = planned("Europe/Lisbon", "2026-10-24T07:00:00Z", 8, 18);
    let schedule = worked(&plan, &hours).unwrap().pours.unwrap();
    let last = schedule.pours.last().unwrap().at;
    assert!(last > "2026-10-25T02:00:00Z".parse().unwrap(), "the plan spans the change: {last}");
    for pour in &schedule.pours {
        let local = pour.at.to_zoned_datetime(hours.zone().clone()).time();
        assert!(local >= Time::constant(8, 0, 0, 0), "{local}");
        assert!(local <= Time::constant(17, 30, 0, 0), "{local}");
    }
}

#[test]
fn the_same_plan_gives_the_same_times_every_time() {
    let (plan, hours) = planned("UTC", "2026-11-23T09:00:00Z", 8, 18);
    let times = || {
        let schedule = worked(&plan, &hours).unwrap().pours.unwrap();
        schedule.pours.iter().map(|pour| pour.at).collect::<Vec<_>>()
    };
    assert_eq!(times(), times());
}

#[test]
fn a_later_start_never_pours_earlier() {
    let first = |not_before: &str| {
        let (plan, hours) = planned("UTC", not_before, 8, 18);
        worked(&plan, &hours).unwrap().pours.unwrap().pours[0].at
    };
    let starts = ["2026-11-23T09:00:00Z", "2026-11-23T16:05:00Z", "2026-11-24T20:00:00Z"];
    for start in starts {
        assert!(first(start) >= start.parse().unwrap(), "{start}");
    }
}

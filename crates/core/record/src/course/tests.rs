use fondant_bench::Happening;
use fondant_bench::weighing::Part;
use fondant_cast::document::TakenPour;
use fondant_cast::{Document, Inputs, Kind, Site, evaluate, facts};
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_pours::{ScheduledPour, ShopHours, Workday};
use fondant_quantities::{Length, Mass};
use fondant_shapes::form::Piece;
use jiff::SignedDuration;

use super::*;

/// A river whose plan of several pours was taken, worked out, and its forecast.
fn taken() -> (Evaluation, Forecast) {
    let mm = Length::from_mm;
    let begin = "2026-11-23T09:00:00Z".parse().unwrap();
    let piece = Piece::slab(mm(980.0), mm(480.0), mm(36.0), mm(10.0));
    let mut document = Document::begin(Kind::River, "River".into(), piece, begin);
    let day = Workday::read_day("08:00-18:00").unwrap();
    let site = Site::plain(ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap());
    let resin = shipped::find(&document.resin).unwrap();
    let worked = |document: &Document| {
        let inputs = Inputs::new(document.clone(), resin.clone(), &site);
        let evaluation = evaluate(&inputs, &Stop::NEVER).unwrap();
        (inputs, evaluation)
    };
    let pours = worked(&document).1.pours.unwrap().pours;
    let pour = |(pour, number): (&ScheduledPour, i64)| TakenPour {
        id: PourId(number),
        at: pour.at,
        to: pour.layer.to,
    };
    document.pours.taken = pours.iter().zip(1..).map(pour).collect();
    let (inputs, evaluation) = worked(&document);
    let forecast = Forecast::of(&inputs, &evaluation, &Stop::NEVER).unwrap();
    (evaluation, forecast)
}

#[test]
fn a_forecast_keeps_its_hottest_moment_and_no_more_than_is_drawn() {
    let (evaluation, forecast) = taken();
    let schedule = evaluation.pours.as_ref().unwrap();
    assert!((20..245).contains(&forecast.course.len()), "{}", forecast.course.len());
    let hottest = forecast.course.iter().map(|moment| moment.hottest.k()).fold(0.0, f64::max);
    assert!((hottest - schedule.peak().k()).abs() < 0.3, "{hottest} {:?}", schedule.peak());
    assert!(forecast.course.is_sorted_by(|a, b| a.after <= b.after));
    let text = serde_json::to_string(&forecast).unwrap();
    assert!(text.len() < 20_000, "{}", text.len());
    assert_eq!(serde_json::from_str::<Forecast>(&text).unwrap(), forecast);
}

#[test]
fn promised_and_happened_begin_with_their_first_pour() {
    let (evaluation, forecast) = taken();
    let later = SignedDuration::from_hours(26);
    let (first, at) = (PourId(1), forecast.pours[0].at + later);
    let row = |number, fact| FactRow { number, fact, recorded_at: Timestamp::UNIX_EPOCH };
    let rows = [
        row(1, Fact::Poured { pour: first, at, resin_at: None }),
        row(2, Fact::Touched { pour: first, at: at + later / 2, found: Touch::Tacky, cup: None }),
    ];
    let task = evaluation.pour_task.as_ref().unwrap().until(&Stop::NEVER);
    let observed = facts::by_facts(&task, evaluation.planned.as_ref().unwrap(), &rows).unwrap();
    let happened = Evaluation { pours: Ok(observed.schedule), ..evaluation };
    let from =
        Happened { evaluation: &happened, forecast: Some(&forecast), facts: &rows, runs: &[] };
    let course = Course::of(&from).unwrap();
    assert_eq!(course.begun, at);
    let (promised, lived) = (course.promised.as_ref().unwrap(), course.happened.as_ref().unwrap());
    assert_eq!((promised.pours[0].at, lived.pours[0].at), (Span::ZERO, Span::ZERO));
    assert_eq!(promised.pours.len(), lived.pours.len());
    assert!(lived.hottest.first().unwrap().0.s().abs() < 1.0);
    let what: Vec<EventKind> = course.events.iter().map(|event| event.what).collect();
    assert_eq!(what, [EventKind::Poured, EventKind::Touched(Touch::Tacky)]);
    assert!((course.events[1].at.h() - 13.0).abs() < 1e-9);
    assert!(course.ends() >= promised.hard && course.ends() >= lived.hard);
    let nothing = Happened { facts: &[], ..from };
    assert_eq!(Course::of(&nothing), None, "nothing was poured");
}

fn course(events: &[(f64, usize, EventKind)]) -> Course {
    let event = |(h, pour, what): &(f64, usize, EventKind)| Event {
        at: Span::from_h(*h),
        pour: *pour,
        what: *what,
    };
    Course {
        begun: Timestamp::UNIX_EPOCH,
        promised: None,
        happened: None,
        events: events.iter().map(event).collect(),
    }
}

#[test]
fn steps_are_aligned_by_pour_and_by_how_often_they_happened() {
    let bucket = |celsius| EventKind::Bucket(Temperature::from_celsius(celsius));
    let one = course(&[
        (0.0, 0, EventKind::Poured),
        (0.2, 0, bucket(24.0)),
        (0.4, 0, bucket(26.0)),
        (9.0, 1, EventKind::Poured),
    ]);
    let other = course(&[
        (0.0, 0, EventKind::Poured),
        (0.3, 0, bucket(22.0)),
        (5.0, 0, EventKind::Covered),
        (11.0, 1, EventKind::Poured),
    ]);
    let minutes = |event: Option<Event>| event.map(|event| (event.at.s() / 60.0).round() as i64);
    let found: Vec<_> = aligned(&one, &other)
        .iter()
        .map(|step| (step.nth, minutes(step.one), minutes(step.other)))
        .collect();
    let expected = [
        (0, Some(0), Some(0)),
        (0, Some(12), Some(18)),
        (1, Some(24), None),
        (0, None, Some(300)),
        (0, Some(540), Some(660)),
    ];
    assert_eq!(found, expected);
}

#[test]
fn what_was_done_at_the_bench_stands_in_order_of_time() {
    let (evaluation, _) = taken();
    let kg = Mass::from_kg;
    let all = [
        Happening::Weighed { batch: 1, part: Part::A, mass: kg(1.4) },
        Happening::Weighed { batch: 1, part: Part::B, mass: kg(0.6) },
        Happening::MixBegun { batch: 1, resin_at: None, lot: None },
        Happening::Read { batch: 1, temperature: Temperature::from_celsius(23.0) },
        Happening::PourBegun { batch: 1 },
        Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: true },
        Happening::Covered,
        Happening::ToppedUp { volume: Volume::from_l(0.02) },
    ];
    let runs = [Run::of(crate::gather::tests::plan(), &crate::gather::tests::a_row_a_minute(all))];
    let from = Happened { evaluation: &evaluation, forecast: None, facts: &[], runs: &runs };
    let course = Course::of(&from).unwrap();
    let found: Vec<(f64, EventKind)> =
        course.events.iter().map(|event| (event.at.s() / 60.0, event.what)).collect();
    let expected = [
        (-1.0, EventKind::Bucket(Temperature::from_celsius(23.0))),
        (0.0, EventKind::Poured),
        (2.0, EventKind::Covered),
        (3.0, EventKind::ToppedUp(Volume::from_l(0.02))),
    ];
    assert_eq!(found, expected);
}

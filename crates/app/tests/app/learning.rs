//! What a cast went through, and what it teaches the next one, on a real database.

use fondant_app::courses::of_cast;
use fondant_app::records::{CastId, NewRow};
use fondant_app::repeating::{Wanted, repeat};
use fondant_app::{Request, bench, devices, ending, finishing};
use fondant_bench::Happening;
use fondant_bench::reading::Place;
use fondant_cast::shop::Prices;
use fondant_finish::work::{StepKind, Told as Work};
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Money, Span, Temperature, Volume};
use fondant_record::causes::Cause;
use fondant_record::course::EventKind;
use fondant_record::figures::Figure;
use fondant_record::lessons::Change;
use fondant_record::readings::ReadCurve;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::archives::{brought_in, out};
use crate::ending::{at, bubbles, poured_cold, seen, told};

/// Writes something down in the first run of a cast, some minutes before now.
async fn write(app: &TestApp, cast: CastId, minutes_ago: i64, what: Happening) {
    let run = bench::runs(&app.app, &app.open(cast).await).await.unwrap().remove(0).id;
    let row = NewRow {
        key: format!("late-{minutes_ago}"),
        at: documents::now() - SignedDuration::from_mins(minutes_ago),
        by: String::new(),
        what,
    };
    bench::write_down(&app.app, (cast, run), row).await.unwrap();
}

#[tokio::test]
async fn what_a_cast_went_through_holds_bench_promise_and_instruments() {
    let (app, cast) = poured_cold().await;
    write(&app, cast, 20, Happening::Touched { found: Touch::Clear, cup: None }).await;
    let shop = app.shop().await;
    let mut tokens = Vec::new();
    for place in [Place::Surface, Place::Bucket] {
        tokens.push(devices::add(&app.app, &shop, "probe".into(), place).await.unwrap().token);
    }
    // One reading a minute of the hour before now, and one that no shop reads.
    for token in &tokens {
        let lines: Vec<String> = (0..60)
            .map(|minute| {
                let at = documents::now() - SignedDuration::from_mins(60 - minute);
                let value = if minute == 40 { 900.0 } else { 20.0 + 0.05 * minute as f64 };
                format!(
                    r#"{{"device":"probe","seq":{minute},"at":"{at}","quantity":"temperature","value":{value},"unit":"C"}}"#
                )
            })
            .collect();
        let taken = devices::take(&app.app, token, &lines.join("\n")).await.unwrap().unwrap();
        assert_eq!(taken.taken, 60);
    }
    let lived = of_cast(&app.app, cast).await.unwrap().unwrap();
    let promised = lived.course.promised.as_ref().unwrap();
    assert!(promised.hottest.len() > 20 && promised.pours.len() > 1);
    let what: Vec<EventKind> = lived.course.events.iter().map(|event| event.what).collect();
    let cold = EventKind::Bucket(Temperature::from_celsius(15.0));
    assert_eq!(what, [cold, EventKind::Poured, EventKind::Touched(Touch::Clear)]);
    let places: Vec<Place> = lived.read.iter().map(|curve| curve.place).collect();
    assert_eq!(places, [Place::Surface, Place::Bucket]);
    for curve in &lived.read {
        assert!(curve.points.iter().all(|(_, k)| (293.0..297.0).contains(k)), "{curve:?}");
    }
    let bucket = &lived.read[1].points;
    let poured_after = SignedDuration::from_mins(4).as_secs_f64();
    assert!(!bucket.is_empty() && bucket.iter().all(|(at, _)| at.s() <= poured_after + 60.0));
    let first = lived.course.events[0].at.s();
    assert!(
        first < 0.0 && (bucket[0].0.s() - first).abs() < 60.0,
        "read before the pour: {bucket:?}"
    );

    // It goes with the cast into a shop without instruments, and out of it again as it was.
    let bytes = out(&app, cast).await;
    let fresh = crate::app().await;
    let twin = brought_in(&fresh, bytes.clone()).await;
    let there = of_cast(&fresh.app, twin).await.unwrap().unwrap();
    assert_eq!(there.course.begun, lived.course.begun);
    for (here, there) in lived.read.iter().zip(&there.read) {
        assert_eq!((here.place, here.quantity), (there.place, there.quantity));
        let span = |curve: &ReadCurve| {
            let at = |point: Option<&(Span, f64)>| point.map_or(0.0, |point| point.0.h());
            [at(curve.points.first()), at(curve.points.last())]
        };
        let apart = [0, 1].map(|end| (span(here)[end] - span(there)[end]).abs());
        assert!(apart.iter().all(|hours| *hours < 0.5), "{apart:?} h");
    }
    assert_eq!(there.read.len(), 2);
    assert!(out(&fresh, twin).await == bytes);
    let nothing = app.cast("Nothing poured").await;
    assert_eq!(of_cast(&app.app, nothing).await.unwrap(), None);
}

#[tokio::test]
async fn accepted_lessons_go_into_the_next_cast_and_left_ones_do_not() {
    let (app, cast) = poured_cold().await;
    write(&app, cast, 10, Happening::ToppedUp { volume: Volume::from_l(0.12) }).await;
    let fault = ending::mark(&app.app, cast, &bubbles(), &Request::default()).await.unwrap();
    ending::confirm(&app.app, cast, (fault, Some(Cause::ColdResin))).await.unwrap();
    let dusty = fondant_record::fault::Fault {
        kind: fondant_record::fault::FaultKind::FishEyes,
        place: None,
        ..bubbles()
    };
    let fault = ending::mark(&app.app, cast, &dusty, &Request::default()).await.unwrap();
    ending::confirm(&app.app, cast, (fault, Some(Cause::Silicone))).await.unwrap();
    let revision = app.open(cast).await.record.revision;
    ending::close(&app.app, cast, at(revision), told()).await.unwrap();
    let changes: Vec<Change> =
        seen(&app, cast).await.lessons.iter().map(|lesson| lesson.change.clone()).collect();
    let [Change::WarmResin(warm), Change::Mind(Cause::Silicone), Change::Absorption(drinks)] =
        changes.as_slice()
    else {
        panic!("{changes:?}")
    };
    let before = app.document(cast).await;
    let begin = async |accepts: &'static (dyn Fn(Change) -> bool + Sync), key: &str| {
        let wanted = Wanted {
            name: "Next".into(),
            accepts: &|lesson| accepts(lesson.change.clone()),
            minds: &|cause| format!("Mind {cause:?}."),
        };
        let next = repeat(&app.app, cast, wanted, &Request::keyed(Some(key))).await.unwrap();
        (next, app.document(next).await)
    };
    let (one, all) = begin(&|_| true, "all").await;
    assert_eq!((all.conditions.resin, all.name.as_str()), (*warm, "Next"));
    assert_eq!(all.brief.minded, "Mind Silicone.");
    assert_eq!(all.contents.timber()[0].absorption, *drinks);
    assert!(all.pours.taken.is_empty());
    assert_eq!(begin(&|_| true, "all").await.0, one, "the same request begins one");
    let (_, some) = begin(&|change| matches!(change, Change::Mind(_)), "some").await;
    assert_eq!(some.conditions.resin, before.conditions.resin);
    assert_eq!((some.contents, some.brief.minded), (before.contents, all.brief.minded));
}

#[tokio::test]
async fn a_cast_costs_its_work_and_a_form_that_was_built_for_it() {
    let mut workshop = documents::workshop(8, 18);
    workshop.shop.prices = Prices {
        hour: Money::from_units(40.0),
        sheet_m2: Money::from_units(12.0),
        consumables: Money::from_units(5.0),
    };
    let app = TestApp::new(&workshop).await;
    let cast = app.cast("Costly").await;
    let (step, took) = (StepKind::Flatten, Span::from_h(2.0));
    let sent = Request::keyed(Some("took-1"));
    let work = Work::Took { step, took, planned: took };
    finishing::tell_of(&app.app, cast, &work, &sent).await.unwrap().unwrap();
    ending::close(&app.app, cast, at(1), told()).await.unwrap();
    let end = seen(&app, cast).await.kept.unwrap().end;
    let cost = |figure| end.figures.get(figure).unwrap_or_default();
    assert_eq!((cost(Figure::WorkCost), cost(Figure::Consumables)), (80.0, 5.0));
    assert!(cost(Figure::SheetCost) > 5.0, "{}", cost(Figure::SheetCost));
    let parts = [Figure::ResinCost, Figure::WorkCost, Figure::SheetCost, Figure::Consumables];
    let sum: f64 = parts.into_iter().map(cost).sum();
    assert!((end.cost - sum).abs() < 1e-9, "{} {sum}", end.cost);
    assert!((end.hours_s - 7200.0).abs() < 1e-9);
}

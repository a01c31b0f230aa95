//! Runs at the bench on a real database.

use fondant_app::bench::{begin, folded, in_hand, runs, write_down};
use fondant_app::records::{CastId, KeptRun, NewRow, RunId};
use fondant_app::{AppError, Request, shelf};
use fondant_bench::weighing::{Pair, Part};
use fondant_bench::{Happening, NotPrepared, Refused};
use fondant_cast::PourId;
use fondant_cast::facts::{Fact, standing};
use fondant_materials::resin::shelf::Lot;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Mass, Temperature, Volume};
use fondant_testkit::{TestApp, documents};
use jiff::{SignedDuration, Timestamp};

use crate::{app, taken};

/// The bench is at work since four hours before now.
fn begun() -> Timestamp {
    documents::now() - SignedDuration::from_hours(4)
}

fn row(key: &str, minutes: i64, what: Happening) -> NewRow {
    let at = begun() + SignedDuration::from_mins(minutes);
    NewRow { key: key.into(), at, by: "Tablet".into(), what }
}

fn weighed(batch: u32, part: Part, kg: f64) -> Happening {
    Happening::Weighed { batch, part, mass: Mass::from_kg(kg) }
}

async fn kept(app: &TestApp, cast: CastId) -> KeptRun {
    runs(&app.app, &app.open(cast).await).await.unwrap().remove(0)
}

async fn facts(app: &TestApp, cast: CastId) -> Vec<Fact> {
    let rows = app.open(cast).await.facts(&app.app).await.unwrap();
    standing(&rows).iter().map(|row| row.fact).collect()
}

/// A river top whose base is being run, with all of its first bucket weighed and mixed.
async fn mixed() -> (TestApp, CastId, RunId, PourId) {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let run = begin(&app.app, cast, Some(pours[0])).await.unwrap();
    let plan = kept(&app, cast).await.plan;
    let pair = Pair::of(plan.batch, &plan.resin);
    let happenings = [
        weighed(1, Part::B, pair.b.kg()),
        weighed(1, Part::A, pair.a.kg()),
        Happening::MixBegun {
            batch: 1,
            resin_at: Some(Temperature::from_celsius(22.0)),
            lot: None,
        },
        Happening::MixEnded { batch: 1 },
    ];
    for (minute, what) in (0..).zip(happenings) {
        write_down(&app.app, (cast, run), row(&format!("m{minute}"), minute, what)).await.unwrap();
    }
    (app, cast, run, pours[0])
}

#[tokio::test]
async fn a_run_that_two_devices_begin_is_one_run() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let first = begin(&app.app, cast, Some(pours[0])).await.unwrap();
    assert_eq!(begin(&app.app, cast, Some(pours[0])).await.unwrap(), first);
    assert_ne!(begin(&app.app, cast, Some(pours[1])).await.unwrap(), first);
    let none = begin(&app.app, cast, Some(PourId(987_654))).await;
    assert!(matches!(none, Err(AppError::NotPrepared(NotPrepared::NoPour))), "{none:?}");
    let whole = begin(&app.app, cast, None).await;
    assert!(matches!(whole, Err(AppError::NotPrepared(NotPrepared::NoPlan { .. }))), "{whole:?}");
    assert_eq!(in_hand(&app.app, app.open(cast).await.shop.id).await.unwrap().len(), 2);
}

/// The plan is given up while a bucket is in hand: the run is still found.
#[tokio::test]
async fn a_run_in_hand_is_gone_on_with_where_its_plan_is_given_up() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let run = begin(&app.app, cast, Some(pours[0])).await.unwrap();
    fondant_app::casts::pours::release(&app.app, cast, 2).await.unwrap();
    assert_eq!(begin(&app.app, cast, Some(pours[0])).await.unwrap(), run);
}

/// What is mixed is what the plan mixes, in its number of batches.
#[tokio::test]
async fn a_run_has_the_figures_of_its_pour() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    begin(&app.app, cast, Some(pours[1])).await.unwrap();
    let open = app.open(cast).await;
    let worked = open.worked(&app.app).await.unwrap();
    let schedule = worked.evaluation.pours.as_ref().unwrap();
    let plan = kept(&app, cast).await.plan;
    assert_eq!(plan.mixed, schedule.pours[1].mixed);
    let batches = fondant_bench::batches::split(plan.mass(), plan.batch);
    assert_eq!(batches.count, schedule.pours[1].batches);
    assert_eq!(plan.window, Some([schedule.pours[0].opens, schedule.pours[0].closes]));
}

#[tokio::test]
async fn the_same_row_sent_again_is_written_once_and_a_part_is_taken_once() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let run = begin(&app.app, cast, Some(pours[0])).await.unwrap();
    let send = |key: &'static str, kg: f64| {
        let app = app.app.clone();
        let what = weighed(1, Part::A, kg);
        tokio::spawn(async move { write_down(&app, (cast, run), row(key, 1, what)).await })
    };
    let sent = [send("a", 0.5), send("a", 0.5), send("b", 0.6), send("a", 0.5), send("b", 0.6)];
    let mut refused = 0;
    for one in sent {
        match one.await.unwrap() {
            Ok(()) => {}
            Err(AppError::AtBench(Refused::Taken { part: Part::A, .. })) => refused += 1,
            other => panic!("{other:?}"),
        }
    }
    assert!(refused == 2 || refused == 3, "whichever came first stands: {refused}");
    assert_eq!(kept(&app, cast).await.rows.len(), 1);
}

#[tokio::test]
async fn the_first_bucket_that_goes_in_is_a_fact_of_its_pour() {
    let (app, cast, run, pour) = mixed().await;
    assert_eq!(facts(&app, cast).await, []);
    let read = Happening::Read { batch: 1, temperature: Temperature::from_celsius(24.5) };
    write_down(&app.app, (cast, run), row("r", 9, read)).await.unwrap();
    let pouring = row("p", 12, Happening::PourBegun { batch: 1 });
    for _ in 0..2 {
        write_down(&app.app, (cast, run), pouring.clone()).await.unwrap();
    }
    let resin_at = Some(Temperature::from_celsius(24.5));
    assert_eq!(facts(&app, cast).await, [Fact::Poured { pour, at: pouring.at, resin_at }]);
    let agenda = app.app.agendas(&app.open(cast).await.shop, documents::now()).await.unwrap();
    assert_eq!(agenda[0].agenda.poured, 1, "Today knows in the same breath");

    let number = kept(&app, cast).await.rows.last().unwrap().number;
    let slip = Happening::Withdrawn { row: number, reason: "wrong cup".into() };
    write_down(&app.app, (cast, run), row("w", 13, slip)).await.unwrap();
    assert_eq!(facts(&app, cast).await, []);
    assert!(folded(&kept(&app, cast).await).batches[0].pouring.is_none());
}

#[tokio::test]
async fn a_touch_at_the_bench_moves_the_plan() {
    let (app, cast, run, pour) = mixed().await;
    let touch = || Happening::Touched { found: Touch::Clear, cup: None };
    let early = write_down(&app.app, (cast, run), row("t", 10, touch())).await;
    assert!(matches!(early, Err(AppError::AtBench(Refused::NothingIn))), "{early:?}");
    write_down(&app.app, (cast, run), row("p", 12, Happening::PourBegun { batch: 1 }))
        .await
        .unwrap();
    let row = row("t2", 200, touch());
    write_down(&app.app, (cast, run), row.clone()).await.unwrap();
    let touched = facts(&app, cast).await.into_iter().find(|f| matches!(f, Fact::Touched { .. }));
    assert_eq!(touched, Some(Fact::Touched { pour, at: row.at, found: Touch::Clear, cup: None }));
}

/// A device whose clock is fast writes nothing into the future.
#[tokio::test]
async fn a_fast_clock_is_held_back() {
    let (app, cast, run, _) = mixed().await;
    let ahead = row("f", 600, Happening::Noted { note: "ahead".into() });
    write_down(&app.app, (cast, run), ahead).await.unwrap();
    let written = kept(&app, cast).await.rows.last().unwrap().at;
    assert!(written <= documents::now() + SignedDuration::from_mins(2), "{written}");
}

#[tokio::test]
async fn a_run_that_is_given_up_is_over_and_another_may_begin() {
    let (app, cast, run, pour) = mixed().await;
    let given_up = Happening::Abandoned { reason: "the form leaks".into() };
    write_down(&app.app, (cast, run), row("x", 20, given_up)).await.unwrap();
    assert!(kept(&app, cast).await.ended_at.is_some());
    let late = write_down(&app.app, (cast, run), row("y", 21, Happening::Looked)).await;
    assert!(matches!(late, Err(AppError::AtBench(Refused::Over))), "{late:?}");
    let again = begin(&app.app, cast, Some(pour)).await.unwrap();
    assert_ne!(again, run);
    assert_eq!(runs(&app.app, &app.open(cast).await).await.unwrap().len(), 2);
}

/// What is mixed is taken from its lot, once, and put back where that was a slip.
#[tokio::test]
async fn a_lot_is_drawn_down_by_what_is_mixed() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let run = begin(&app.app, cast, Some(pours[0])).await.unwrap();
    let plan = kept(&app, cast).await.plan;
    let lot = Lot {
        resin: plan.resin.id.clone(),
        lot: "L-7".into(),
        bought: jiff::civil::date(2026, 10, 1),
        opened: None,
        left: Volume::from_l(6.0),
        cost: fondant_quantities::Money::from_units(90.0),
        held: None,
    };
    let shop = app.shop().await;
    shelf::add(&app.app, &shop, &lot, &Request::default()).await.unwrap();
    let left = async || shelf::items::<Lot>(&app.app, &shop).await.unwrap().items[0].clone();
    let slug = left().await.slug;
    for (key, part) in [("b", Part::B), ("a", Part::A)] {
        let mass = Pair::of(plan.batch, &plan.resin).part(part);
        let what = Happening::Weighed { batch: 1, part, mass };
        write_down(&app.app, (cast, run), row(key, 1, what)).await.unwrap();
    }
    let met = Happening::MixBegun { batch: 1, resin_at: None, lot: Some(slug) };
    for _ in 0..2 {
        write_down(&app.app, (cast, run), row("met", 2, met.clone())).await.unwrap();
    }
    let mixed = plan.batch / plan.resin.density;
    assert!((left().await.item.left.l() - (6.0 - mixed.l())).abs() < 1e-9, "once");
    let number = kept(&app, cast).await.rows.last().unwrap().number;
    let slip = Happening::Withdrawn { row: number, reason: "not yet".into() };
    write_down(&app.app, (cast, run), row("slip", 3, slip)).await.unwrap();
    assert!((left().await.item.left.l() - 6.0).abs() < 1e-9, "{:?}", left().await);
}

//! Finishing told step by step, and the pace that a shop learns from it.

use fondant_app::finishing::{finishing, tell_of};
use fondant_app::records::CastId;
use fondant_app::{AppError, Request};
use fondant_finish::work::{StepKind, Told, WorkRefused};
use fondant_quantities::Span;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::app;

const SAND: StepKind = StepKind::Sand;

async fn told(app: &TestApp, cast: CastId, told: Told) -> Result<(), WorkRefused> {
    tell_of(&app.app, cast, &told, &Request::default()).await.unwrap()
}

fn hour() -> Span {
    Span::from_h(1.0)
}

#[tokio::test]
async fn a_step_is_timed_once_however_often_it_is_sent() {
    let app = app().await;
    let cast = app.cast("Sanded").await;
    let request = Request::keyed(Some("start-1"));
    for _ in 0..2 {
        let start = Told::Started { step: SAND };
        tell_of(&app.app, cast, &start, &request).await.unwrap().unwrap();
    }
    let again = told(&app, cast, Told::Started { step: SAND }).await;
    assert_eq!(again, Err(WorkRefused::Running));
    app.set_now(documents::now() + SignedDuration::from_mins(90));
    told(&app, cast, Told::Stopped { step: SAND, planned: hour() }).await.unwrap();
    let open = app.open(cast).await;
    let work = finishing(&app.app, &open).await.unwrap().work;
    assert!((work.took().s() - 5400.0).abs() < 1e-6);
    let nowhere = tell_of(&app.app, CastId(9999), &Told::Done { step: SAND }, &request).await;
    assert!(matches!(nowhere, Err(AppError::NotFound("cast"))), "{nowhere:?}");
}

/// Two people at one piece: of two who start the same step at once, one does.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn of_two_who_start_a_step_at_once_one_does() {
    let app = app().await;
    let cast = app.cast("Contended").await;
    let start = |app: fondant_app::App| async move {
        tell_of(&app, cast, &Told::Started { step: SAND }, &Request::default()).await.unwrap()
    };
    let (one, other) = tokio::join!(start(app.app.clone()), start(app.app.clone()));
    assert!(one.is_ok() != other.is_ok(), "{one:?} {other:?}");
}

#[tokio::test]
async fn the_pace_is_learnt_from_other_pieces() {
    let app = app().await;
    for name in ["One", "Two", "Three"] {
        let cast = app.cast(name).await;
        let took = Told::Took { step: SAND, took: Span::from_h(2.0), planned: hour() };
        told(&app, cast, took).await.unwrap();
        told(&app, cast, Told::Done { step: SAND }).await.unwrap();
    }
    let cast = app.cast("Next").await;
    let open = app.open(cast).await;
    let pace = finishing(&app.app, &open).await.unwrap().paces[&SAND];
    // Three that agree, spread 0.2 at least: 2^(3 ÷ (3 + 0.16)).
    assert_eq!(pace.count, 3);
    assert!((pace.factor - 2.0_f64.powf(3.0 / 3.16)).abs() < 1e-9, "{pace:?}");
}

//! Long work: kept in the records, worked by any process, bounded, and ended when it is not
//! wanted.

use std::sync::Arc;
use std::time::Duration;

use fondant_app::casts::open;
use fondant_app::jobs::{self, ComparedPlans, FieldResult, JobKind, JobView};
use fondant_app::records::{CastId, JobFailure};
use fondant_app::{App, Background, Works, settings};
use fondant_cast::document::Contents;
use fondant_cast::planning::Followed;
use fondant_cast::{Document, Kind};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::{Cavity, CavityShape};
use fondant_testkit::{TestApp, documents, eventually};

use crate::{app, damage, edit};

/// What is working ends at once.
const AT_ONCE: Duration = Duration::ZERO;

/// A block that is compared in seconds.
fn small() -> Document {
    documents::of_kind(Kind::Block)
}

/// A block whose field takes a minute.
fn long() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(300.0), mm(140.0), mm(120.0), Length::ZERO);
    Document::begin(Kind::Block, "Long".into(), piece, documents::now())
}

async fn plans(app: &App, cast: CastId, again: bool) -> JobView<ComparedPlans> {
    let opened = open(app, cast).await.unwrap();
    let worked = opened.worked(app).await.unwrap();
    jobs::plans(app, (opened.shop.id, cast), &worked, again).await.unwrap()
}

/// Where sections are cut: in the middle of the channels.
const CUT: Length = Length::from_mm(600.0);

async fn field(app: &App, cast: CastId) -> JobView<FieldResult> {
    let opened = open(app, cast).await.unwrap();
    let worked = opened.worked(app).await.unwrap();
    let cut = (CUT, Followed::InOne);
    let asked = jobs::field(app, (opened.shop.id, cast), &worked, cut, false).await.unwrap();
    asked.expect("a cast with a field").1
}

async fn compared(test: &TestApp, app: &App, cast: CastId) -> Arc<ComparedPlans> {
    eventually(&test.db, "the comparison ends", async || match plans(app, cast, false).await {
        JobView::Done(plans) => Some(plans),
        JobView::Working(_) => None,
        other => panic!("{other:?}"),
    })
    .await
}

async fn until_running(test: &TestApp, app: &App, cast: CastId) {
    eventually(&test.db, "the field is begun", async || match field(app, cast).await {
        JobView::Working(working) => (!working.waits).then_some(()),
        other => panic!("{other:?}"),
    })
    .await;
}

/// "Alternatives hang at 0 % for good after a restart."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_comparison_asked_of_a_process_that_ended_is_worked_by_the_next() {
    let app = app().await;
    let cast = app.create(&small()).await;
    // Asked for where nobody works.
    assert!(matches!(plans(&app.app, cast, false).await, JobView::Working(w) if w.waits));
    let next = app.another().await;
    let _background = Background::start(&next, Works::Here);
    assert!(compared(&app, &next, cast).await.result.is_ok());
    // The first process finds it, too.
    assert!(matches!(plans(&app.app, cast, false).await, JobView::Done(_)));
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_field_whose_process_ended_half_way_is_begun_by_another() {
    let app = app().await;
    let cast = app.create(&long()).await;
    let first = Background::start(&app.app, Works::Here);
    field(&app.app, cast).await;
    until_running(&app, &app.app, cast).await;
    first.stop(AT_ONCE).await;
    // Smaller, so that the test need not wait for it; the row is the same.
    let other = app.another().await;
    let _background = Background::start(&other, Works::Here);
    until_running(&app, &other, cast).await;
    jobs::abandon(&other, app.workshop, cast, JobKind::Field).await.unwrap();
}

/// "… a change of the shop in another tab, an hour's change."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_comparison_goes_on_with_the_shop_as_it_is_now() {
    let app = app().await.at_work();
    let cast = app.create(&small()).await;
    plans(&app.app, cast, false).await;
    settings::save(&app.app, app.workshop, 1, &documents::workshop(10, 16)).await.unwrap();
    assert!(compared(&app, &app.app, cast).await.result.is_ok());
    app.set_now(documents::now() + jiff::SignedDuration::from_hours(2));
    assert!(compared(&app, &app.app, cast).await.result.is_ok());
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn who_asks_twice_joins_the_same_job() {
    let app = app().await;
    let cast = app.create(&small()).await;
    for _ in 0..3 {
        assert!(matches!(plans(&app.app, cast, false).await, JobView::Working(_)));
    }
    let one = "do $$ begin if (select count(*) from job) <> 1 or \
         (select count(*) from apalis.jobs) <> 1 then raise 'not one'; end if; end $$";
    damage(&app, one).await;
}

/// A job that fails says so and is not polled for ever; it can be retried.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_job_that_fails_says_so_and_can_be_begun_again() {
    let app = app().await;
    let cast = app.create(&small()).await;
    plans(&app.app, cast, false).await;
    damage(&app, "create table sound as select * from job; update job set input = 'x'").await;
    let app = app.at_work();
    let failed =
        eventually(&app.db, "the job ends", async || match plans(&app.app, cast, false).await {
            JobView::Working(_) => None,
            ended => Some(ended),
        })
        .await;
    assert!(matches!(failed, JobView::Failed(JobFailure::Panicked)), "{failed:?}");
    damage(&app, "update job set input = sound.input from sound").await;
    let again = plans(&app.app, cast, true).await;
    assert!(matches!(again, JobView::Working(_)), "{again:?}");
    assert!(compared(&app, &app.app, cast).await.result.is_ok());
}

/// "Abandon answers 204 and stops nothing; two of these and every computed page is 503."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn abandoned_fields_end_and_pages_are_worked_out_meanwhile() {
    let app = app().await.at_work();
    let (first, second) = (app.create(&long()).await, app.create(&long()).await);
    let quick = app.create(&small()).await;
    for cast in [first, second] {
        field(&app.app, cast).await;
    }
    until_running(&app, &app.app, first).await;
    // Pages and their edits keep their lane.
    edit(&app, quick, 1, |document| document.name = "Changed".into()).await.unwrap();
    app.open(quick).await.worked(&app.app).await.unwrap();
    for cast in [first, second] {
        jobs::abandon(&app.app, app.workshop, cast, JobKind::Field).await.unwrap();
    }
    // The worker is free for the next.
    let done =
        eventually(&app.db, "the next field ends", async || match field(&app.app, quick).await {
            JobView::Done(done) => Some(done),
            JobView::Working(_) => None,
            other => panic!("{other:?}"),
        });
    assert!(done.await.result.is_ok());
}

/// "An endless field solve: inlay 1200 × 800 × 30 mm with two rows of 35 round channels."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn seventy_channels_are_followed_on_a_bounded_mesh_or_refused() {
    let app = app().await.at_work();
    let cast = app.create(&channels()).await;
    let ended = eventually(&app.db, "the field ends", async || match field(&app.app, cast).await {
        JobView::Working(_) => None,
        ended => Some(ended),
    })
    .await;
    let JobView::Done(done) = ended else { panic!("{ended:?}") };
    if let Ok(seen) = &done.result {
        let cells = (seen.x_m.len() - 1) * (seen.z_m.len() - 1);
        assert!(cells <= 60_000, "{cells} cells");
    }
}

fn channels() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(800.0), mm(30.0), Length::ZERO);
    let mut document = Document::begin(Kind::Inlay, "Channels".into(), piece, documents::now());
    let channel = Cavity {
        name: String::new(),
        count: 35,
        shape: CavityShape::RoundChannel,
        length: mm(1100.0),
        width: mm(6.0),
        depth: mm(26.0),
        is_through: false,
    };
    if let Contents::Inlay(inlay) = &mut document.contents {
        inlay.cavities = vec![channel.clone(), channel];
    }
    document
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_process_ends_whatever_it_computes() {
    let app: TestApp = app().await;
    let cast = app.create(&long()).await;
    let background = Background::start(&app.app, Works::Here);
    field(&app.app, cast).await;
    until_running(&app, &app.app, cast).await;
    let stopping = background.stop(Duration::from_secs(60));
    tokio::time::timeout(Duration::from_secs(5), stopping).await.expect("it ends soon");
}

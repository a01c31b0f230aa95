//! A cast that gets another resin once something is poured: what is in stays what it is.

use fondant_app::casts;
use fondant_app::records::{CastId, NewRow, Step};
use fondant_app::{Request, bench};
use fondant_bench::Happening;
use fondant_bench::weighing::{Pair, Part};
use fondant_cast::Document;
use fondant_cast::document::{PourId, PouredOf};
use fondant_cast::facts::Fact;
use fondant_materials::resin::{ResinId, shipped};
use fondant_testkit::{TestApp, documents};
use jiff::{SignedDuration, Timestamp};

use crate::archives::{brought_in, out};
use crate::{app, edit, taken};

fn another(document: &mut Document) {
    document.resin = ResinId(shipped::FAST_CASTING.into());
}

/// A cast whose first pour is in, and its revision.
async fn begun(app: &TestApp) -> (CastId, PourId) {
    let (cast, pours) = taken(app).await;
    pour(app, cast).await;
    (cast, pours[0])
}

async fn pour(app: &TestApp, cast: CastId) {
    let record = app.open(cast).await.record;
    let first = record.document.pours.taken[0];
    let fact = Fact::Poured { pour: first.id, at: first.at, resin_at: None };
    let request = Request::default();
    casts::facts::log(&app.app, cast, record.revision, &request, fact).await.unwrap();
}

async fn change(app: &TestApp, cast: CastId) {
    let revision = app.open(cast).await.record.revision;
    edit(app, cast, revision, another).await.unwrap();
}

async fn poured_of(app: &TestApp, cast: CastId) -> Vec<(PourId, String)> {
    let kept = app.document(cast).await.pours.poured_of;
    kept.into_iter().map(|PouredOf { pour, resin }| (pour, resin.0)).collect()
}

/// To the minute: what timber takes of a column is worked out once, for the resin of the cast.
fn assert_as(one: Timestamp, other: Timestamp) {
    let apart = one.duration_since(other).abs();
    assert!(apart < SignedDuration::from_mins(1), "{one} and {other}");
}

/// When the first pour sets, as Today and the calendar have it.
async fn closes(app: &TestApp) -> Timestamp {
    let agendas = app.app.agendas(&app.shop().await, documents::now()).await.unwrap();
    agendas[0].agenda.pours[0].closes
}

/// "A base that was in became of the resin that was chosen for the rest, and set hours sooner."
#[tokio::test]
async fn what_is_in_keeps_its_resin_and_its_window() {
    let app = app().await;
    let (cast, base) = begun(&app).await;
    let (own, closed) = (app.document(cast).await.resin, closes(&app).await);
    change(&app, cast).await;
    assert_eq!(poured_of(&app, cast).await, [(base, own.0)]);
    assert_as(closes(&app).await, closed);
    // That it was poured was wrong: it is to be poured of the other one.
    let record = app.open(cast).await;
    let row = record.facts(&app.app).await.unwrap()[0].number;
    casts::facts::withdraw(&app.app, cast, record.record.revision, row).await.unwrap();
    assert_eq!(poured_of(&app, cast).await, []);
    let other = closes(&app).await.duration_since(closed).abs();
    assert!(other > SignedDuration::from_hours(1), "{other}");
}

/// The pour comes between a choice of resin and its Undo.
#[tokio::test]
async fn undo_does_not_reach_what_is_in() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let own = app.document(cast).await.resin;
    change(&app, cast).await;
    pour(&app, cast).await;
    let closed = closes(&app).await;
    let revision = app.open(cast).await.record.revision;
    casts::step(&app.app, cast, revision, Step::Undo).await.unwrap();
    assert_eq!(app.document(cast).await.resin, own);
    assert_eq!(poured_of(&app, cast).await, [(pours[0], shipped::FAST_CASTING.to_owned())]);
    assert_as(closes(&app).await, closed);
    casts::step(&app.app, cast, revision + 1, Step::Redo).await.unwrap();
    assert_as(closes(&app).await, closed);
}

/// The resin is chosen on another device while the bucket is in hand.
#[tokio::test]
async fn a_bucket_in_hand_is_of_the_resin_that_was_weighed() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let own = app.document(cast).await.resin;
    let run = bench::begin(&app.app, cast, Some(pours[0])).await.unwrap();
    let kept = bench::runs(&app.app, &app.open(cast).await).await.unwrap().remove(0);
    let pair = Pair::of(kept.plan.batch, &kept.plan.resin);
    change(&app, cast).await;
    assert_eq!(poured_of(&app, cast).await, []);
    let weighed = |part, mass| Happening::Weighed { batch: 1, part, mass };
    let happenings = [
        weighed(Part::B, pair.b),
        weighed(Part::A, pair.a),
        Happening::MixBegun { batch: 1, resin_at: None, lot: None },
        Happening::MixEnded { batch: 1 },
        Happening::PourBegun { batch: 1 },
    ];
    for (minute, what) in (0..).zip(happenings) {
        let at = app.app.now() - SignedDuration::from_mins(30 - minute);
        let row = NewRow { key: format!("k{minute}"), at, by: String::new(), what };
        bench::write_down(&app.app, (cast, run), row).await.unwrap();
    }
    assert_eq!(poured_of(&app, cast).await, [(pours[0], own.0.clone())]);
    let revision = app.open(cast).await.record.revision;
    casts::step(&app.app, cast, revision, Step::Undo).await.unwrap();
    assert_eq!(poured_of(&app, cast).await, [(pours[0], own.0)], "no Undo takes it out again");
}

/// Both resins travel with the cast, and its pours have new numbers in the other shop.
#[tokio::test]
async fn a_cast_of_two_resins_moves_to_another_shop() {
    let app = app().await;
    let (cast, _) = begun(&app).await;
    change(&app, cast).await;
    let there = crate::app().await;
    let brought = brought_in(&there, out(&app, cast).await).await;
    let document = there.document(brought).await;
    let of = &document.pours.poured_of;
    assert_eq!(of.iter().map(|one| one.pour).collect::<Vec<_>>(), [document.pours.taken[0].id]);
    assert_eq!(out(&there, brought).await, out(&app, cast).await);
}

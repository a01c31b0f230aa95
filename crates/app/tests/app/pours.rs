//! Plans taken, moved, given up.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use fondant_app::casts::pours::{self, Move};
use fondant_app::{AppError, Key, Worked};
use fondant_numerics::Stop;
use fondant_quantities::Length;
use jiff::{SignedDuration, Timestamp};

use crate::{app, damage, edit, taken};

/// "`pours/move` takes any moment: year 9000 → 7.6 GB; −377705023201 → saved, then 500."
#[tokio::test]
async fn a_pour_moved_out_of_all_years_is_refused_and_nothing_is_kept() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    for seconds in [221_845_392_000, -377_705_023_201, 0, 4_102_444_800] {
        let at = Timestamp::from_second(seconds).unwrap();
        let refused = pours::shift(&app.app, cast, 2, Move { pour: 1, at }).await;
        assert!(
            matches!(refused, Err(AppError::Conflicts(_) | AppError::Pours(_))),
            "{at}: {refused:?}"
        );
        let open = app.open(cast).await;
        let worked = open.worked(&app.app).await.unwrap();
        let tried = pours::try_move(&app.app, &worked, &[], Move { pour: 1, at });
        assert!(tried.await.is_err(), "{at} is not even tried");
    }
    let open = app.open(cast).await;
    assert_eq!(open.record.revision, 2);
    open.worked(&app.app).await.expect("its pages still open");
}

#[tokio::test]
async fn a_pour_that_the_plan_does_not_have_cannot_be_moved() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let at = fondant_testkit::documents::now();
    let none = pours::shift(&app.app, cast, 2, Move { pour: pours.len(), at }).await;
    assert!(matches!(none, Err(AppError::NotFound("pour"))), "{none:?}");
}

/// "`take` registers a job that nobody works."
#[tokio::test]
async fn taking_a_plan_of_a_comparison_that_is_not_there_asks_for_none() {
    let app = app().await;
    let cast = app.cast("Hasty").await;
    let key = Key::of(&"a comparison of yesterday").unwrap();
    let refused = pours::take(&app.app, cast, 1, (&key, 0)).await;
    assert!(matches!(refused, Err(AppError::NotReady)), "{refused:?}");
    // Were there a row, it would be in the way of this.
    damage(&app, "alter table job add constraint none_yet check (false)").await;
}

/// Twenty at the same revision: one wins, nobody waits for ever.
#[tokio::test]
async fn of_twenty_edits_of_a_taken_plan_at_once_one_wins() {
    let app = std::sync::Arc::new(app().await);
    let (cast, _) = taken(&app).await;
    let edits = (0..20).map(|n| {
        let app = app.clone();
        tokio::spawn(async move {
            edit(&app, cast, 2, |document| {
                document.form.overfill = Length::from_mm(3.0 + f64::from(n) * 0.1);
            })
            .await
        })
    });
    let mut kept = 0;
    for edit in edits.collect::<Vec<_>>() {
        match edit.await.unwrap() {
            Ok(revision) => {
                assert_eq!(revision, 3);
                kept += 1;
            }
            Err(AppError::Stale { .. }) => {}
            Err(other) => panic!("{other}"),
        }
    }
    assert_eq!(kept, 1);
}

/// What was promised stands with the revision in which the plan was taken, whatever changes later.
#[tokio::test]
async fn what_was_promised_is_kept_with_the_plan_that_was_taken() {
    let app = app().await;
    let (cast, layers) = taken(&app).await;
    let worked = app.open(cast).await.worked(&app.app).await.unwrap();
    let schedule = worked.evaluation.pours.clone().unwrap();
    let promised = async || app.db.store.read().forecast(app.workshop, cast).await.unwrap();
    let first = promised().await.expect("a forecast");
    assert_eq!(first.pours.len(), layers.len());
    assert_eq!(first.hard, schedule.hard);
    edit(&app, cast, 2, |document| document.form.overfill = Length::from_mm(7.0)).await.unwrap();
    assert_eq!(promised().await, Some(first.clone()));
    // Taken again for the other form, another one is promised.
    pours::release(&app.app, cast, 3).await.unwrap();
    pours::settle(&app.app, cast, 4).await.unwrap();
    assert_ne!(promised().await, Some(first));
}

/// "Pours and Heat of an unchanged cast were worked out again for everyone who opened them."
#[tokio::test]
async fn what_a_page_works_out_beside_a_cast_is_worked_out_once() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    let count = Arc::new(AtomicUsize::new(0));
    let opened = async |by: &str| {
        let worked = app.open(cast).await.worked(&app.app).await.unwrap();
        let count = Arc::clone(&count);
        let work = move |_: &Stop| count.fetch_add(1, Ordering::SeqCst);
        *app.app.beside::<usize>(&worked, &by, work).await.unwrap()
    };
    assert_eq!((opened("a").await, opened("a").await), (0, 0), "the second finds it");
    assert_eq!(opened("b").await, 1, "what it follows from is another");
    pours::settle(&app.app, cast, 1).await.unwrap();
    assert_eq!(opened("a").await, 2, "the cast is another");
    let worked = app.open(cast).await.worked(&app.app).await.unwrap();
    let other = app.app.beside::<String>(&worked, &"a", |_| "another sort".to_owned()).await;
    assert_eq!(*other.unwrap(), "another sort", "each page has its own");
    // A touch moves a window, and no pour.
    let mut evaluation = worked.evaluation.as_ref().clone();
    evaluation.pours.as_mut().unwrap().pours[0].opens += SignedDuration::from_hours(1);
    let touched = Worked { evaluation: Arc::new(evaluation), ..worked };
    let work = |_: &Stop| 77_usize;
    assert_eq!(*app.app.beside::<usize>(&touched, &"a", work).await.unwrap(), 77);
}

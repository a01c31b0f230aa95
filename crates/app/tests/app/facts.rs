//! What happened, written down and withdrawn.

use fondant_app::casts::facts::{log, withdraw};
use fondant_app::casts::pours;
use fondant_app::records::CastId;
use fondant_app::{AppError, Request};
use fondant_cast::Document;
use fondant_cast::document::{PourId, Split};
use fondant_cast::facts::{Fact, standing};
use fondant_pours::simulate::observe::Touch;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::{app, edit, taken};

fn poured(pour: PourId) -> Fact {
    Fact::Poured { pour, at: documents::now() + SignedDuration::from_hours(1), resin_at: None }
}

async fn stand(app: &TestApp, cast: CastId) -> Vec<Fact> {
    let rows = app.open(cast).await.facts(&app.app).await.unwrap();
    standing(&rows).iter().map(|row| row.fact).collect()
}

/// "Double click writes two rows."
#[tokio::test]
async fn the_same_fact_sent_twice_at_once_stands_once() {
    let app = app().await;
    let (cast, layers) = taken(&app).await;
    let send = |request: Request| {
        let (app, fact) = (app.app.clone(), poured(layers[0]));
        tokio::spawn(async move { log(&app, cast, 2, &request, fact).await })
    };
    let key = Request::new_key().unwrap();
    let keyed = || Request::keyed(Some(&key));
    for sent in [send(keyed()), send(keyed()), send(Request::default()), send(keyed())] {
        sent.await.unwrap().unwrap();
    }
    assert_eq!(stand(&app, cast).await, [poured(layers[0])]);
    assert_eq!(app.open(cast).await.facts(&app.app).await.unwrap().len(), 1);
}

#[tokio::test]
async fn a_fact_of_no_pour_and_one_on_a_stale_revision_are_refused() {
    let app = app().await;
    let (cast, layers) = taken(&app).await;
    let none = log(&app.app, cast, 2, &Request::default(), poured(PourId(987_654))).await;
    assert!(matches!(none, Err(AppError::NotFound("pour"))), "{none:?}");
    let stale = log(&app.app, cast, 1, &Request::default(), poured(layers[0])).await;
    assert!(matches!(stale, Err(AppError::Stale { expected: 1, current: 2 })), "{stale:?}");
    assert!(stand(&app, cast).await.is_empty());
}

/// "Withdrawing rows that do not exist is 303; no revision check."
#[tokio::test]
async fn only_a_row_of_this_cast_is_withdrawn_and_only_once() {
    let app = app().await;
    let (cast, layers) = taken(&app).await;
    let other = app.cast("Another").await;
    log(&app.app, cast, 2, &Request::default(), poured(layers[0])).await.unwrap();
    let row = app.open(cast).await.facts(&app.app).await.unwrap()[0].number;
    for (cast, expected, row) in [(cast, 2, row + 7), (other, 1, row)] {
        let refused = withdraw(&app.app, cast, expected, row).await;
        assert!(matches!(refused, Err(AppError::NotFound("note"))), "{refused:?}");
    }
    assert!(matches!(withdraw(&app.app, cast, 1, row).await, Err(AppError::Stale { .. })));
    for _ in 0..2 {
        withdraw(&app.app, cast, 2, row).await.unwrap();
    }
    assert!(stand(&app, cast).await.is_empty());
    assert_eq!(app.open(cast).await.facts(&app.app).await.unwrap().len(), 2);
}

/// "Layers are positions, not things, so re-splitting reassigns history."
#[tokio::test]
async fn facts_stay_with_their_pour_when_layers_are_split_again() {
    let app = app().await;
    let (cast, layers) = taken(&app).await;
    let touched =
        Fact::Touched { pour: layers[0], at: poured_at(layers[0]), found: Touch::Tacky, cup: None };
    for fact in [poured(layers[0]), touched] {
        log(&app.app, cast, 2, &Request::default(), fact).await.unwrap();
    }
    pours::release(&app.app, cast, 2).await.unwrap();
    let split = |document: &mut Document| document.pours.split = Split::Equal { count: 5 };
    edit(&app, cast, 3, split).await.unwrap();
    pours::settle(&app.app, cast, 4).await.unwrap();
    let again: Vec<PourId> = app.document(cast).await.pours.taken.iter().map(|p| p.id).collect();
    assert_eq!(again.len(), 5 + 1, "five layers over the base");
    assert_eq!(again[0], layers[0], "the base is the pour that it was");
    assert_eq!(stand(&app, cast).await, [poured(layers[0]), touched]);
    // A pour that the new plan does not have never gets the place of another.
    let mut ids = again.clone();
    ids.sort_by_key(|id| id.0);
    ids.dedup();
    assert_eq!(ids.len(), again.len());
}

fn poured_at(pour: PourId) -> jiff::Timestamp {
    let Fact::Poured { at, .. } = poured(pour) else { unreachable!("it was poured") };
    at + SignedDuration::from_hours(9)
}

//! Casts, their revisions and what happened to them.

use fondant_cast::Document;
use fondant_cast::document::PourId;
use fondant_cast::facts::Fact;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Length, Temperature};
use fondant_store::repos::{Asked, CastId, Cursor, Keep, Step, WorkshopId};
use fondant_store::{Store, StoreError};
use fondant_testkit::{TestDb, documents};
use jiff::{SignedDuration, Timestamp};

use crate::{alone, another_shop, cast, shop};

/// Saves a document on a revision.
async fn save(
    db: &TestDb,
    (shop, id): (WorkshopId, CastId),
    expected: i32,
    document: &Document,
    now: Timestamp,
) -> Result<i32, StoreError> {
    alone(db, async |kept| {
        kept.lock_cast_at(shop, id, expected).await?;
        kept.save_document(shop, id, expected, document, now).await
    })
    .await
}

async fn step(
    db: &TestDb,
    (shop, id): (WorkshopId, CastId),
    step: Step,
) -> Result<i32, StoreError> {
    alone(db, async |kept| {
        let expected = kept.lock_cast(shop, id).await?;
        let document = kept.step_target(shop, id, expected, step).await?;
        kept.step(shop, (id, expected), step, &document, documents::now()).await
    })
    .await
}

#[tokio::test]
async fn a_document_comes_back_as_it_was_kept() {
    let (db, shop) = shop().await;
    let id = cast(&db, shop, "Kept").await;
    let record = db.store.read().cast(shop, id).await.unwrap();
    assert_eq!(record.document, documents::river_top("Kept"));
    assert_eq!((record.revision, record.can_undo, record.can_redo), (1, false, false));
}

#[tokio::test]
async fn a_stale_save_is_refused_and_changes_nothing() {
    let (db, shop) = shop().await;
    let id = cast(&db, shop, "Two tabs").await;
    let (mut mine, mut theirs) = (documents::river_top("Mine"), documents::river_top("Theirs"));
    mine.form.overfill = Length::from_mm(3.0);
    theirs.form.overfill = Length::from_mm(4.0);
    let now = documents::now();
    assert_eq!(save(&db, (shop, id), 1, &theirs, now).await.unwrap(), 2);
    let refusal = save(&db, (shop, id), 1, &mine, now).await.unwrap_err();
    assert!(matches!(refusal, StoreError::Stale { expected: 1, current: 2 }), "{refusal}");
    assert_eq!(db.store.read().cast(shop, id).await.unwrap().document, theirs);
}

/// Without the lock, the condition on the revision still refuses.
#[tokio::test]
async fn a_save_without_a_lock_is_refused_where_the_revision_has_moved_on() {
    let (db, shop) = shop().await;
    let id = cast(&db, shop, "Two tabs").await;
    let (now, document) = (documents::now(), documents::river_top("Changed"));
    save(&db, (shop, id), 1, &document, now).await.unwrap();
    let unlocked =
        alone(&db, async |kept| kept.save_document(shop, id, 1, &document, now).await).await;
    assert!(matches!(unlocked, Err(StoreError::Stale { .. })), "{unlocked:?}");
}

#[tokio::test]
async fn of_twenty_saves_at_once_exactly_one_is_kept() {
    let (db, shop) = shop().await;
    let db = std::sync::Arc::new(db);
    let id = cast(&db, shop, "Race").await;
    let saves = (0..20).map(|n| {
        let (db, document) = (db.clone(), documents::river_top(&format!("Racer {n}")));
        tokio::spawn(async move { save(&db, (shop, id), 1, &document, documents::now()).await })
    });
    let mut kept = 0;
    for save in saves.collect::<Vec<_>>() {
        match save.await.unwrap() {
            Ok(revision) => {
                assert_eq!(revision, 2);
                kept += 1;
            }
            Err(StoreError::Stale { .. }) => {}
            Err(other) => panic!("{other}"),
        }
    }
    assert_eq!(kept, 1);
}

#[tokio::test]
async fn undo_and_redo_walk_the_changes_and_a_new_change_ends_redo() {
    let (db, shop) = shop().await;
    let (id, now) = (cast(&db, shop, "v1").await, documents::now());
    let of = (shop, id);
    for (revision, name) in [(1, "v2"), (2, "v3")] {
        save(&db, of, revision, &documents::river_top(name), now).await.unwrap();
    }
    let name = async || db.store.read().cast(shop, id).await.unwrap().document.name;
    for expected in ["v2", "v1"] {
        step(&db, of, Step::Undo).await.unwrap();
        assert_eq!(name().await, expected);
    }
    let refusal = step(&db, of, Step::Undo).await.unwrap_err();
    assert!(matches!(refusal, StoreError::Nothing("undo")));
    for expected in ["v2", "v3"] {
        step(&db, of, Step::Redo).await.unwrap();
        assert_eq!(name().await, expected);
    }
    let head = step(&db, of, Step::Undo).await.unwrap();
    save(&db, of, head, &documents::river_top("v4"), now).await.unwrap();
    let record = db.store.read().cast(shop, id).await.unwrap();
    assert!(record.can_undo && !record.can_redo);
    assert!(matches!(step(&db, of, Step::Redo).await, Err(StoreError::Nothing("redo"))));
}

#[tokio::test]
async fn casts_are_listed_newest_change_first_and_only_of_their_workshop() {
    let (db, shop) = shop().await;
    let other = another_shop(&db).await;
    cast(&db, other, "Elsewhere").await;
    let first = cast(&db, shop, "First").await;
    cast(&db, shop, "Second").await;
    let later = documents::now() + SignedDuration::from_hours(1);
    save(&db, (shop, first), 1, &documents::river_top("First, changed"), later).await.unwrap();
    let read = db.store.read();
    let names = |casts: Vec<fondant_store::repos::CastSummary>| {
        casts.into_iter().map(|cast| cast.name).collect::<Vec<_>>()
    };
    let listed = async |after| {
        let asked = Asked { after, ..Asked::default() };
        names(read.casts(shop, &asked, (9, documents::now())).await.unwrap())
    };
    assert_eq!(listed(None).await, ["First, changed", "Second"]);
    assert_eq!(listed(Some(Cursor { updated_at: later, id: first })).await, ["Second"]);
    for (workshop, id) in [(other, first), (shop, CastId(999_999))] {
        let none = read.cast(workshop, id).await;
        assert!(matches!(none, Err(StoreError::NotFound("cast"))), "{none:?}");
    }
}

#[tokio::test]
async fn what_was_kept_is_there_for_the_next_process() {
    let (db, shop) = shop().await;
    let id = cast(&db, shop, "Still here").await;
    let again = Store::connect(&db.address).await.unwrap();
    again.migrate().await.unwrap();
    assert_eq!(again.read().cast(shop, id).await.unwrap().document.name, "Still here");
}

/// A ledger as it was kept before records had revisions of their own.
#[tokio::test]
async fn records_of_the_schema_before_stand_in_the_ledger() {
    let (db, shop) = shop().await;
    let id = cast(&db, shop, "Kept before").await;
    let before = format!(
        "alter table record drop column revision, drop column is_open;
         delete from seaql_migrations where version like '%_000013_%';
         insert into record values ({id}, {}, now(), 'finished', 'river', 'slow-casting-epoxy', 'ash',
           '', '', 0.01, 3600, 20, 0, 'kept before', '{{}}', '{{}}')",
        shop.0
    );
    db.run(&before).await;
    db.store.migrate().await.unwrap();
    let kept = db.store.read().record(shop, id).await.unwrap().expect("it is there");
    assert_eq!((kept.revision, kept.is_open, kept.end.kind.as_str()), (1, false, "river"));
}

#[tokio::test]
async fn what_happened_is_only_ever_added() {
    let (db, shop) = shop().await;
    let (id, at) = (cast(&db, shop, "Top").await, documents::now());
    let pour = PourId(7);
    let poured = Fact::Poured { pour, at, resin_at: Some(Temperature::from_celsius(22.5)) };
    let touched = Fact::Touched { pour, at, found: Touch::Tacky, cup: None };
    for fact in [poured, touched] {
        alone(&db, async |kept| kept.add_fact(id, &fact, at).await).await.unwrap();
    }
    let rows = db.store.read().facts(shop, id).await.unwrap();
    let facts: Vec<Fact> = rows.iter().map(|row| row.fact).collect();
    assert_eq!(facts, [poured, touched]);
    assert!(rows[0].number < rows[1].number);
    let other = another_shop(&db).await;
    assert!(db.store.read().facts(other, id).await.unwrap().is_empty());
}

/// An export takes minutes: what is changed meanwhile is in none of it, and waits for nothing.
#[tokio::test]
async fn a_snapshot_stays_as_it_was_and_holds_nobody_up() {
    let (db, shop) = shop().await;
    let cast = cast(&db, shop, "Before").await;
    let moment = db.store.snapshot().await.unwrap();
    assert_eq!(moment.cast_ids(shop).await.unwrap(), [cast]);
    let changed = documents::river_top("After");
    alone(&db, async |kept| {
        kept.create_cast(shop, &changed, documents::now()).await?;
        kept.keep_cast(shop, cast, Keep::PutAway, documents::now()).await
    })
    .await
    .unwrap();
    assert_eq!(db.store.read().cast_ids(shop).await.unwrap().len(), 2);
    assert_eq!(moment.cast_ids(shop).await.unwrap(), [cast]);
    let (_, keep) = moment.kept_cast(shop, cast).await.unwrap().unwrap();
    assert_eq!(keep, Keep::Open);
    let written = moment.keep_cast(shop, cast, Keep::Deleted, documents::now()).await;
    assert!(written.is_err(), "it writes nothing");
}

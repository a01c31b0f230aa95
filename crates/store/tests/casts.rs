//! Casts and their revisions on a real PostgreSQL.

use fondant_quantities::Length;
use fondant_store::StoreError;
use fondant_store::repos::{CastId, Step};
use fondant_testkit::{TestApp, TestDb, plans};
use jiff::SignedDuration;

async fn app() -> TestApp {
    TestApp::new(&plans::workshop(8, 18)).await
}

#[tokio::test]
async fn a_plan_comes_back_as_it_was_kept() {
    let app = app().await;
    let plan = plans::river_top("Kept");
    let id = app.db.store.create_cast(app.workshop, &plan, plans::now()).await.unwrap();
    let record = app.db.store.cast(app.workshop, id).await.unwrap();
    assert_eq!(record.plan, plan);
    assert_eq!((record.revision, record.can_undo, record.can_redo), (1, false, false));
}

#[tokio::test]
async fn a_stale_save_is_refused_and_changes_nothing() {
    let app = app().await;
    let (store, workshop) = (&app.db.store, app.workshop);
    let id = app.cast("Two tabs").await;
    let mut mine = plans::river_top("Mine");
    let mut theirs = plans::river_top("Theirs");
    mine.form.overfill = Length::from_mm(3.0);
    theirs.form.overfill = Length::from_mm(4.0);
    assert_eq!(store.save_plan(workshop, id, 1, &theirs, plans::now()).await.unwrap(), 2);
    let refusal = store.save_plan(workshop, id, 1, &mine, plans::now()).await.unwrap_err();
    assert!(matches!(refusal, StoreError::Stale { expected: 1, current: 2 }), "{refusal}");
    assert_eq!(store.cast(workshop, id).await.unwrap().plan, theirs);
}

#[tokio::test]
async fn of_two_saves_at_once_exactly_one_is_kept() {
    let app = app().await;
    let id = app.cast("Race").await;
    let saves = (0..8).map(|n| {
        let (store, workshop) = (app.db.store.clone(), app.workshop);
        let plan = plans::river_top(&format!("Racer {n}"));
        tokio::spawn(async move { store.save_plan(workshop, id, 1, &plan, plans::now()).await })
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
async fn an_equal_plan_makes_no_revision() {
    let app = app().await;
    let id = app.cast("Same").await;
    let same = plans::river_top("Same");
    let saved = app.db.store.save_plan(app.workshop, id, 1, &same, plans::now()).await.unwrap();
    assert_eq!(saved, 1);
}

#[tokio::test]
async fn undo_and_redo_walk_the_changes_and_a_new_change_ends_redo() {
    let app = app().await;
    let (store, workshop, now) = (&app.db.store, app.workshop, plans::now());
    let id = app.cast("v1").await;
    for (revision, name) in [(1, "v2"), (2, "v3")] {
        store.save_plan(workshop, id, revision, &plans::river_top(name), now).await.unwrap();
    }
    let name = async || store.cast(workshop, id).await.unwrap().plan.name;
    let head = async || store.cast(workshop, id).await.unwrap().revision;
    for expected in ["v2", "v1"] {
        store.step(workshop, id, head().await, Step::Undo, now).await.unwrap();
        assert_eq!(name().await, expected);
    }
    let refusal = store.step(workshop, id, head().await, Step::Undo, now).await.unwrap_err();
    assert!(matches!(refusal, StoreError::Nothing("undo")));
    for expected in ["v2", "v3"] {
        store.step(workshop, id, head().await, Step::Redo, now).await.unwrap();
        assert_eq!(name().await, expected);
    }
    store.step(workshop, id, head().await, Step::Undo, now).await.unwrap();
    store.save_plan(workshop, id, head().await, &plans::river_top("v4"), now).await.unwrap();
    let record = store.cast(workshop, id).await.unwrap();
    assert!(record.can_undo && !record.can_redo);
    assert!(matches!(
        store.step(workshop, id, record.revision, Step::Redo, now).await,
        Err(StoreError::Nothing("redo"))
    ));
}

#[tokio::test]
async fn casts_are_listed_newest_change_first_and_only_of_their_workshop() {
    let app = app().await;
    let store = &app.db.store;
    let other = store.create_workshop(&plans::workshop(9, 17)).await.unwrap();
    store.create_cast(other, &plans::river_top("Elsewhere"), plans::now()).await.unwrap();
    let first = app.cast("First").await;
    app.cast("Second").await;
    let later = plans::now() + SignedDuration::from_hours(1);
    store
        .save_plan(app.workshop, first, 1, &plans::river_top("First, changed"), later)
        .await
        .unwrap();
    let names: Vec<_> =
        store.casts(app.workshop).await.unwrap().into_iter().map(|c| c.plan.name).collect();
    assert_eq!(names, ["First, changed", "Second"]);
    assert!(matches!(store.cast(other, first).await, Err(StoreError::NotFound("cast"))));
    assert!(matches!(
        store.cast(app.workshop, CastId(999_999)).await,
        Err(StoreError::NotFound("cast"))
    ));
}

#[tokio::test]
async fn settings_of_the_workshop_are_kept_and_guarded_like_plans() {
    let db = TestDb::migrated().await;
    assert!(db.store.workshop().await.unwrap().is_none());
    let id = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let changed = plans::workshop(10, 16);
    db.store.save_workshop(id, 1, &changed).await.unwrap();
    let kept = db.store.workshop().await.unwrap().unwrap();
    assert_eq!((kept.revision, &kept.settings), (2, &changed));
    let refusal = db.store.save_workshop(id, 1, &plans::workshop(1, 2)).await.unwrap_err();
    assert!(matches!(refusal, StoreError::Stale { expected: 1, current: 2 }));
    assert_eq!(db.store.workshop().await.unwrap().unwrap().settings, changed);
}

#[tokio::test]
async fn migrations_go_up_down_and_up_again() {
    let db = TestDb::empty().await;
    db.store.migrate().await.unwrap();
    db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    db.store.migrate_down().await.unwrap();
    assert!(matches!(db.store.workshop().await, Err(StoreError::Unavailable(_))));
    db.store.migrate().await.unwrap();
    assert!(db.store.workshop().await.unwrap().is_none());
}

#[tokio::test]
async fn what_was_kept_is_there_for_the_next_process() {
    let app = app().await;
    let id = app.cast("Still here").await;
    let again = fondant_store::Store::connect(&app.db.address).await.unwrap();
    again.migrate().await.unwrap();
    assert_eq!(again.cast(app.workshop, id).await.unwrap().plan.name, "Still here");
}

mod pours {
    use fondant_cast::Fact;
    use fondant_heat::climate::AirAt;
    use fondant_pours::simulate::observe::Touch;
    use fondant_quantities::Temperature;
    use fondant_testkit::{TestDb, plans};
    use jiff::SignedDuration;

    #[tokio::test]
    async fn what_happened_is_only_ever_added() {
        let db = TestDb::migrated().await;
        let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.expect("a shop");
        let plan = plans::river_top("Top");
        let cast = db.store.create_cast(shop, &plan, plans::now()).await.expect("a cast");
        let at = plans::now();
        let poured = Fact::Poured { pour: 0, at, resin_at: Some(Temperature::from_celsius(22.5)) };
        let touched = Fact::Touched { pour: 0, at, found: Touch::Tacky };
        for fact in [poured, touched] {
            db.store.add_fact(cast, &fact, at).await.expect("it is written down");
        }
        let rows = db.store.facts(cast).await.expect("rows");
        let facts: Vec<Fact> = rows.iter().map(|row| row.fact).collect();
        assert_eq!(facts, [poured, touched]);
        assert!(rows[0].number < rows[1].number);
    }

    #[tokio::test]
    async fn a_later_reading_of_the_same_moment_takes_the_place_of_the_former() {
        let db = TestDb::migrated().await;
        let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.expect("a shop");
        let reading = |hours: i64, celsius: f64| AirAt {
            at: plans::now() + SignedDuration::from_hours(hours),
            temperature: Temperature::from_celsius(celsius),
            humidity_percent: 60.0,
        };
        let first: Vec<AirAt> = (0..9000).map(|h| reading(h, 20.0)).collect();
        db.store.add_air(shop, &first).await.expect("they are kept");
        db.store.add_air(shop, &[reading(2, 14.0)]).await.expect("it is kept");
        let kept = db.store.air_since(shop, reading(1, 0.0).at).await.expect("readings");
        assert_eq!(kept.len(), 8999);
        assert!((kept[1].temperature.celsius() - 14.0).abs() < 1e-9);
    }

    #[tokio::test]
    async fn a_workshop_kept_before_days_had_breaks_is_still_read() {
        use sea_orm::ConnectionTrait;
        let db = TestDb::migrated().await;
        let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.expect("a shop");
        let old = r#"[{"opens":"08:00:00","closes":"18:00:00"},null,null,null,null,null,null]"#;
        let sql = format!(
            "UPDATE workshop SET hours = '{old}'::jsonb, settings = '{{}}'::jsonb WHERE id = {}",
            shop.0
        );
        let raw = sea_orm::Database::connect(&db.address).await.expect("the database answers");
        raw.execute_unprepared(&sql).await.expect("it is written");
        let kept = db.store.workshop().await.expect("read").expect("there");
        assert_eq!(kept.settings.days[0].len(), 1);
        assert!(kept.settings.days[1].is_empty());
        assert_eq!(kept.settings.shop, fondant_cast::ShopSettings::default());
    }
}

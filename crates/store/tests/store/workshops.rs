//! Workshops and their air.

use fondant_app::records::WorkshopSettings;
use fondant_heat::climate::AirAt;
use fondant_quantities::Temperature;
use fondant_store::StoreError;
use fondant_store::repos::NewLog;
use fondant_testkit::{TestDb, documents};
use jiff::SignedDuration;

use crate::{alone, another_shop, shop};

#[tokio::test]
async fn settings_of_the_workshop_are_kept_and_guarded_like_documents() {
    let db = TestDb::migrated().await;
    assert!(db.store.read().workshop().await.unwrap().is_none());
    let id = another_shop(&db).await;
    let save = async |expected: i32, settings: &WorkshopSettings| {
        alone(&db, async |kept| kept.save_workshop(id, expected, settings).await).await
    };
    let changed = documents::workshop(10, 16);
    assert_eq!(save(1, &changed).await.unwrap(), 2);
    let kept = db.store.read().workshop().await.unwrap().unwrap();
    assert_eq!((kept.revision, &kept.settings), (2, &changed));
    let refusal = save(1, &documents::workshop(1, 2)).await;
    assert!(matches!(refusal, Err(StoreError::Stale { expected: 1, current: 2 })));
    assert_eq!(db.store.read().workshop().await.unwrap().unwrap().settings, changed);
}

#[tokio::test]
async fn an_unmigrated_database_is_said_to_be_so() {
    let db = TestDb::empty().await;
    assert!(db.store.read().workshop().await.is_err());
    db.store.migrate().await.unwrap();
    assert!(db.store.read().workshop().await.unwrap().is_none());
}

#[tokio::test]
async fn a_later_reading_of_the_same_moment_takes_the_place_of_the_former() {
    let (db, shop) = shop().await;
    let reading = |hours: i64, celsius: f64| AirAt {
        at: documents::now() + SignedDuration::from_hours(hours),
        temperature: Temperature::from_celsius(celsius),
        humidity_percent: 60.0,
    };
    let first: Vec<AirAt> = (0..9000).map(|h| reading(h, 20.0)).collect();
    let log = |readings| NewLog { heading: "", date_order: None, rows: 1, readings };
    let later = [reading(2, 14.0)];
    let now = documents::now();
    alone(&db, async |kept| kept.add_air(shop, &log(&first), now).await).await.unwrap();
    let second =
        alone(&db, async |kept| kept.add_air(shop, &log(&later), now).await).await.unwrap();
    let kept = db.store.read().air_since(shop, reading(1, 0.0).at).await.unwrap();
    assert_eq!(kept.len(), 8999);
    assert!((kept[1].temperature.celsius() - 14.0).abs() < 1e-9);
    // Withdrawn, it leaves what was there before.
    alone(&db, async |kept| kept.remove_air_log(shop, second).await).await.unwrap();
    let kept = db.store.read().air_since(shop, reading(1, 0.0).at).await.unwrap();
    assert!(kept.len() == 8999 && (kept[1].temperature.celsius() - 20.0).abs() < 1e-9);
    assert_eq!(db.store.read().air_logs(shop).await.unwrap().len(), 1);
    let again = alone(&db, async |kept| kept.remove_air_log(shop, second).await).await;
    assert!(matches!(again, Err(StoreError::NotFound("log"))));
}

#[tokio::test]
async fn a_workshop_kept_before_days_had_breaks_is_still_read() {
    let (db, shop) = shop().await;
    let old = r#"[{"opens":"08:00:00","closes":"18:00:00"},null,null,null,null,null,null]"#;
    let sql = format!(
        "UPDATE workshop SET hours = '{old}'::jsonb, settings = '{{}}'::jsonb WHERE id = {}",
        shop.0
    );
    db.run(&sql).await;
    let kept = db.store.read().workshop().await.unwrap().unwrap();
    assert_eq!(kept.settings.days[0].len(), 1);
    assert!(kept.settings.days[1].is_empty());
    assert_eq!(kept.settings.shop, fondant_cast::ShopSettings::default());
}

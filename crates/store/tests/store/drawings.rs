//! Drawings that are being looked at.

use fondant_store::StoreError;
use fondant_store::repos::{DrawingFile, DrawingId};
use fondant_testkit::documents;
use jiff::SignedDuration;

use crate::{alone, another_shop, cast, shop};

fn file(name: &str) -> DrawingFile {
    DrawingFile { name: name.to_owned(), format: "svg".to_owned(), bytes: name.into() }
}

#[tokio::test]
async fn a_cast_keeps_its_last_drawings_for_a_day_and_no_other_shop_sees_them() {
    let (db, shop) = shop().await;
    let (top, other) = (cast(&db, shop, "Top").await, cast(&db, shop, "Other").await);
    let now = documents::now();
    let keep = async |cast, name: &str, hours: i64| {
        let at = now + SignedDuration::from_hours(hours);
        alone(&db, async |kept| kept.add_drawing(cast, file(name), at).await).await.unwrap()
    };
    let about = async |shop, cast, id| db.store.read().drawing_about(shop, cast, id).await;
    let lone = keep(other, "lone", 0).await;
    let mut ids: Vec<DrawingId> = Vec::new();
    for number in 0..9 {
        ids.push(keep(top, &format!("drawing {number}"), 0).await);
    }
    // Eight of a cast, the newest; those of another stay.
    let gone = about(shop, top, ids[0]).await;
    assert!(matches!(gone, Err(StoreError::NotFound("drawing"))), "{gone:?}");
    assert_eq!(about(shop, top, ids[1]).await.unwrap(), ("drawing 1".into(), "svg".into()));
    assert_eq!(db.store.read().drawing_bytes(shop, other, lone).await.unwrap(), b"lone");
    // Under another cast or shop they are not there.
    assert!(about(shop, other, ids[8]).await.is_err());
    let stranger = another_shop(&db).await;
    assert!(about(stranger, top, ids[8]).await.is_err());
    // A day later all of them are gone.
    let next = keep(other, "next", 25).await;
    assert!(about(shop, top, ids[8]).await.is_err() && about(shop, other, lone).await.is_err());
    assert!(about(shop, other, next).await.is_ok());
}

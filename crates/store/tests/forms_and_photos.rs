//! Forms that a shop has and photos of its casts, on a real database.

use fondant_quantities::Length;
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_shapes::geometry::homography::Pixel;
use fondant_store::StoreError;
use fondant_store::repos::{KnownLength, NewPhoto, Picture, Squaring};
use fondant_testkit::{TestDb, plans};

fn form(name: &str) -> OwnedForm {
    OwnedForm {
        name: name.into(),
        kind: OwnedKind::SheetForm,
        length: Length::from_mm(1200.0),
        width: Length::from_mm(600.0),
        height: Length::from_mm(60.0),
        cavities: 1,
        condition: Condition::Ready,
    }
}

#[tokio::test]
async fn a_form_is_booked_by_one_cast_at_a_time() {
    let db = TestDb::migrated().await;
    let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let plan = plans::river_top("one");
    let one = db.store.create_cast(shop, &plan, plans::now()).await.unwrap();
    let two = db.store.create_cast(shop, &plan, plans::now()).await.unwrap();
    let long = db.store.add_form(shop, &form("long")).await.unwrap();
    let short = db.store.add_form(shop, &form("short")).await.unwrap();

    db.store.book_form(shop, long, one).await.unwrap();
    let refused = db.store.book_form(shop, long, two).await;
    assert!(matches!(refused, Err(StoreError::Booked)));
    assert!(matches!(db.store.remove_form(shop, long).await, Err(StoreError::Booked)));

    // Booking another lets go of the first.
    db.store.book_form(shop, short, one).await.unwrap();
    db.store.book_form(shop, long, two).await.unwrap();
    db.store.release_form(shop, one).await.unwrap();
    let forms = db.store.forms(shop).await.unwrap();
    let of = |id| forms.iter().find(|f| f.id == id).unwrap().booked_by;
    assert_eq!((of(long), of(short)), (Some(two), None));
    db.store.remove_form(shop, short).await.unwrap();
    assert!(matches!(db.store.remove_form(shop, short).await, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn two_tabs_do_not_overwrite_a_form_and_other_shops_do_not_see_it() {
    let db = TestDb::migrated().await;
    let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let other = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let id = db.store.add_form(shop, &form("first")).await.unwrap();
    db.store.save_form(shop, id, 1, &form("second")).await.unwrap();
    let late = db.store.save_form(shop, id, 1, &form("third")).await;
    assert!(matches!(late, Err(StoreError::Stale { expected: 1, current: 2 })));
    assert_eq!(db.store.forms(shop).await.unwrap()[0].form.name, "second");
    assert!(db.store.forms(other).await.unwrap().is_empty());
    let foreign = db.store.save_form(other, id, 2, &form("stolen")).await;
    assert!(matches!(foreign, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn a_photo_is_kept_squared_up_and_removed() {
    let db = TestDb::migrated().await;
    let shop = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let other = db.store.create_workshop(&plans::workshop(8, 18)).await.unwrap();
    let cast = db.store.create_cast(shop, &plans::river_top("x"), plans::now()).await.unwrap();
    let new = NewPhoto { jpeg: vec![1, 2, 3], width: 40, height: 30, sha256: "ab".repeat(32) };
    let id = db.store.add_photo(shop, cast, &new, plans::now()).await.unwrap();
    assert!(db.store.add_photo(other, cast, &new, plans::now()).await.is_err());
    assert_eq!(db.store.picture(shop, cast, id, Picture::Photo).await.unwrap(), [1, 2, 3]);
    let unsquared = db.store.picture(shop, cast, id, Picture::Squared).await;
    assert!(matches!(unsquared, Err(StoreError::NotFound(_))));

    let corner = |x_px, y_px| Pixel { x_px, y_px };
    let squaring = Squaring {
        corners: [corner(0.1, 0.2), corner(39.0, 0.0), corner(39.5, 29.0), corner(0.0, 29.9)],
        length: Length::from_mm(1220.0),
        width: Length::from_mm(620.0),
        pixels_per_m: 1000.0,
        check: Some(KnownLength {
            ends: [corner(3.0, 4.0), corner(30.0, 20.0)],
            length: Length::from_mm(800.0),
        }),
    };
    db.store.square_photo(cast, id, &squaring, vec![9]).await.unwrap();
    let photos = db.store.photos(cast).await.unwrap();
    assert_eq!(photos[0].squaring.as_ref(), Some(&squaring));
    assert_eq!(db.store.picture(shop, cast, id, Picture::Squared).await.unwrap(), [9]);
    assert!(db.store.picture(other, cast, id, Picture::Photo).await.is_err());
    db.store.remove_photo(cast, id).await.unwrap();
    assert!(db.store.photos(cast).await.unwrap().is_empty());
}

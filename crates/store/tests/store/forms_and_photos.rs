//! Forms that a shop has, and photos of its casts.

use fondant_quantities::Length;
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_shapes::geometry::homography::Pixel;
use fondant_shapes::picture::squaring::{KnownLength, Squaring};
use fondant_store::StoreError;
use fondant_store::repos::{NewPhoto, Picture, Shows};
use fondant_testkit::documents;

use crate::{alone, another_shop, cast, shop};

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
    let (db, shop) = shop().await;
    let (one, two) = (cast(&db, shop, "one").await, cast(&db, shop, "two").await);
    let add = async |name| alone(&db, async |kept| kept.add_form(shop, &form(name)).await).await;
    let (long, short) = (add("long").await.unwrap(), add("short").await.unwrap());
    let book =
        async |form, cast| alone(&db, async |kept| kept.book_form(shop, form, cast).await).await;
    let remove = async |form| alone(&db, async |kept| kept.remove_form(shop, form).await).await;

    book(long, one).await.unwrap();
    assert!(matches!(book(long, two).await, Err(StoreError::Booked)));
    assert!(matches!(remove(long).await, Err(StoreError::Booked)));

    // Booking another lets go of the first.
    book(short, one).await.unwrap();
    book(long, two).await.unwrap();
    alone(&db, async |kept| kept.release_form(shop, one).await).await.unwrap();
    let forms = db.store.read().forms(shop).await.unwrap().all;
    let of = |id| {
        let form = forms.iter().find(|form| form.id == id).unwrap();
        form.booked_by.as_ref().map(|by| (by.cast, by.name.clone()))
    };
    assert_eq!((of(long), of(short)), (Some((two, "two".into())), None));
    remove(short).await.unwrap();
    assert!(matches!(remove(short).await, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn two_tabs_do_not_overwrite_a_form_and_other_shops_do_not_see_it() {
    let (db, shop) = shop().await;
    let other = another_shop(&db).await;
    let id = alone(&db, async |kept| kept.add_form(shop, &form("first")).await).await.unwrap();
    let save = async |workshop, expected, name| {
        alone(&db, async |kept| kept.save_form(workshop, id, expected, &form(name)).await).await
    };
    save(shop, 1, "second").await.unwrap();
    let late = save(shop, 1, "third").await;
    assert!(matches!(late, Err(StoreError::Stale { expected: 1, current: 2 })));
    assert_eq!(db.store.read().forms(shop).await.unwrap().all[0].form.name, "second");
    assert!(db.store.read().forms(other).await.unwrap().all.is_empty());
    let foreign = save(other, 2, "stolen").await;
    assert!(matches!(foreign, Err(StoreError::NotFound(_))));
}

#[tokio::test]
async fn a_photo_is_kept_squared_up_and_removed() {
    let (db, shop) = shop().await;
    let other = another_shop(&db).await;
    let (cast, now) = (cast(&db, shop, "x").await, documents::now());
    let new = NewPhoto {
        jpeg: vec![1, 2, 3],
        width: 40,
        height: 30,
        sha256: "ab".repeat(32),
        shows: Shows::Bench,
    };
    let id = alone(&db, async |kept| kept.add_photo(cast, &new, now).await).await.unwrap();
    let read = db.store.read();
    assert_eq!(read.picture(shop, cast, id, Picture::Photo).await.unwrap(), [1, 2, 3]);
    let unsquared = read.picture(shop, cast, id, Picture::Squared).await;
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
    let square = async |workshop| {
        alone(&db, async |kept| kept.square_photo(workshop, cast, id, &squaring, vec![9]).await)
            .await
    };
    assert!(matches!(square(other).await, Err(StoreError::NotFound(_))));
    square(shop).await.unwrap();
    let photos = read.photos(shop, cast).await.unwrap();
    assert_eq!(photos[0].squaring.as_ref(), Some(&squaring));
    assert_eq!(read.picture(shop, cast, id, Picture::Squared).await.unwrap(), [9]);
    assert!(read.picture(other, cast, id, Picture::Photo).await.is_err());
    let remove =
        async |workshop| alone(&db, async |kept| kept.remove_photo(workshop, cast, id).await).await;
    assert!(remove(other).await.is_err());
    remove(shop).await.unwrap();
    assert!(read.photos(shop, cast).await.unwrap().is_empty());
}

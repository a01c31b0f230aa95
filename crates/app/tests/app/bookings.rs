//! Forms and the casts that book them.

use fondant_app::forms::{self, Booking};
use fondant_app::records::{CastId, FormId};
use fondant_app::{AppError, Request};
use fondant_quantities::Length;
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_testkit::TestApp;

use crate::app;

pub(crate) async fn form(app: &TestApp, name: &str) -> FormId {
    let mm = Length::from_mm;
    let form = OwnedForm {
        name: name.into(),
        kind: OwnedKind::SheetForm,
        length: mm(1600.0),
        width: mm(800.0),
        height: mm(60.0),
        cavities: 1,
        condition: Condition::Ready,
    };
    forms::add(&app.app, &app.shop().await, &form, &Request::default()).await.unwrap()
}

async fn booked(app: &TestApp) -> Vec<(FormId, CastId)> {
    let all = forms::all(&app.app, &app.shop().await).await.unwrap().all;
    all.iter().filter_map(|form| Some((form.id, form.booked_by.as_ref()?.cast))).collect()
}

/// "One cast booking two forms at once ends with none in 24 of 50."
#[tokio::test]
async fn one_cast_that_books_two_forms_at_once_has_one() {
    let app = app().await;
    let cast = app.cast("Greedy").await;
    let (one, two) = (form(&app, "one").await, form(&app, "two").await);
    for _ in 0..25 {
        let book = |form| {
            let app = app.app.clone();
            tokio::spawn(async move { forms::book(&app, cast, Booking::Take(form)).await })
        };
        let (first, second) = (book(one), book(two));
        first.await.unwrap().unwrap();
        second.await.unwrap().unwrap();
        assert_eq!(booked(&app).await.len(), 1);
    }
    forms::book(&app.app, cast, Booking::LetGo).await.unwrap();
    assert!(booked(&app).await.is_empty());
}

/// "Booking is two statements": one that is refused has let go of nothing.
#[tokio::test]
async fn a_form_that_another_has_leaves_the_own_booking_as_it_is() {
    let app = app().await;
    let (mine, theirs) = (app.cast("Mine").await, app.cast("Theirs").await);
    let (one, two) = (form(&app, "one").await, form(&app, "two").await);
    forms::book(&app.app, mine, Booking::Take(one)).await.unwrap();
    forms::book(&app.app, theirs, Booking::Take(two)).await.unwrap();
    let refused = forms::book(&app.app, mine, Booking::Take(two)).await;
    assert!(matches!(refused, Err(AppError::Booked)));
    let gone = forms::book(&app.app, mine, Booking::Take(FormId(99_999))).await;
    assert!(matches!(gone, Err(AppError::NotFound(_))));
    let mut all = booked(&app).await;
    all.sort_by_key(|(form, _)| form.0);
    assert_eq!(all, [(one, mine), (two, theirs)]);
}

#[tokio::test]
async fn the_same_form_sent_twice_is_added_once() {
    let app = app().await;
    let (shop, key) = (app.shop().await, Request::new_key().unwrap());
    let new = OwnedForm {
        name: "Twice".into(),
        kind: OwnedKind::Mould,
        length: Length::from_mm(200.0),
        width: Length::from_mm(100.0),
        height: Length::from_mm(40.0),
        cavities: 4,
        condition: Condition::Ready,
    };
    let add = || {
        let (app, shop, new, request) =
            (app.app.clone(), shop.clone(), new.clone(), Request::keyed(Some(&key)));
        tokio::spawn(async move { forms::add(&app, &shop, &new, &request).await.unwrap() })
    };
    let (first, second) = (add(), add());
    assert_eq!(first.await.unwrap(), second.await.unwrap());
    assert_eq!(forms::all(&app.app, &shop).await.unwrap().all.len(), 1);
}

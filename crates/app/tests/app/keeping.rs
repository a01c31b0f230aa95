//! Casts renamed, copied, put away, deleted and brought back; found by state and by word.

use fondant_app::forms::{self, Booking};
use fondant_app::records::{Asked, BROUGHT_BACK_WITHIN, CastId, CastState, Counts, Keep, Listed};
use fondant_app::{AppError, Request, casts};
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::bookings::form;
use crate::{app, edit, taken};

async fn names(app: &TestApp, listed: Listed, words: &str) -> Vec<String> {
    let asked = Asked { listed, words: words.into(), after: None };
    let page = casts::list(&app.app, &app.shop().await, &asked).await.unwrap();
    page.casts.into_iter().map(|cast| cast.name).collect()
}

async fn keep(app: &TestApp, cast: CastId, to: Keep) -> Result<(), AppError> {
    casts::keep(&app.app, &app.shop().await, cast, to).await
}

async fn due(app: &TestApp) -> usize {
    app.app.agendas(&app.shop().await, documents::now()).await.unwrap().len()
}

#[tokio::test]
async fn a_cast_goes_through_its_states_as_its_plan_does() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    app.cast("Only thought of").await;
    let agenda = app.app.agendas(&app.shop().await, documents::now()).await.unwrap();
    let agenda = &agenda[0].agenda;
    let (first, last) = (agenda.pours.first().unwrap().at, agenda.pours.last().unwrap().done);
    let second = SignedDuration::from_secs(1);
    for (now, state) in [
        (first - second, CastState::Planning),
        (first, CastState::Pouring),
        (last - second, CastState::Pouring),
        (last + second, CastState::Curing),
        (agenda.hard - second, CastState::Curing),
        (agenda.hard + second, CastState::Done),
    ] {
        app.set_now(now);
        for listed in CastState::ALL {
            let has = names(&app, Listed::Of(listed), "").await.iter().any(|name| name == "Taken");
            assert_eq!(has, listed == state, "{listed:?} at {now}, {state:?}");
        }
        let counts = casts::counts(&app.app, &app.shop().await).await.unwrap();
        assert_eq!(counts.of.iter().sum::<u64>(), 2);
        assert!(counts.of[CastState::ALL.iter().position(|s| *s == state).unwrap()] >= 1);
    }
    keep(&app, cast, Keep::PutAway).await.unwrap();
    let counts = casts::counts(&app.app, &app.shop().await).await.unwrap();
    assert_eq!(counts, Counts { of: [1, 0, 0, 0], put_away: 1, deleted: 0 });
}

#[tokio::test]
async fn what_is_put_away_or_deleted_asks_nothing_of_the_shop_until_it_is_back() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    let form = form(&app, "One").await;
    for place in [Keep::PutAway, Keep::Deleted] {
        forms::book(&app.app, cast, Booking::Take(form)).await.unwrap();
        assert_eq!(due(&app).await, 1);
        keep(&app, cast, place).await.unwrap();
        assert_eq!((due(&app).await, names(&app, Listed::Open, "").await.len()), (0, 0));
        let forms = forms::all(&app.app, &app.shop().await).await.unwrap().all;
        assert!(forms[0].booked_by.is_none(), "{place:?} lets go of its form");
        keep(&app, cast, Keep::Open).await.unwrap();
        assert_eq!((due(&app).await, names(&app, Listed::Open, "").await.len()), (1, 1));
    }
}

#[tokio::test]
async fn a_deleted_cast_is_not_found_and_after_thirty_days_gone() {
    let app = app().await;
    let cast = app.cast("Wrong one").await;
    keep(&app, cast, Keep::PutAway).await.unwrap();
    keep(&app, cast, Keep::Deleted).await.unwrap();
    assert!(matches!(casts::open(&app.app, cast).await, Err(AppError::NotFound(_))));
    let change = edit(&app, cast, 1, |document| document.name = "Mine".into()).await;
    assert!(matches!(change, Err(AppError::NotFound(_))), "{change:?}");
    assert_eq!(names(&app, Listed::Deleted, "").await, ["Wrong one"]);
    // It was put away when it was deleted, and is again.
    keep(&app, cast, Keep::Open).await.unwrap();
    assert_eq!(names(&app, Listed::PutAway, "").await, ["Wrong one"]);
    keep(&app, cast, Keep::Deleted).await.unwrap();

    let (now, minute) = (documents::now(), SignedDuration::from_mins(1));
    let forget = async || {
        let transaction = app.db.store.begin().await.unwrap();
        let gone = transaction.forget_deleted_casts(app.app.now()).await.unwrap();
        transaction.commit().await.unwrap();
        gone
    };
    app.set_now(now + BROUGHT_BACK_WITHIN - minute);
    assert_eq!(forget().await, 0);
    app.set_now(now + BROUGHT_BACK_WITHIN + minute);
    assert_eq!(forget().await, 1);
    assert!(matches!(keep(&app, cast, Keep::Open).await, Err(AppError::NotFound(_))));
}

#[tokio::test]
async fn words_are_found_in_name_resin_and_finish_and_mean_nothing_else() {
    let app = app().await;
    for (name, finish) in [("Oak 100% top", "oil"), ("Ash_box", "high gloss"), ("Elm", "oil")] {
        let mut document = documents::river_top(name);
        document.brief.finish = finish.into();
        app.create(&document).await;
    }
    for (words, found) in [
        ("oak", vec!["Oak 100% top"]),
        ("OIL", vec!["Elm", "Oak 100% top"]),
        ("oil elm", vec!["Elm"]),
        ("%", vec!["Oak 100% top"]),
        ("_", vec!["Ash_box"]),
        ("\\", vec![]),
        ("' or 1=1 --", vec![]),
        ("slow-casting", vec!["Elm", "Ash_box", "Oak 100% top"]),
    ] {
        let mut names = names(&app, Listed::Open, words).await;
        names.sort();
        let mut found = found.iter().map(ToString::to_string).collect::<Vec<_>>();
        found.sort();
        assert_eq!(names, found, "{words}");
    }
}

#[tokio::test]
async fn a_copy_has_the_piece_and_not_the_plan_and_is_begun_once() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    let request = Request::keyed(Some("copy-once"));
    let copy = async || {
        let rename = |document: &mut fondant_cast::Document| document.name += ", copy";
        casts::copy(&app.app, cast, &request, rename).await.unwrap()
    };
    let (one, again) = (copy().await, copy().await);
    assert_eq!(one, again);
    let (original, copy) = (app.document(cast).await, app.document(one).await);
    assert!(!original.pours.taken.is_empty() && copy.pours.taken.is_empty());
    assert_eq!((copy.name.as_str(), &copy.contents), ("Taken, copy", &original.contents));
}

#[tokio::test]
async fn two_who_rename_a_cast_do_not_overwrite_each_other() {
    let app = app().await;
    let cast = app.cast("Top").await;
    casts::rename(&app.app, cast, 1, "Mine".into()).await.unwrap();
    let theirs = casts::rename(&app.app, cast, 1, "Theirs".into()).await;
    assert!(matches!(theirs, Err(AppError::Stale { .. })), "{theirs:?}");
    assert_eq!(names(&app, Listed::Open, "").await, ["Mine"]);
}

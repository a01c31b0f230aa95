//! Answers beside the pages: assets, health, refused and unknown addresses,
//! a database that does not answer.

mod common;

use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use common::{get, post, post_as, send};
use fondant_cast::Split;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, Mass, Span};
use fondant_testkit::{TestApp, TestDb, plans};

async fn app() -> TestApp {
    TestApp::new(&plans::workshop(8, 18)).await
}

#[tokio::test]
async fn assets_are_typed_tagged_and_asked_for_again_by_their_tag() {
    let app = app().await;
    for (path, kind, kept) in [
        ("/assets/app.css", "text/css", "no-cache"),
        ("/assets/app.js", "text/javascript", "no-cache"),
        ("/assets/favicon.svg", "image/svg+xml", "no-cache"),
        ("/assets/fonts/next.woff2", "font/woff2", "public, max-age=31536000, immutable"),
    ] {
        let first = get(&app, path).await;
        assert_eq!(first.status, StatusCode::OK, "{path}");
        assert!(first.header("content-type").starts_with(kind), "{path}");
        assert_eq!(first.header("cache-control"), kept, "{path}");
        assert_eq!(first.header("x-content-type-options"), "nosniff");
        let again = Request::get(path).header(header::IF_NONE_MATCH, first.header("etag"));
        let again = send(&app, again.body(Body::empty()).unwrap()).await;
        assert_eq!((again.status, again.text.len()), (StatusCode::NOT_MODIFIED, 0), "{path}");
    }
    assert_eq!(get(&app, "/assets/../Cargo.toml").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn pages_are_never_kept_by_the_browser() {
    let app = app().await;
    let cast = app.cast("Fresh").await;
    let page = get(&app, &format!("/casts/{}/piece", cast.0)).await;
    assert_eq!(page.header("cache-control"), "no-store");
}

#[tokio::test]
async fn the_front_door_and_a_cast_without_a_station_lead_on() {
    let app = app().await;
    let cast = app.cast("Led on").await;
    let front = get(&app, "/").await;
    assert_eq!((front.status, front.header("location")), (StatusCode::SEE_OTHER, "/today"));
    let cast_page = get(&app, &format!("/casts/{}", cast.0)).await;
    assert_eq!(cast_page.header("location"), format!("/casts/{}/piece", cast.0));
}

#[tokio::test]
async fn steps_that_are_none_and_changes_without_a_revision_are_refused() {
    let app = app().await;
    let cast = app.cast("Steps").await;
    let heat = format!("/casts/{}/heat", cast.0);
    let sideways = post(&app, &format!("{heat}/sideways"), &[("revision", "1")]).await;
    assert_eq!(sideways.status, StatusCode::NOT_FOUND);
    let nameless = post(&app, &heat, &[("air", "22"), ("resin", "22")]).await;
    assert_eq!(nameless.status, StatusCode::BAD_REQUEST);
    assert!(nameless.text.contains("That form could not be read"));
    let stale = post(&app, &format!("{heat}/undo"), &[("revision", "9")]).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert!(stale.text.contains("changed in another tab"));
}

#[tokio::test]
async fn a_fault_that_htmx_asked_for_takes_the_whole_page() {
    let app = app().await;
    let lost = post(&app, "/casts/999/heat", &[("revision", "1")]).await;
    assert_eq!(lost.status, StatusCode::NOT_FOUND);
    assert_eq!((lost.header("hx-retarget"), lost.header("hx-reswap")), ("body", "innerHTML"));
}

#[tokio::test]
async fn the_section_stays_where_it_is_cut_when_the_plan_changes() {
    let app = app().await;
    let cast = app.cast("Cut").await;
    let timber = format!("/casts/{}/timber?section=3", cast.0);
    let page = get(&app, &timber).await;
    assert!(page.text.contains("Section at station 3, 1000\u{202f}mm from the left end"));
    assert!(page.text.contains(&format!("hx-post=\"{timber}\"")));
    let unknown = get(&app, &format!("/casts/{}/timber?section=99", cast.0)).await;
    assert!(unknown.text.contains("Section at station 2, "), "the widest");
}

#[tokio::test]
async fn a_shop_that_thinks_in_inches_reads_and_shows_them() {
    let mut workshop = plans::workshop(8, 18);
    workshop.units = UnitSystem::UsCustomary;
    let app = TestApp::new(&workshop).await;
    let cast = app.cast("Inches").await;
    let form = format!("/casts/{}/form", cast.0);
    let changed =
        post(&app, &form, &common::form_fields(&[("base_gap", "1/8"), ("overfill", "2 mm")])).await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.text);
    let kept = app.db.store.cast(app.workshop, cast).await.unwrap().plan.form;
    assert!((kept.base_gap.mm() - 3.175).abs() < 1e-9);
    assert!((kept.overfill.mm() - 2.0).abs() < 1e-9);
    assert!(changed.text.contains("1/8\u{202f}in over the whole inside of the form"));
    assert!(changed.text.contains("gal") && changed.text.contains("lb"));
    let heat = get(&app, &format!("/casts/{}/heat", cast.0)).await;
    assert!(heat.text.contains("68 °F") && heat.text.contains("18–27\u{202f}°F"));
    let refused = post(
        &app,
        &form,
        &[("revision", "2"), ("base_gap", "3"), ("overfill", "0"), ("residue", "3")],
    );
    assert!(
        refused
            .await
            .text
            .contains("Base layer must be between 0 in and 0.5 in; 3 in is too much.")
    );
}

#[tokio::test]
async fn another_resin_is_chosen_and_compared() {
    let app = app().await;
    let cast = app.cast("Resins").await;
    let path = format!("/casts/{}/resin", cast.0);
    let page = get(&app, &path).await;
    for resin in ["slow casting epoxy", "medium casting epoxy", "coating epoxy"] {
        assert!(page.text.contains(resin), "{resin}");
    }
    let chosen =
        post_as(&app, &path, &[("revision", "1"), ("resin", "coating-epoxy")], false).await;
    assert_eq!(chosen.status, StatusCode::SEE_OTHER);
    let plan = app.db.store.cast(app.workshop, cast).await.unwrap().plan;
    assert_eq!(plan.resin.0, "coating-epoxy");
}

#[tokio::test]
async fn without_its_database_fondant_says_so_and_blames_nobody() {
    let mut app = app().await;
    assert_eq!(get(&app, "/health").await.text, "ok");
    // A database without tables fails every question about them.
    app.db = TestDb::empty().await;
    let answer = get(&app, "/casts").await;
    assert_eq!(answer.status, StatusCode::SERVICE_UNAVAILABLE);
    assert!(answer.text.contains("The records cannot be reached"));
}

#[tokio::test]
async fn figures_at_the_ends_of_their_range_break_nothing() {
    let app = app().await;
    let cast = app.cast("Ends").await;
    let last = i32::MAX.to_string();
    let shop = common::shop_fields(&[("revision", last.as_str())]);
    assert_eq!(post_as(&app, "/shop", &shop, false).await.status, StatusCode::CONFLICT);
    let pours = format!("/casts/{}/pours", cast.0);
    for year in ["0001", "1999", "9998"] {
        let moment = format!("{year}-06-15T08:00");
        let form = [("revision", "1"), ("not_before", moment.as_str()), ("sanding", "60")];
        let refused = post(&app, &pours, &form).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{year}");
        assert!(refused.text.contains("not_before-refusal"), "said at its field");
        assert!(refused.text.contains("Pours are planned from 2000 to 2199"));
    }
}

#[tokio::test]
async fn where_windows_open_later_is_told_where_a_river_narrows() {
    let app = app().await;
    let said = "windows open up to";
    let mut plan = plans::river_top("Narrows");
    plan.river.stations[0].width = Length::from_mm(60.0);
    plan.pours.split = Split::Equal { count: 2 };
    let narrows = app.db.store.create_cast(app.workshop, &plan, plans::now()).await.unwrap();
    let page = get(&app, &format!("/casts/{}/pours", narrows.0)).await.text;
    assert!(page.contains(said) && page.contains("Reckoned where it is widest"));
    for station in &mut plan.river.stations {
        station.width = Length::from_mm(200.0);
    }
    let straight = app.db.store.create_cast(app.workshop, &plan, plans::now()).await.unwrap();
    assert!(!get(&app, &format!("/casts/{}/pours", straight.0)).await.text.contains(said));
}

#[tokio::test]
async fn a_bucket_that_would_thicken_first_is_told_of() {
    let mut shop = plans::workshop(8, 18);
    (shop.shop.mixing_takes, shop.shop.pouring_takes) = (Span::from_h(0.5), Span::from_h(0.5));
    let app = TestApp::new(&shop).await;
    let mut plan = plans::river_top("Fast");
    plan.resin = shipped::all().into_iter().find(|r| r.class == ResinClass::Coating).unwrap().id;
    plan.conditions.bucket = Mass::from_kg(12.0);
    let cast = app.db.store.create_cast(app.workshop, &plan, plans::now()).await.unwrap();
    let page = get(&app, &format!("/casts/{}/pours", cast.0)).await.text;
    assert!(page.contains("is too thick after"), "{page}");
    let heat = get(&app, &format!("/casts/{}/heat", cast.0)).await.text;
    assert!(heat.contains("bucket-offered") && heat.contains("The shop has 2 kg"));
}

//! Answers beside the pages: assets, health, refused and unknown addresses,
//! a database that does not answer.

use crate::common::{get, post, post_as, send, send_to};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use axum::{Router, routing};
use fondant_app::shelf;
use fondant_cast::document::Split;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, Mass, Span};
use fondant_testkit::{TestApp, documents};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// The addresses of styles, scripts, fonts and icons that a page names.
pub(crate) fn assets_of(page: &str) -> Vec<String> {
    let mut all: Vec<String> =
        page.split('"').filter(|text| text.starts_with("/assets/")).map(str::to_owned).collect();
    all.sort();
    all.dedup();
    all
}

#[tokio::test]
async fn assets_have_their_fingerprint_in_their_address_and_are_kept_for_good() {
    let app = app().await;
    let cast = app.cast("Assets").await;
    let page = get(&app, &format!("/casts/{}/timber", cast.0)).await.text;
    let assets = assets_of(&page);
    for (start, end, kind) in [
        ("/assets/app.", ".css", "text/css"),
        ("/assets/editor.", ".js", "text/javascript"),
        ("/assets/favicon.", ".svg", "image/svg+xml"),
        ("/assets/fonts/next-", ".woff2", "font/woff2"),
    ] {
        let is_it = |path: &&String| path.starts_with(start) && path.ends_with(end);
        let path = assets.iter().find(is_it).expect(start);
        let answer = get(&app, path).await;
        assert_eq!(answer.status, StatusCode::OK, "{path}");
        assert!(answer.header("content-type").starts_with(kind), "{path}");
        assert!(answer.header("cache-control").contains("immutable"), "{path}");
        assert_eq!(answer.header("x-content-type-options"), "nosniff");
    }
    assert_eq!(get(&app, "/assets/../Cargo.toml").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn assets_are_compressed_where_the_browser_takes_it() {
    let app = app().await;
    let page = get(&app, "/today").await.text;
    let style = assets_of(&page).into_iter().find(|path| path.ends_with(".css")).expect("a style");
    let request = Request::get(&style).header(header::ACCEPT_ENCODING, "br").body(Body::empty());
    let answer = send(&app, request.unwrap()).await;
    assert_eq!(answer.header("content-encoding"), "br");
}

/// The policy names the map by its hash: were it another, no script that imports would run.
#[tokio::test]
async fn the_policy_of_a_page_allows_its_import_map() {
    use base64::Engine;
    use sha2::{Digest, Sha256};
    let app = app().await;
    let page = get(&app, "/casts").await;
    let (_, from) = page.text.split_once("<script type=\"importmap\">").expect("a map");
    let (map, _) = from.split_once("</script>").expect("its end");
    assert!(map.contains("\"fondant/drawing\":\"/assets/drawing."), "{map}");
    let hash = base64::engine::general_purpose::STANDARD.encode(Sha256::digest(map.as_bytes()));
    let policy = page.header("content-security-policy");
    assert!(policy.contains(&format!("'sha256-{hash}'")), "{policy}");
}

/// Alpine's 72 kB are not worth their way to pages without a component.
#[tokio::test]
async fn scripts_are_loaded_only_on_the_pages_that_use_them() {
    let app = app().await;
    let cast = app.cast("Scripts").await;
    let scripts = async |path: &str| {
        let page = get(&app, path).await.text;
        let all = assets_of(
            &page.replace("<script type=\"importmap\">", "<!--").replace("}}</script>", "-->"),
        );
        let named = all.into_iter().filter(|path| path.contains(".js"));
        named.map(|path| path.trim_start_matches("/assets/").to_owned()).collect::<Vec<_>>()
    };
    let has = |all: &[String], name: &str| all.iter().any(|script| script.starts_with(name));
    let list = scripts("/casts").await;
    assert!(!has(&list, "alpine") && has(&list, "htmx") && has(&list, "app."), "{list:?}");
    let forms = scripts("/forms").await;
    assert!(!has(&forms, "alpine") && !has(&forms, "htmx") && has(&forms, "app."), "{forms:?}");
    let timber = scripts(&format!("/casts/{}/timber", cast.0)).await;
    assert!(has(&timber, "alpine") && has(&timber, "rows") && has(&timber, "editor"), "{timber:?}");
    let heat = scripts(&format!("/casts/{}/heat", cast.0)).await;
    assert!(has(&heat, "heat") && !has(&heat, "alpine") && !has(&heat, "editor"), "{heat:?}");
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
    assert!(nameless.text.contains("The form arrived damaged"));
    let stale = post(&app, &format!("{heat}/undo"), &[("revision", "9")]).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert!(stale.text.contains("changed in another tab"));
}

#[tokio::test]
async fn an_error_of_a_fragment_is_a_sentence_and_leaves_the_page_as_it_is() {
    let app = app().await;
    let lost = post(&app, "/casts/999/heat", &[("revision", "1")]).await;
    assert_eq!(lost.status, StatusCode::NOT_FOUND);
    assert_eq!(lost.header("hx-reswap"), "none");
    assert!(lost.header("content-type").starts_with("text/plain") && !lost.text.contains('<'));
    let page = post_as(&app, "/casts/999/heat", &[("revision", "1")], false).await;
    assert_eq!(page.status, StatusCode::NOT_FOUND);
    assert!(page.text.contains("<h1>Nothing here</h1>"), "{}", page.text);
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
    let mut workshop = documents::workshop(8, 18);
    workshop.units = UnitSystem::UsCustomary;
    let app = TestApp::new(&workshop).await;
    let cast = app.cast("Inches").await;
    let form = format!("/casts/{}/form", cast.0);
    let changed = post(
        &app,
        &form,
        &crate::common::form_fields(&[("base_gap", "1/8"), ("overfill", "2 mm")]),
    )
    .await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.text);
    let kept = app.document(cast).await;
    assert!((documents::river(&mut kept.clone()).base_gap.mm() - 3.175).abs() < 1e-9);
    assert!((kept.form.overfill.mm() - 2.0).abs() < 1e-9);
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
    let plan = app.document(cast).await;
    assert_eq!(plan.resin.0, "coating-epoxy");
}

/// A cast whose resin was put away had none chosen at Resin, and every change there was refused: there is
/// no resin called “”.
#[tokio::test]
async fn a_resin_that_is_put_away_stays_that_of_its_casts() {
    let app = app().await;
    let cast = app.cast("Of what is left").await;
    let shop = app.app.shop().await.unwrap();
    shelf::put_away(&app.app, &shop, shipped::SLOW_CASTING, 0).await.expect("it is put away");
    let path = format!("/casts/{}/resin", cast.0);
    let page = get(&app, &path).await.text;
    let chosen = "id=\"resin-slow-casting-epoxy\" checked";
    assert!(page.contains(chosen) && page.contains("Put away on the shelf"), "{page}");
    let coloured = [
        ("revision", "1"),
        ("recipe", "1"),
        ("tint", "0"),
        ("tint_name-0", "lagoon blue"),
        ("tint_percent-0", "0.3"),
    ];
    let answer = post(&app, &path, &coloured).await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    let document = app.document(cast).await;
    assert_eq!(document.recipe.colours.len(), 1);
    assert_eq!(document.resin.0, shipped::SLOW_CASTING);
    // A new one begins with what is offered, and another cast is not offered what is put away.
    let form = [("kind", "river"), ("name", "Next"), ("length", "1 m"), ("width", "500")];
    let form = [&form[..], &[("thickness", "30"), ("trim_margin", "10")]].concat();
    let begun = post_as(&app, "/casts", &form, false).await;
    let next = begun.header("location").replace("/timber", "/resin");
    let page = get(&app, &next).await.text;
    assert!(page.contains("name=\"resin\"") && !page.contains("resin-slow-casting-epoxy"));
    assert_eq!(page.matches(" checked").count(), 1, "{page}");
}

#[tokio::test]
async fn figures_at_the_ends_of_their_range_break_nothing() {
    let app = app().await;
    let cast = app.cast("Ends").await;
    let last = i32::MAX.to_string();
    let shop = crate::common::shop_fields(&[("revision", last.as_str())]);
    assert_eq!(post_as(&app, "/shop", &shop, false).await.status, StatusCode::CONFLICT);
    let pours = format!("/casts/{}/pours", cast.0);
    for year in ["0001", "1999", "9998"] {
        let moment = format!("{year}-06-15T08:00");
        let form = [("revision", "1"), ("not_before", moment.as_str()), ("sanding", "60")];
        let refused = post(&app, &pours, &form).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{year}");
        assert!(refused.text.contains("not_before-refusal"), "said at its field");
        assert!(refused.text.contains("beyond what is planned"));
    }
}

#[tokio::test]
async fn where_windows_open_later_is_told_where_a_river_narrows() {
    let app = app().await;
    let said = "window opens up to";
    let mut plan = documents::river_top("Narrows");
    plan.contents.river_mut().unwrap().stations[0].width = Length::from_mm(60.0);
    plan.pours.split = Split::Equal { count: 2 };
    let narrows = app.create(&plan).await;
    let page = get(&app, &format!("/casts/{}/pours", narrows.0)).await.text;
    assert!(page.contains(said) && page.contains("Based on the widest place"));
    for station in &mut plan.contents.river_mut().unwrap().stations {
        station.width = Length::from_mm(200.0);
    }
    let straight = app.create(&plan).await;
    assert!(!get(&app, &format!("/casts/{}/pours", straight.0)).await.text.contains(said));
}

#[tokio::test]
async fn a_bucket_that_would_thicken_first_is_told_of() {
    let mut shop = documents::workshop(8, 18);
    (shop.shop.mixing_takes, shop.shop.pouring_takes) = (Span::from_h(0.5), Span::from_h(0.5));
    let app = TestApp::new(&shop).await;
    let mut plan = documents::river_top("Fast");
    plan.resin =
        shipped::all().into_iter().find(|r| r.class == ResinClass::Coating).unwrap().id.clone();
    plan.conditions.bucket = Mass::from_kg(12.0);
    let cast = app.create(&plan).await;
    let page = get(&app, &format!("/casts/{}/pours", cast.0)).await.text;
    assert!(page.contains("is too thick after"), "{page}");
    let heat = get(&app, &format!("/casts/{}/heat", cast.0)).await.text;
    assert!(heat.contains("bucket-offered") && heat.contains("The shop has 2 kg"));
}

/// "Panic answers lack the security headers."
#[tokio::test]
async fn the_answer_to_a_panic_is_a_page_with_all_headers_and_an_id() {
    async fn boom() -> &'static str {
        panic!("a secret")
    }
    let web = app().await.web();
    let routes = Router::new().route("/boom", routing::get(boom));
    let service = fondant_web::guarded(routes, &web).with_state(web);
    let asked = Request::get("/boom").body(Body::empty()).expect("a request");
    let answer = send_to(service, asked).await;
    assert_eq!(answer.status, StatusCode::INTERNAL_SERVER_ERROR);
    for name in ["content-security-policy", "x-content-type-options", "x-request-id"] {
        assert!(answer.headers.contains_key(name), "{name}");
    }
    assert!(answer.text.contains("<h1") && !answer.text.contains("secret"), "{}", answer.text);
}

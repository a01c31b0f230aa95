//! Pages and forms through the real router, on a real PostgreSQL.

use crate::answers::assets_of;
use crate::common::{get, post, post_as, send};
use axum::body::{Body, to_bytes};
use axum::http::{Request, StatusCode, header};
use fondant_app::records::CastId;
use fondant_testkit::{TestApp, documents};
use tower::ServiceExt;

/// Names and values of a form's fields.
type Form<'a> = Vec<(&'a str, &'a str)>;

async fn app() -> (TestApp, CastId) {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let cast = app.cast("Hall table").await;
    (app, cast)
}

/// The timber form as it stands, with some fields changed.
fn timber<'a>(changes: &[(&str, &'a str)]) -> Form<'a> {
    let mut form: Form<'_> = vec![
        ("revision", "1"),
        ("board", "0"),
        ("b_timber-0", "ash"),
        ("b_absorbs-0", "100"),
        ("b_thickness-0", "38"),
        ("b_density-0", "650"),
        ("b_moisture-0", "9"),
        ("board", "1"),
        ("b_timber-1", "ash"),
        ("b_absorbs-1", "100"),
        ("b_thickness-1", "38"),
        ("b_density-1", "650"),
        ("b_moisture-1", "9"),
        ("tape", "1"),
    ];
    for (name, value) in changes {
        if let Some(field) = form.iter_mut().find(|(n, _)| n == name) {
            field.1 = value;
        }
    }
    form
}

fn with_stations<'a>(mut form: Form<'a>, rows: &[[&'a str; 3]]) -> Form<'a> {
    for [at, river, wall] in rows {
        form.extend([("at", *at), ("river", *river), ("wall", *wall)]);
    }
    form
}

#[tokio::test]
async fn every_station_shows_its_question_under_a_strict_policy() {
    let (app, cast) = app().await;
    for (station, question) in [
        ("piece", "What will it be when it is done?"),
        ("timber", "Where does the resin run?"),
        ("form", "How much resin, and what for?"),
        ("resin", "Which resin for this cast?"),
        ("heat", "How hot will it get?"),
        ("pours", "When does each layer go in?"),
    ] {
        let page = get(&app, &format!("/casts/{}/{station}", cast.0)).await;
        assert_eq!(page.status, StatusCode::OK, "{station}");
        assert!(page.text.contains(question), "{station}");
        let policy = page.header("content-security-policy");
        assert!(policy.contains("script-src 'self'"), "{policy}");
        assert!(!policy.contains("unsafe"));
        assert!(!page.text.contains(" style=") && !page.text.contains("<script>"), "{station}");
    }
}

#[tokio::test]
async fn a_fragment_is_the_workspace_alone() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/heat", cast.0);
    let form = [("revision", "1"), ("air", "24 °C"), ("resin", "24")];
    let fragment = post(&app, &path, &form).await;
    assert_eq!(fragment.status, StatusCode::OK, "{}", fragment.text);
    assert!(fragment.text.trim_start().starts_with("<main class=\"workspace\""));
    assert!(fragment.text.contains("data-revision=\"2\""));
    assert!((app.document(cast).await.conditions.air.celsius() - 24.0).abs() < 1e-9);
    let redirected =
        post_as(&app, &path, &[("revision", "2"), ("air", "23"), ("resin", "24")], false).await;
    assert_eq!(
        (redirected.status, redirected.header("location")),
        (StatusCode::SEE_OTHER, path.as_str())
    );
}

#[tokio::test]
async fn lengths_are_taken_as_typed_in_any_unit() {
    let (app, cast) = app().await;
    let rows = [["0", "8 1/2 in", ""], ["76 cm", "22,5cm", "25 cm"], ["1.52 m", "190", ""]];
    let form = with_stations(timber(&[("b_thickness-0", "1 1/2 in")]), &rows);
    let answer = post(&app, &format!("/casts/{}/timber", cast.0), &form).await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    let mut document = app.document(cast).await;
    let river = documents::river(&mut document);
    assert!((river.boards[0].thickness.mm() - 38.1).abs() < 1e-9);
    let widths: Vec<f64> = river.stations.iter().map(|s| s.width.mm()).collect();
    assert!((widths[0] - 215.9).abs() < 1e-9 && (widths[1] - 225.0).abs() < 1e-9, "{widths:?}");
    assert!((river.stations[1].from_wall.unwrap().mm() - 250.0).abs() < 1e-9);
    // As typed, with the shop's unit beside.
    assert!(answer.text.contains("value=\"1 1/2 in\"") && answer.text.contains("38.1\u{202f}mm"));
}

/// Each bad entry: its form, the sentence it gets, and what is kept as typed.
#[tokio::test]
async fn bad_stations_get_a_sentence_keep_what_was_typed_and_change_nothing() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/timber", cast.0);
    let before = app.document(cast).await;
    let good = ["1520", "190", ""];
    let cases: [(Vec<[&str; 3]>, &str, &str); 7] = [
        (vec![["0", "", ""], good], "Enter a length", "value=\"0\""),
        (vec![["0", "wide", ""], good], "“wide” is not a length", "value=\"wide\""),
        (vec![["0", "-5", ""], good], "is too little", "value=\"-5\""),
        (vec![["0", "900", ""], good], "wider than the form", "value=\"900\""),
        (vec![["0", "200", ""]], "One width cannot give a mean", "value=\"200\""),
        (
            vec![["800", "200", ""], ["400", "210", ""], good],
            "does not come after",
            "value=\"400\"",
        ),
        (vec![["0", "200", "700"], good], "past the far wall", "value=\"700\""),
    ];
    for (rows, sentence, typed) in cases {
        let answer = post(&app, &path, &with_stations(timber(&[]), &rows)).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{sentence}");
        assert!(answer.text.contains(sentence), "{sentence} in {}", answer.text);
        assert!(answer.text.contains(typed), "{typed}");
        assert!(answer.text.contains("role=\"alert\""));
        assert_eq!(app.document(cast).await, before);
    }
}

#[tokio::test]
async fn figures_out_of_bounds_are_refused_at_their_field() {
    let (app, cast) = app().await;
    let before = app.document(cast).await;
    let rows = [["0", "200", ""], ["1520", "190", ""]];
    let thick = with_stations(timber(&[("b_thickness-1", "10 m")]), &rows);
    let cases: [(&str, Form<'_>, &str); 4] = [
        ("timber", thick, "Board thickness must be between 3 mm and 200 mm; 10000 mm is too much."),
        (
            "heat",
            vec![("revision", "1"), ("air", "-40 °C"), ("resin", "20")],
            "Air temperature must be between 5 °C and 40 °C; -40 °C is too little.",
        ),
        (
            "form",
            vec![("revision", "1"), ("base_gap", "2"), ("overfill", "2"), ("residue", "half")],
            "“half” is not a number.",
        ),
        ("resin", vec![("revision", "1"), ("resin", "treacle")], "no resin called “treacle”"),
    ];
    for (station, form, sentence) in cases {
        let answer = post(&app, &format!("/casts/{}/{station}", cast.0), &form).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{station}");
        assert!(answer.text.contains(sentence), "{station}: {}", answer.text);
        assert_eq!(app.document(cast).await, before);
    }
}

#[tokio::test]
async fn a_name_that_is_far_too_long_is_refused_and_kept_in_the_field() {
    let (app, cast) = app().await;
    let long = "riverine ".repeat(60);
    let form = [
        ("revision", "1"),
        ("name", long.as_str()),
        ("length", "1500"),
        ("width", "760"),
        ("thickness", "34"),
        ("trim_margin", "10"),
    ];
    let answer = post(&app, &format!("/casts/{}/piece", cast.0), &form).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.text.contains("can have 80 characters"));
    assert!(answer.text.contains(long.trim_end()));
    assert_eq!(app.document(cast).await.name, "Hall table");
}

#[tokio::test]
async fn a_shorter_form_offers_to_move_the_stations_in_proportion() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/piece", cast.0);
    let mut form = vec![
        ("revision", "1"),
        ("name", "Hall table"),
        ("length", "1000"),
        ("width", "760"),
        ("thickness", "34"),
        ("trim_margin", "10"),
        ("flattening", "2"),
    ];
    let refused = post(&app, &path, &form).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("lies beyond the form"));
    assert!(refused.text.contains("move the stations in proportion"));
    form.push(("spread", "1"));
    let taken = post(&app, &path, &form).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    let mut document = app.document(cast).await;
    let river = documents::river(&mut document);
    assert!((river.stations[3].at.mm() - 1020.0).abs() < 1e-6);
}

#[tokio::test]
async fn a_stale_tab_is_given_a_choice_and_overwrites_nothing_by_itself() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/heat", cast.0);
    post(&app, &path, &[("revision", "1"), ("air", "25"), ("resin", "25")]).await;
    let mine = [("revision", "1"), ("air", "17"), ("resin", "17")];
    let stale = post(&app, &path, &mine).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert!(stale.text.contains("changed in another tab"));
    assert!(stale.text.contains("value=\"17\""), "what was typed is still there");
    assert!(stale.text.contains("data-revision=\"1\""), "a further change is stale as well");
    assert!((app.document(cast).await.conditions.air.celsius() - 25.0).abs() < 1e-9);
    let over = [("revision", "1"), ("over", "2"), ("air", "17"), ("resin", "17")];
    let taken = post(&app, &path, &over).await;
    assert_eq!(taken.status, StatusCode::OK);
    assert!((app.document(cast).await.conditions.air.celsius() - 17.0).abs() < 1e-9);
}

#[tokio::test]
async fn undo_brings_the_figure_back_and_redo_takes_it_again() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/heat", cast.0);
    post(&app, &path, &[("revision", "1"), ("air", "25"), ("resin", "20")]).await;
    let undone = post(&app, &format!("{path}/undo"), &[("revision", "2")]).await;
    assert_eq!(undone.status, StatusCode::OK);
    assert!((app.document(cast).await.conditions.air.celsius() - 20.0).abs() < 1e-9);
    post(&app, &format!("{path}/redo"), &[("revision", "3")]).await;
    assert!((app.document(cast).await.conditions.air.celsius() - 25.0).abs() < 1e-9);
    let nothing = post(&app, &format!("{path}/redo"), &[("revision", "4")]).await;
    assert_eq!(nothing.status, StatusCode::CONFLICT);
    assert!(nothing.text.contains("There is nothing to redo."));
}

#[tokio::test]
async fn what_is_not_there_and_what_is_too_large_get_a_page() {
    let (app, cast) = app().await;
    for path in
        ["/casts/999999/piece", "/casts/xyz/piece", "/casts/1/nothing", "/nowhere", "/assets/x"]
    {
        let answer = get(&app, path).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{path}");
        assert!(answer.text.contains("Nothing here"), "{path}");
    }
    let huge = "9".repeat(1024 * 1024 + 1);
    let answer = post(&app, &format!("/casts/{}/heat", cast.0), &[("air", &huge)]).await;
    assert_eq!(answer.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(answer.text.contains("larger than Fondant accepts"));
}

#[tokio::test]
async fn a_form_from_another_site_is_refused() {
    let (app, cast) = app().await;
    let request = Request::post(format!("/casts/{}/heat", cast.0))
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
        .header("Sec-Fetch-Site", "cross-site")
        .body(Body::from("revision=1&air=25&resin=25"))
        .unwrap();
    assert_eq!(send(&app, request).await.status, StatusCode::FORBIDDEN);
    assert!((app.document(cast).await.conditions.air.celsius() - 20.0).abs() < 1e-9);
}

#[tokio::test]
async fn the_shop_keeps_its_hours_and_refuses_impossible_ones() {
    let (app, cast) = app().await;
    let form = crate::common::shop_fields;
    for (bad, sentence) in [
        (form(&[("day0", "18:00-18:00")]), "does not end after it begins"),
        (form(&[("day0", "18:00-08:00, 20:00-21:00")]), "does not end after it begins"),
        (form(&[("day0", "8 o'clock")]), "is not a stretch of hours"),
        (form(&[("day0", "")]), "The shop is never open"),
        (form(&[("zone", "Middle/Earth")]), "is not a time zone"),
        (form(&[("exceptions", "some day closed")]), "does not begin with a date"),
        (
            form(&[("exceptions", "2026-12-24 closed\n2026-12-24 08:00-09:00")]),
            "stands there twice",
        ),
        (form(&[("hands", "0")]), "between 1"),
        (form(&[("buckets", " ")]), "Name one bucket"),
        (form(&[("humid_care", "90 %")]), "Exchange the two"),
        (form(&[("pot_bar", "40")]), "between 0.5"),
        (form(&[("price_hour", "much")]), "“much” is not a number"),
        (form(&[("air", "points"), ("points", "noon is warm")]), "is not a point of a day"),
        (
            form(&[
                ("air", "daynight"),
                ("coldest", "25"),
                ("warmest", "18"),
                ("warmest_at", "15:00"),
                ("swing_rh", "50"),
            ]),
            "warmer than the warmest",
        ),
    ] {
        let refused = post_as(&app, "/shop", &bad, false).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{sentence}");
        assert!(refused.text.contains(sentence), "{sentence}");
    }
    let good = form(&[
        ("day0", "09:30-12:00"),
        ("exceptions", "2026-12-24 closed"),
        ("price_hour", "42.5"),
    ]);
    let kept = post_as(&app, "/shop", &good, false).await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER);
    let page = get(&app, "/shop").await.text;
    assert!(page.contains("2026-12-24 closed") && page.contains("value=\"42.5\""));
    let pours = get(&app, &format!("/casts/{}/pours", cast.0)).await;
    assert!(pours.text.contains("09:30–12:00 Mon"));
    let stale = post_as(&app, "/shop", &form(&[]), false).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
}

#[tokio::test]
async fn a_window_that_no_shop_hour_falls_in_is_said_with_the_way_out() {
    let app = TestApp::new(&documents::workshop(10, 11)).await;
    let cast = app.cast("One hour a day").await;
    // At 26 °C the base sets within the day, so the same hour tomorrow is too late.
    let heat = format!("/casts/{}/heat", cast.0);
    post(&app, &heat, &[("revision", "1"), ("air", "26"), ("resin", "26")]).await;
    let page = get(&app, &format!("/casts/{}/pours", cast.0)).await;
    assert!(page.text.contains("No pour falls inside shop hours while the base is sticky"));
    assert!(page.text.contains("sand it from"));
    assert!(page.text.contains("after sanding"));
}

#[tokio::test]
async fn a_first_pour_that_has_passed_is_planned_again_from_now() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/pours", cast.0);
    assert!(!get(&app, &path).await.text.contains("has passed"));
    app.set_now("2026-12-20T10:00:00Z".parse().unwrap());
    // What nobody has taken begins with the next hour; what is taken stays.
    assert!(!get(&app, &path).await.text.contains("has passed"));
    app.set_now("2026-11-23T08:00:00Z".parse().unwrap());
    post(&app, &format!("{path}/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    app.set_now("2026-12-20T10:00:00Z".parse().unwrap());
    let page = get(&app, &path).await;
    assert!(page.text.contains("which has passed") && page.text.contains("Plan from now"));
    let form = [
        ("revision", "2"),
        ("not_before", "2026-11-23T09:00"),
        ("sanding", "60 min"),
        ("from_now", "2026-12-20T10:30"),
    ];
    let planned = post(&app, &path, &form).await;
    assert_eq!(planned.status, StatusCode::OK, "{}", planned.text);
    assert!(!planned.text.contains("which has passed"));
}

#[tokio::test]
async fn the_first_page_weighs_less_than_a_quarter_megabyte() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/timber", cast.0);
    let mut all = assets_of(&get(&app, &path).await.text);
    all.push("/assets/fonts/mono-5.3.0.woff2".to_owned());
    all.push(path);
    let mut total = 0;
    for path in all {
        let request = Request::get(&path)
            .header(header::HOST, "localhost:7350")
            .header(header::ACCEPT_ENCODING, "gzip, br");
        let request = request.body(Body::empty()).unwrap();
        let response = app.router().oneshot(request).await.unwrap();
        assert_eq!(response.status(), StatusCode::OK, "{path}");
        total += to_bytes(response.into_body(), 1 << 22).await.unwrap().len();
    }
    assert!(total < 250_000, "{total} bytes");
}

#[tokio::test]
async fn an_empty_shop_says_how_to_begin_and_a_new_cast_opens_at_its_timber() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    assert!(get(&app, "/casts").await.text.contains("No casts yet."));
    let mut form = vec![
        ("name", ""),
        ("length", "1200"),
        ("width", "60 cm"),
        ("thickness", "1 3/8 in"),
        ("trim_margin", "10"),
        ("flattening", "2"),
    ];
    let refused = post_as(&app, "/casts", &form, false).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("The name is empty") && refused.text.contains("1 3/8 in"));
    form[0].1 = "<b>Tea</b> table & tray";
    let made = post_as(&app, "/casts", &form, false).await;
    assert_eq!(made.status, StatusCode::SEE_OTHER);
    assert!(made.header("location").ends_with("/timber"));
    let list = get(&app, "/casts").await;
    assert!(list.text.contains("Tea") && !list.text.contains("<b>Tea</b>"), "names are escaped");
}

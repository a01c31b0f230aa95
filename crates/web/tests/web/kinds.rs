//! Every kind of cast through the real router: begun with a few questions,
//! measured, and refused where it contradicts itself.

use crate::common::{form_fields, get, post, post_as};
use axum::http::StatusCode;
use fondant_app::records::CastId;
use fondant_cast::Kind;
use fondant_quantities::{Length, Temperature};
use fondant_shapes::volume::methods::Method;
use fondant_testkit::{TestApp, documents};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// Begins a cast of a kind with its questions answered as a maker would.
async fn begin(app: &TestApp, kind: Kind) -> CastId {
    let mut form = vec![("kind", kind.slug()), ("name", "A new one")];
    form.extend(match kind {
        Kind::River => {
            vec![("length", "1.2 m"), ("width", "600"), ("thickness", "34"), ("trim_margin", "10")]
        }
        Kind::Inlay => vec![("length", "600"), ("width", "250"), ("thickness", "30")],
        Kind::Block => {
            vec![("length", "280"), ("width", "120"), ("thickness", "45"), ("trim_margin", "3")]
        }
        Kind::Tubes => vec![("length", "75"), ("width", "22"), ("count", "12")],
        Kind::Embed => {
            vec![("length", "90"), ("width", "90"), ("thickness", "110"), ("trim_margin", "5")]
        }
        Kind::Moulds => {
            vec![("length", "100"), ("width", "100"), ("thickness", "10"), ("count", "6")]
        }
        Kind::Coat => vec![("length", "1200"), ("width", "600"), ("thickness", "34")],
    });
    let answer = post_as(app, "/casts", &form, false).await;
    assert_eq!(answer.status, StatusCode::SEE_OTHER, "{kind:?}: {}", answer.text);
    let address = answer.header("location").to_owned();
    let number = address.trim_start_matches("/casts/").trim_end_matches("/timber");
    CastId(number.parse().expect("a number"))
}

#[tokio::test]
async fn every_kind_begins_and_shows_its_net_mass_at_every_station() {
    let app = app().await;
    let kinds = get(&app, "/casts/new").await;
    for kind in Kind::ALL {
        assert!(kinds.text.contains(&format!("/casts/new?kind={}", kind.slug())), "{kind:?}");
        let questions = get(&app, &format!("/casts/new?kind={}", kind.slug())).await;
        assert_eq!(questions.status, StatusCode::OK);
        assert!(questions.text.matches("<input").count() <= 7, "a short start: {kind:?}");
        let cast = begin(&app, kind).await;
        for station in ["piece", "timber", "form", "resin", "heat", "pours"] {
            let page = get(&app, &format!("/casts/{}/{station}", cast.0)).await;
            assert_eq!(page.status, StatusCode::OK, "{kind:?} {station}");
            let mass = page.text.split("id=\"f-mass\"").nth(1).expect("the mass");
            let figure = mass.split("class=\"n\">").nth(1).and_then(|t| t.split('<').next());
            let figure = figure.unwrap_or_default();
            assert!(figure.ends_with('g') && !figure.starts_with('0'), "{kind:?}: {figure}");
        }
    }
    let unknown = get(&app, "/casts/new?kind=treacle").await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_bad_beginning_keeps_what_was_typed() {
    let app = app().await;
    let form = [
        ("kind", "moulds"),
        ("name", ""),
        ("length", "wide"),
        ("width", "100"),
        ("thickness", "10"),
        ("count", "2.5"),
    ];
    let refused = post_as(&app, "/casts", &form, false).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("value=\"wide\"") && refused.text.contains("is not a length"));
    assert!(refused.text.contains("is a whole number"));
    assert!(get(&app, "/casts").await.text.contains("No casts yet."));
}

#[tokio::test]
async fn cavities_come_and_go_and_too_deep_ones_are_refused_at_their_field() {
    let app = app().await;
    let cast = begin(&app, Kind::Inlay).await;
    let path = format!("/casts/{}/timber", cast.0);
    let row = |n: &'static str, depth: &'static str| {
        let name = |field: &str| format!("{field}-{n}");
        vec![
            ("cav".to_owned(), n.to_owned()),
            (name("cav_name"), format!("knot {n}")),
            (name("cav_shape"), "pocket".to_owned()),
            (name("cav_count"), "2".to_owned()),
            (name("cav_length"), "50".to_owned()),
            (name("cav_width"), "20".to_owned()),
            (name("cav_depth"), depth.to_owned()),
        ]
    };
    let send = |rows: Vec<Vec<(String, String)>>| {
        let mut form: Vec<(String, String)> =
            [("revision", "1"), ("absorption", "0"), ("moisture", "9")]
                .map(|(n, v)| (n.to_owned(), v.to_owned()))
                .to_vec();
        form.extend(rows.into_iter().flatten());
        let (app, path) = (&app, &path);
        async move {
            let form: Vec<(&str, &str)> =
                form.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
            post(app, path, &form).await
        }
    };
    let refused = send(vec![row("0", "10"), row("7", "45")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("cav_depth-7-refusal") && refused.text.contains("Cavity 2 is 45")
    );
    let none = send(Vec::new()).await;
    assert!(none.text.contains("There is nothing to fill"));
    let kept = send(vec![row("0", "10"), row("7", "12")]).await;
    assert_eq!(kept.status, StatusCode::OK, "{}", kept.text);
    let cavities = app.document(cast).await.contents.cavities().to_vec();
    assert_eq!(cavities.len(), 2);
    assert!((cavities[1].depth.mm() - 12.0).abs() < 1e-9);
}

#[tokio::test]
async fn a_tube_as_wide_as_its_cavity_is_refused_and_a_blank_is_weighed_net() {
    let app = app().await;
    let cast = begin(&app, Kind::Tubes).await;
    let path = format!("/casts/{}/timber", cast.0);
    let form = |outside: &'static str| {
        [
            ("revision", "1"),
            ("tube_length", "60"),
            ("tube_outside", outside),
            ("plugs", "10"),
            ("label_tube", "9.8"),
            ("paper", "0.2"),
            ("overlap", "2"),
            ("label_trim", "1"),
        ]
    };
    let refused = post(&app, &path, &form("22")).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("as wide as its cavity"));
    let kept = post(&app, &path, &form("10")).await;
    assert_eq!(kept.status, StatusCode::OK);
    // π/4 (22² × 75 − 10² × 70) mm³ × 1.0742 g/mL.
    assert!(kept.text.contains("24.7\u{202f}g"), "{}", kept.text);
    let labels = get(&app, &format!("/casts/{}/labels", cast.0)).await;
    assert_eq!(labels.text.matches("class=\"label\"").count(), 12);
    assert!(labels.text.contains("width=\"210mm\" height=\"297mm\""));
    let svg = get(&app, &format!("/casts/{}/export/labels.svg", cast.0)).await;
    assert_eq!(svg.header("content-type"), "image/svg+xml");
    assert!(svg.text.starts_with("<svg"));
}

#[tokio::test]
async fn kilograms_taken_for_litres_are_caught_by_name() {
    let app = app().await;
    let cast = app.cast("Weighed").await;
    let path = format!("/casts/{}/form", cast.0);
    let litres = post(&app, &path, &form_fields(&[("weighed-0", "14 L")])).await;
    assert_eq!(litres.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(litres.text.contains("Kilograms are not litres"));
    let weighed =
        post(&app, &path, &form_fields(&[("weighed-0", "11 kg"), ("weighed-1", "11 kg")])).await;
    assert_eq!(weighed.status, StatusCode::OK, "{}", weighed.text);
    assert!(weighed.text.contains("taking kilograms for litres would have you mix"));
    // 45.1 L of room less 22 "litres" of timber: the slip itself, typed as a dry fill.
    let room = 1.52 * 0.78 * 38.0;
    let slip = format!("{} L", room - 22.0);
    let fields = [
        ("revision", "2"),
        ("weighed-0", "11 kg"),
        ("weighed-1", "11 kg"),
        ("dry_fill", slip.as_str()),
    ];
    let caught = post(&app, &path, &form_fields(&fields)).await;
    assert!(caught.text.contains("was it worked out"), "{}", caught.text);
    assert!(caught.text.contains("their uncertainties allow"), "the ways disagree");
    // The maker chooses the scale: the figure follows it.
    let chosen =
        [("revision", "3"), ("weighed-0", "11 kg"), ("weighed-1", "11 kg"), ("figure", "weighed")];
    let answer = post(&app, &path, &form_fields(&chosen)).await;
    assert!(answer.text.contains("which the plan uses"), "{}", answer.text);
    let mut document = app.document(cast).await;
    assert_eq!(documents::river(&mut document).checks.figure, Some(Method::Weighed));
}

#[tokio::test]
async fn kits_are_rounded_up_and_their_chance_is_told() {
    let app = app().await;
    let cast = app.cast("Buying").await;
    let form = get(&app, &format!("/casts/{}/form", cast.0)).await.text;
    // 13.6 L of slow resin, sold in kits of 6 L: three. The comparison says the same.
    assert!(form.contains("id=\"buy\">3 kits<"), "{form}");
    assert!(form.contains(" of 100 casts like this") && form.contains("for the kits"));
    let compared = get(&app, &format!("/casts/{}/resin", cast.0)).await.text;
    assert!(compared.contains("450 for 3 kits"), "{compared}");
}

/// "An open lot is ignored; four kits here, two there": bottles count on both pages, less what
/// another cast has taken a plan for.
#[tokio::test]
async fn bottles_on_the_shelf_are_not_bought_again_and_others_need_theirs() {
    let app = app().await;
    let first = app.cast("First").await;
    let lot = [
        ("lot_resin", "slow-casting-epoxy"),
        ("lot_mark", "S-9"),
        ("lot_bought", "2026-11-01"),
        ("lot_opened", ""),
        ("lot_left", "8 L"),
        ("lot_cost", "200"),
    ];
    post_as(&app, "/shelf/lots", &lot, false).await;
    let form = get(&app, &format!("/casts/{}/form", first.0)).await.text;
    assert!(
        form.contains("On the shelf: 8.00\u{202f}L.") && form.contains("\"buy\">2 kits<"),
        "{form}"
    );
    let compared = get(&app, &format!("/casts/{}/resin", first.0)).await.text;
    assert!(compared.contains("300 for 2 kits"), "{compared}");
    // Another cast takes its plan: the bottles are for that one.
    let other = app.cast("Other").await;
    fondant_app::casts::pours::settle(&app.app, other, 1).await.expect("taken");
    let form = get(&app, &format!("/casts/{}/form", first.0)).await.text;
    assert!(form.contains("for Other") && form.contains("\"buy\">3 kits<"), "{form}");
    // What is meant for it is not reserved from itself.
    let own = get(&app, &format!("/casts/{}/form", other.0)).await.text;
    assert!(own.contains("\"buy\">2 kits<"), "{own}");
}

#[tokio::test]
async fn a_sheet_that_grips_and_a_wall_that_bows_are_said() {
    let app = app().await;
    let cast = begin(&app, Kind::Embed).await;
    let path = format!("/casts/{}/form", cast.0);
    let fields =
        [("sheet", "acrylic"), ("sheet_thickness", "2 mm"), ("release", "bare"), ("overfill", "0")];
    // The sheet is changed first; its thickness and release follow, then are set.
    let first = post(&app, &path, &form_fields(&fields)).await;
    assert_eq!(first.status, StatusCode::OK, "{}", first.text);
    let mut again = fields.to_vec();
    again.push(("revision", "2"));
    let second = post(&app, &path, &form_fields(&again)).await;
    assert!(second.text.contains("Resin grips this bare sheet"), "{}", second.text);
    let list = get(&app, &format!("/casts/{}/cut-list", cast.0)).await;
    assert!(list.text.contains("2 × long wall"));
    let coat = begin(&app, Kind::Coat).await;
    let none = get(&app, &format!("/casts/{}/cut-list", coat.0)).await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
}

/// "The default floating ball is no guess": it is one until somebody says what it is.
#[tokio::test]
async fn an_object_that_nobody_has_named_is_a_guess() {
    let app = app().await;
    let mut embed = documents::of_kind(Kind::Embed);
    let cast = app.create(&embed).await;
    let page = get(&app, &format!("/casts/{cast}/timber")).await.text;
    assert!(page.contains("A guess until you say what it is") && page.contains("goes by a guess"));
    embed.contents.inserts_mut().unwrap()[0].name = "fir cone".into();
    let cast = app.create(&embed).await;
    let page = get(&app, &format!("/casts/{cast}/timber")).await.text;
    assert!(!page.contains("guess until") && !page.contains("by a guess"));
}

/// Other resins in the layers of a plan that was taken: one that gets too hot in a shop that is too cold
/// for it is told both.
#[tokio::test]
async fn no_trouble_of_a_resin_hides_another() {
    let app = app().await;
    let mut document = documents::of_kind(Kind::Block);
    document.piece.thickness = Length::from_mm(45.0);
    document.conditions.air = Temperature::from_celsius(17.0);
    let cast = app.create(&document).await;
    fondant_app::casts::pours::settle(&app.app, cast, 1).await.expect("taken");
    let compared = get(&app, &format!("/casts/{}/resin", cast.0)).await.text;
    let both = "take them at Pours. Made for a shop of 18\u{202f}°C to 30\u{202f}°C; yours is at";
    assert!(compared.contains(both), "{compared}");
}

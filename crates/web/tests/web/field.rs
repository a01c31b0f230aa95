//! The field of a cast through the real router.

use std::time::Duration;

use crate::common::{get, post};
use axum::http::StatusCode;
use fondant_app::records::CastId;
use fondant_cast::{Document, Kind};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};
use serde_json::Value;

/// No field of these tests takes near as long.
const PATIENCE: Duration = Duration::from_secs(60);

async fn app(plan: &Document) -> (TestApp, CastId) {
    let app = TestApp::new(&documents::workshop(8, 18)).await.at_work();
    let cast = app.create(plan).await;
    (app, cast)
}

/// Asks for the field until it is there.
async fn field(app: &TestApp, cast: CastId, query: &str) -> Value {
    let deadline = tokio::time::Instant::now() + PATIENCE;
    while tokio::time::Instant::now() < deadline {
        let answer = get(app, &format!("/casts/{}/field{query}", cast.0)).await;
        assert_eq!(answer.status, StatusCode::OK);
        let answer: Value = serde_json::from_str(&answer.text).expect("JSON");
        if answer["state"] != "working" {
            return answer;
        }
        tokio::task::yield_now().await;
    }
    panic!("the field was never done");
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_river_comes_as_a_section_with_pictures_over_time() {
    let (app, cast) = app(&documents::river_top("Top")).await;
    let found = field(&app, cast, "?pours=one&cut=1000").await;
    assert_eq!(found["state"], "done", "{found}");
    let (nx, nz) = (
        found["x"].as_array().expect("faces").len() - 1,
        found["z"].as_array().expect("faces").len() - 1,
    );
    let frames = found["frames"].as_array().expect("pictures");
    assert!(frames.len() > 20 && nx > 20 && nz >= 16, "{} pictures, {nx} × {nz}", frames.len());
    let says = found["says"].to_string();
    assert!(says.contains("across the section") && says.contains("Hottest"), "{says}");
    assert!(found["curves"].as_str().expect("curves").contains("curve-face"));
    let cut = |text: &str| format!("/casts/{}/field?cut={text}", cast.0);
    assert_eq!(get(&app, &cut("nonsense")).await.status, StatusCode::BAD_REQUEST);
    for text in ["NaN", "-1e9", "inf"] {
        assert_eq!(get(&app, &cut(text)).await.status, StatusCode::OK, "{text}");
    }
    assert_eq!(get(&app, "/casts/99/field").await.status, StatusCode::NOT_FOUND);
    assert_eq!(
        post(&app, &format!("/casts/{}/field/abandon", cast.0), &[]).await.status,
        StatusCode::NO_CONTENT
    );
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_block_comes_in_three_dimensions_and_a_coat_not_at_all() {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(110.0), mm(90.0), mm(80.0), Length::ZERO);
    let (app, cast) =
        app(&Document::begin(Kind::Block, "Cube".into(), piece, documents::now())).await;
    let found = field(&app, cast, "?pours=one").await;
    assert_eq!((&found["state"], &found["isBlock"]), (&"done".into(), &true.into()), "{found}");
    let coat = Document::begin(Kind::Coat, "Coat".into(), piece, documents::now());
    let coat = app.create(&coat).await;
    let none = field(&app, coat, "").await;
    assert!(none["says"].as_str().expect("a sentence").contains("Depth alone"), "{none}");
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_block_is_as_hot_on_every_page_as_in_its_field() {
    let mm = Length::from_mm;
    let piece = Piece {
        flattening: Length::ZERO,
        squaring: Length::ZERO,
        ..Piece::slab(mm(100.0), mm(100.0), mm(135.0), Length::ZERO)
    };
    let (app, cast) =
        app(&Document::begin(Kind::Block, "Clear".into(), piece, documents::now())).await;
    let found = field(&app, cast, "?pours=one").await;
    let says = found["says"].to_string();
    let after = |text: &str, from: &str| -> f64 {
        let rest = text.split(from).nth(1).unwrap_or_else(|| panic!("{from} in {text}"));
        let figure: String = rest
            .chars()
            .skip_while(|c| !c.is_ascii_digit())
            .take_while(|c| c.is_ascii_digit() || *c == '.')
            .collect();
        figure.parse().unwrap_or_else(|_| panic!("a figure after {from}: {rest:.60}"))
    };
    let in_field = after(&says, "Hottest ");
    let heat = get(&app, &format!("/casts/{}/heat", cast.0)).await.text;
    let on_page = after(&heat, "id=\"f-one-pour\"");
    assert!(
        (in_field - 62.3).abs() < 1.5 && (in_field - on_page).abs() <= 1.0,
        "{in_field} {on_page}"
    );
    assert!(heat.contains("One pour stays") && !heat.contains("by depth alone"));
    // One depth as well: the field says the one that the page does.
    let deepest = after(&says, "may be ");
    let shown = heat.split("id=\"f-deepest\"").nth(1).expect("the deepest layer");
    assert!(shown.contains(&format!("{deepest:.0}")), "{deepest}: {shown:.300}");
}

#[tokio::test]
async fn the_map_marks_where_the_cast_stands() {
    let (app, cast) = app(&documents::river_top("Top")).await;
    let map = get(&app, &format!("/casts/{}/depth-map", cast.0)).await;
    assert_eq!(map.text.matches("<td").count(), 12 * 9);
    assert_eq!(map.text.matches("nearest to this cast").count(), 1);
}

#[tokio::test]
async fn a_mix_that_waits_past_its_pot_life_is_said_to() {
    let mut plan = documents::river_top("Top");
    plan.conditions.waits = fondant_quantities::Span::from_h(6.0);
    let (app, cast) = app(&plan).await;
    let page = get(&app, &format!("/casts/{}/heat", cast.0)).await;
    assert!(page.text.contains("Past its time."), "six hours in a bucket of 2 kg");
}

//! What colours a cast: the recipe at station Resin, weighed at the bench, and taken by the next one.

use axum::http::StatusCode;
use fondant_app::ending;
use fondant_app::records::CastId;
use fondant_cast::document::RecipeColour;
use fondant_cast::{Document, Kind};
use fondant_heat::cooling::CoolingBy;
use fondant_quantities::{Length, Span, Temperature};
use fondant_record::lessons::Change;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::common::{Answer, get, post, post_as};

/// A block of one pour that is to be tinted, kept in a cold bath, mixed at 24 °C in a shop with a vacuum
/// chamber.
async fn block(thickness_mm: f64) -> (TestApp, CastId) {
    let mut workshop = documents::workshop(0, 23);
    workshop.shop.vacuum_mbar = Some(80.0);
    let app = TestApp::new(&workshop).await;
    let cast = app.create(&document("Blue block", thickness_mm)).await;
    (app, cast)
}

fn document(name: &str, thickness_mm: f64) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(200.0), mm(120.0), mm(thickness_mm), mm(0.0));
    let mut document = Document::begin(Kind::Block, name.into(), piece, documents::now());
    document.conditions.resin = Temperature::from_celsius(24.0);
    document.conditions.cooling.by = CoolingBy::Bath;
    document.conditions.cooling.lasts = Span::from_h(8.0);
    document
}

async fn colour(app: &TestApp, cast: CastId, fields: &[(&str, &str)]) -> Answer {
    let document = app.document(cast).await;
    let revision = app.open(cast).await.record.revision.to_string();
    let mut all = vec![("resin", document.resin.0.as_str()), ("recipe", "1")];
    all.push(("revision", &revision));
    all.extend(fields);
    post(app, &format!("/casts/{cast}/resin"), &all).await
}

async fn tap(app: &TestApp, bench: &str, row: &[(&str, &str)]) -> Answer {
    let key: String = row.iter().map(|(_, value)| *value).collect();
    let key: String = key.chars().filter(char::is_ascii_alphanumeric).collect();
    let key = format!("row-{key}");
    post(app, &format!("{bench}/rows"), &[row, &[("key", &*key)]].concat()).await
}

async fn bench_of(app: &TestApp, cast: CastId) -> String {
    let begun = post_as(app, &format!("/casts/{cast}/runs"), &[], false).await;
    assert_eq!(begun.status, StatusCode::SEE_OTHER, "{}", begun.text);
    begun.header("location").to_owned()
}

const TINT: [(&str, &str); 3] = [("tint", "0"), ("tint_name-0", "Sea"), ("tint_percent-0", "0.3")];

#[tokio::test]
async fn a_recipe_is_typed_refused_in_a_sentence_and_kept() {
    let (app, cast) = block(20.0).await;
    let kept = colour(&app, cast, &TINT).await;
    assert_eq!(kept.status, StatusCode::OK, "{}", kept.text);
    let recipe = app.document(cast).await.recipe;
    assert_eq!(recipe.colours, [RecipeColour::of_all("Sea", 0.3)]);
    let mut much = TINT;
    much[2].1 = "40";
    let refused = colour(&app, cast, &much).await;
    assert!(
        refused.text.contains("20") && refused.text.contains("value=\"40\""),
        "{}",
        refused.text
    );
    let now = app.document(cast).await.recipe;
    assert_eq!(now, recipe, "what was refused changes nothing");
    // A form without the recipe, of an older page, takes none away.
    let resin = app.document(cast).await.resin.0;
    let revision = app.open(cast).await.record.revision.to_string();
    post(&app, &format!("/casts/{cast}/resin"), &[("resin", &resin), ("revision", &revision)])
        .await;
    assert_eq!(app.document(cast).await.recipe, recipe);
}

/// With 4 mm to flatten, 0.3 % of a dye through 24 mm are 0.514 % through 14 mm.
#[tokio::test]
async fn what_was_mixed_is_offered_to_the_next_cast_by_mass_and_by_depth() {
    let (app, cast) = block(20.0).await;
    let dye = [
        ("colour_name", "Sea"),
        ("colour_kind", "dye"),
        ("colour_base", "solvent"),
        ("colour_ceiling", "2"),
    ];
    let added = post(&app, "/shelf/colours", &dye).await;
    assert!(added.status.is_success() || added.status.is_redirection(), "{}", added.text);
    colour(&app, cast, &TINT).await;
    let bench = bench_of(&app, cast).await;
    let labels = get(&app, &format!("{bench}/labels")).await.text;
    assert!(labels.contains("class=\"cup-colour\"") && labels.contains(">Sea "), "{labels}");
    let weighed =
        |part, grams| [("what", "weighed"), ("batch", "1"), ("part", part), ("amount", grams)];
    tap(&app, &bench, &weighed("b", "180")).await;
    let page = tap(&app, &bench, &weighed("a", "400")).await.text;
    // 580 g · 0.3 % = 1.74 g.
    assert!(page.contains("Sea into bucket 1") && page.contains(">1.74</span>"), "{page}");
    let sea = [("what", "tinted"), ("batch", "1"), ("colour", "Sea"), ("amount", "1.74")];
    assert_eq!(tap(&app, &bench, &sea).await.status, StatusCode::OK);
    let next = app.create(&document("Next block", 20.0)).await;
    let page = get(&app, &format!("/casts/{next}/resin")).await.text;
    assert!(!page.contains("Blue block"), "what is still being coloured is no recipe");
    let met = [("what", "mix_begun"), ("batch", "1")];
    assert_eq!(tap(&app, &bench, &met).await.status, StatusCode::OK);
    let next = app.create(&document("Thin block", 10.0)).await;
    let page = get(&app, &format!("/casts/{next}/resin")).await.text;
    assert!(page.contains("Blue block") && page.contains("Sea 0.3\u{202f}%"), "{page}");
    assert!(
        page.contains("Take it for 14\u{202f}mm") && page.contains("percent&#34;:0.514"),
        "{page}"
    );
    let taken = colour(&app, next, &[("recipe_as", "[{\"name\":\"Sea\",\"percent\":0.6}]")]).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    let recipe = app.document(next).await.recipe;
    assert_eq!(recipe.colours, [RecipeColour::of_all("Sea", 0.6)]);
    // What was mixed teaches the next one where the recipe says something else.
    assert_eq!(coloured(&app, cast).await, None);
    colour(&app, cast, &[TINT[0], TINT[1], ("tint_percent-0", "0.5")]).await;
    let taught = coloured(&app, cast).await.expect("a lesson");
    assert!((taught[0].percent - 0.3).abs() < 1e-6 && taught[0].name == "Sea", "{taught:?}");
    let damaged = colour(&app, next, &[("recipe_as", "[{")]).await;
    assert!(damaged.text.contains("arrived damaged"), "{}", damaged.text);
}

/// The colours that a cast teaches the next one.
async fn coloured(app: &TestApp, cast: CastId) -> Option<Vec<RecipeColour>> {
    let open = app.open(cast).await;
    let worked = open.worked(&app.app).await.expect("it is worked out");
    let ending = ending::ending(&app.app, &open, &worked).await.expect("its record");
    ending.lessons.into_iter().find_map(|lesson| match lesson.change {
        Change::Colour(colours) => Some(colours),
        _ => None,
    })
}

/// Each colour of moulds has a recipe of its own: 0.5 % of the cup that it goes into, and of no other.
#[tokio::test]
async fn a_cup_is_coloured_by_a_recipe_of_its_own() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let cast = app.create(&documents::moulds_of_two_colours()).await;
    let row = [TINT[0], TINT[1], ("tint_percent-0", "0.5"), ("tint_cup-0", "sea")];
    let page = colour(&app, cast, &row).await.text;
    assert!(page.contains("In the cup") && page.contains("for the cup “sea”"), "{page}");
    let gone = [TINT[0], TINT[1], ("tint_percent-0", "0.5"), ("tint_cup-0", "night")];
    let page = colour(&app, cast, &gone).await.text;
    assert!(page.contains("Its cup no longer exists"), "{page}");
    colour(&app, cast, &row).await;
    let bench = bench_of(&app, cast).await;
    let labels = get(&app, &format!("{bench}/labels")).await.text;
    assert_eq!(labels.matches(">Sea ").count(), 1, "{labels}");
}

/// Warm water before, vacuum between, cold water after: each is written down, has its clock, and is
/// refused where it cannot be.
#[tokio::test]
async fn warm_water_vacuum_and_cold_water_have_their_clocks() {
    let (app, cast) = block(20.0).await;
    let bench = bench_of(&app, cast).await;
    let page = get(&app, &bench).await.text;
    assert!(page.contains("Put bottles into warm water"), "{page}");
    let bath = |at| {
        [
            ("what", "bathed"),
            ("bottle", "2 kg"),
            ("bottle_at", "20"),
            ("water", "10 kg"),
            ("water_at", at),
        ]
    };
    let boiling = tap(&app, &bench, &bath("90")).await;
    assert_eq!(boiling.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(boiling.text.contains("between 20\u{202f}°C and 60\u{202f}°C"), "{}", boiling.text);
    let warm = tap(&app, &bench, &bath("40")).await.text;
    assert!(warm.contains("Bottles are warm in") && warm.contains("A bottle by the gun"), "{warm}");
    let read = tap(&app, &bench, &[("what", "bottle_read"), ("temperature", "21.5")]).await.text;
    assert!(read.contains("a bottle read 22\u{202f}°C"), "{read}");
    let weighed =
        |part, grams| [("what", "weighed"), ("batch", "1"), ("part", part), ("amount", grams)];
    tap(&app, &bench, &weighed("b", "180")).await;
    tap(&app, &bench, &weighed("a", "400")).await;
    let of = |what| [("what", what), ("batch", "1")];
    for what in ["mix_begun", "mix_ended"] {
        assert_eq!(tap(&app, &bench, &of(what)).await.status, StatusCode::OK, "{what}");
    }
    // A bucket that stands warms itself, and what it is poured into gets hotter.
    app.set_now(app.app.now() + SignedDuration::from_mins(100));
    let page = get(&app, &bench).await.text;
    assert!(page.contains("10\u{202f}min more in the bucket make the layer"), "{page}");
    assert!(page.contains("Under vacuum first, in a container of"), "{page}");
    let closed = tap(&app, &bench, &of("evacuated")).await.text;
    assert!(
        closed.contains("Vacuum: bucket 1") && closed.contains("2.3 times their size"),
        "{closed}"
    );
    assert!(closed.contains("A chamber can break inwards"), "its caution: {closed}");
    let open = [("what", "evacuated"), ("batch", "1"), ("mbar", "1500")];
    assert_eq!(tap(&app, &bench, &open).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    for what in ["aired", "pour_begun", "pour_ended"] {
        assert_eq!(tap(&app, &bench, &of(what)).await.status, StatusCode::OK, "{what}");
    }
    let page = get(&app, &bench).await.text;
    assert!(
        page.contains("Keep the form cold for") && page.contains("never taken away before"),
        "{page}"
    );
    let ice = [("what", "chilled"), ("temperature", "4"), ("ice", "3 kg")];
    let iced = tap(&app, &bench, &ice).await.text;
    assert!(iced.contains("the bath read 4\u{202f}°C"), "{iced}");
    let cup = [("what", "touched"), ("found", "tacky"), ("cup", "80")];
    let touched = tap(&app, &bench, &cup).await.text;
    assert!(touched.contains("Touched: sticky, by its witness cup of 80"), "{touched}");
    let none = [("what", "touched"), ("found", "hard"), ("cup", "a thimble")];
    assert_eq!(tap(&app, &bench, &none).await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

//! A shop that measures in inches begins with figures that are round in inches.

use fondant_cast::{Document, Kind};
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

use crate::common::{get, post_as};

/// Names and values of the inputs of a page.
fn inputs(page: &str) -> Vec<(String, String)> {
    let attribute = |tag: &str, name: &str| {
        let (_, from) = tag.split_once(&format!(" {name}=\""))?;
        Some(from.split('"').next().unwrap_or_default().to_owned())
    };
    let tags = page.split("<input").skip(1).filter_map(|from| from.split('>').next());
    tags.filter_map(|tag| Some((attribute(tag, "name")?, attribute(tag, "value")?))).collect()
}

/// "33/64 in", "0.7925 gal": what nobody typed is no odd fraction.
#[tokio::test]
async fn what_a_new_cast_begins_with_is_round_in_inches() {
    let mut workshop = documents::workshop(8, 18);
    workshop.units = UnitSystem::UsCustomary;
    let app = TestApp::new(&workshop).await;
    for kind in Kind::ALL {
        let page = get(&app, &format!("/casts/new?kind={}", kind.slug())).await.text;
        let begin = inputs(&page);
        let mut form: Vec<(&str, &str)> =
            begin.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        form.retain(|(name, _)| *name != "name");
        form.push(("name", "In inches"));
        let begun = post_as(&app, "/casts", &form, false).await;
        let address = begun.header("location").replace("/timber", "");
        assert!(address.starts_with("/casts/"), "{kind:?}: {}", begun.text);
        for station in ["piece", "form"] {
            let page = get(&app, &format!("{address}/{station}")).await.text;
            for (name, value) in inputs(&page) {
                let Some(inches) = value.strip_suffix(" in") else { continue };
                let denominator = inches.split_once('/').map_or("1", |(_, below)| below);
                assert!(
                    !inches.contains('.') && denominator.parse::<u32>().unwrap() <= 32,
                    "{kind:?} {station}: {name} is {value}"
                );
            }
        }
    }
}

/// "50 mL/m²" means nothing there, and a field that is sent as it stood changes nothing.
#[tokio::test]
async fn what_timber_drinks_is_typed_in_the_units_of_the_shop() {
    let mut workshop = documents::workshop(8, 18);
    workshop.units = UnitSystem::UsCustomary;
    let app = TestApp::new(&workshop).await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(600.0), mm(200.0), mm(30.0), Length::ZERO);
    let board = Document::begin(Kind::Inlay, "Board".into(), piece, documents::now());
    let cast = app.create(&board).await;
    let timber = format!("/casts/{cast}/timber");
    let field = |page: &str| {
        let found = inputs(page).into_iter().find(|(name, _)| name == "absorption");
        found.expect("the field").1
    };
    assert_eq!(field(&get(&app, &timber).await.text), "0.31 fl oz/ft²");
    for (typed, ml_m2) in
        [("0.31 fl oz/ft²", 100.0), ("0.5", 159.164), ("80 mL/m²", 80.0), ("5", 80.0)]
    {
        let page = get(&app, &timber).await.text;
        let kept = inputs(&page);
        let mut form: Vec<(&str, &str)> =
            kept.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        form.retain(|(name, _)| *name != "absorption");
        form.extend([("absorption", typed), ("cav_shape-0", "knot")]);
        let answer = post_as(&app, &timber, &form, false).await;
        let found = app.document(cast).await.contents.timber()[0].absorption_ml_m2;
        assert!((found - ml_m2).abs() < 1e-2, "{typed}: {found}, {}", answer.status);
        let is_refused = answer.text.contains("Absorption must be between");
        assert_eq!(is_refused, typed == "5", "{typed}");
    }
}

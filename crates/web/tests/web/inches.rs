//! A shop that measures in inches begins with figures that are round in inches.

use fondant_cast::{Document, Kind, ShopSettings};
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

use crate::common::{as_sent, get, post_as};

/// "33/64 in", "0.7925 gal", "4.4092 lb": what nobody typed is no odd figure, and in no other unit.
#[tokio::test]
async fn what_a_new_cast_begins_with_is_round_in_inches() {
    let mut workshop = documents::workshop(8, 18);
    workshop.units = UnitSystem::UsCustomary;
    workshop.shop = ShopSettings::usual(workshop.units);
    let app = TestApp::new(&workshop).await;
    let mut seen = 0;
    for kind in Kind::ALL {
        let page = get(&app, &format!("/casts/new?kind={}", kind.slug())).await.text;
        let begin = as_sent(&page);
        let mut form: Vec<(&str, &str)> =
            begin.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        form.retain(|(name, _)| *name != "name");
        form.push(("name", "In inches"));
        let begun = post_as(&app, "/casts", &form, false).await;
        let address = begun.header("location").replace("/timber", "");
        assert!(address.starts_with("/casts/"), "{kind:?}: {}", begun.text);
        for station in ["piece", "timber", "form", "heat", "pours"] {
            seen += assert_round(&app, &format!("{address}/{station}")).await;
        }
    }
    // What is added later begins round too.
    for (station, added) in [
        ("timber", ("add", "cav")),
        ("timber", ("add", "ins")),
        ("pours", ("stage_add", "flood")),
        ("pours", ("stage_add", "below")),
    ] {
        let address = format!("/casts/1/{station}");
        let mut kept = as_sent(&get(&app, &address).await.text);
        let before = kept.len();
        kept.push((added.0.to_owned(), added.1.to_owned()));
        let form: Vec<(&str, &str)> = kept.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
        let answer = post_as(&app, &address, &form, false).await;
        assert_eq!(answer.status, 303, "{added:?}: {}", answer.text);
        let after = as_sent(&get(&app, &address).await.text).len();
        assert!(after > before, "{added:?}: {after} fields");
        seen += assert_round(&app, &address).await;
    }
    seen += assert_round(&app, "/shop").await;
    seen += assert_round(&app, "/forms").await;
    assert!(seen > 100, "{seen} figures");
}

/// How many figures stand in the fields of a page, all of them round.
async fn assert_round(app: &TestApp, path: &str) -> usize {
    let mut seen = 0;
    for (name, value) in as_sent(&get(app, path).await.text) {
        if name == "revision" || !value.starts_with(|c: char| c.is_ascii_digit()) {
            continue;
        }
        seen += 1;
        let decimals = value
            .split_once('.')
            .map_or(0, |(_, rest)| rest.bytes().take_while(u8::is_ascii_digit).count());
        let denominator = value.strip_suffix(" in").and_then(|inches| inches.split_once('/'));
        let is_fine =
            denominator.is_none_or(|(_, below)| below.parse().is_ok_and(|below: u32| below <= 32));
        // Paper is told in thousandths.
        let most = if name == "paper" { 3 } else { 1 };
        let metric = [" mm", " kg", " L", " mL", "°C", " K", "m²", "m³", "mm/m"];
        let is_metric = metric.iter().any(|unit| value.ends_with(unit));
        assert!(decimals <= most && is_fine && !is_metric, "{path}: {name} is {value}");
    }
    seen
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
        let found = as_sent(page).into_iter().find(|(name, _)| name == "absorption");
        found.expect("the field").1
    };
    assert_eq!(field(&get(&app, &timber).await.text), "100 mL/m²");
    for (typed, ml_m2) in [("100 mL/m²", 100.0), ("0.5", 159.164), ("80 mL/m²", 80.0), ("5", 80.0)]
    {
        let page = get(&app, &timber).await.text;
        let kept = as_sent(&page);
        let mut form: Vec<(&str, &str)> =
            kept.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        form.retain(|(name, _)| *name != "absorption");
        form.push(("absorption", typed));
        let answer = post_as(&app, &timber, &form, false).await;
        let found = app.document(cast).await.contents.timber()[0].absorption.ml_m2();
        assert!((found - ml_m2).abs() < 1e-2, "{typed}: {found}, {}", answer.status);
        let is_refused = answer.text.contains("Absorption must be between");
        assert_eq!(is_refused, typed == "5", "{typed}");
    }
}

/// A figure in another unit than the shop's stays as it was typed, in every field of a station; another
/// figure in its place is the shop's again, and what is undone is as it was.
#[tokio::test]
async fn what_was_typed_keeps_its_unit() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(900.0), mm(300.0), mm(40.0), Length::ZERO);
    let river = Document::begin(Kind::River, "Typed".into(), piece, documents::now());
    let cast = app.create(&river).await;
    for station in ["piece", "timber", "form"] {
        let address = format!("/casts/{cast}/{station}");
        let before = get(&app, &address).await.text;
        let in_cm = |(name, value): (String, String)| {
            let mm = value.strip_suffix(" mm").and_then(|mm| mm.parse::<f64>().ok());
            let value = mm.map_or(value, |mm| format!("{} cm", mm / 10.0));
            (name, value)
        };
        // Boxes are left unticked, as they stand.
        let typed: Vec<(String, String)> = as_sent(&before).into_iter().map(in_cm).collect();
        let form: Vec<(&str, &str)> = typed.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
        let answer = post_as(&app, &address, &form, false).await;
        assert_eq!(answer.status, 303, "{station}: {}", answer.text);
        let lengths = |pairs: Vec<(String, String)>| -> Vec<(String, String)> {
            pairs.into_iter().filter(|(_, v)| v.ends_with(" cm") || v.ends_with(" mm")).collect()
        };
        let shown = lengths(as_sent(&get(&app, &address).await.text));
        assert!(shown.len() > 2, "{station}: {shown:?}");
        assert_eq!(shown, lengths(typed), "{station}");
    }
    let piece = format!("/casts/{cast}/piece");
    let length = async || {
        let page = get(&app, &piece).await.text;
        as_sent(&page).into_iter().find(|(name, _)| name == "length").expect("the field").1
    };
    assert_eq!(length().await, "90 cm");
    assert!((app.document(cast).await.piece.length - mm(900.0)).mm().abs() < 1e-9);
    let page = as_sent(&get(&app, &piece).await.text);
    let bare: Vec<(&str, &str)> = page
        .iter()
        .map(|(n, v)| (n.as_str(), if n == "length" { "910" } else { v.as_str() }))
        .collect();
    post_as(&app, &piece, &bare, false).await;
    assert_eq!(length().await, "910 mm");
    let revision = app.open(cast).await.record.revision.to_string();
    post_as(&app, &format!("{piece}/undo"), &[("revision", &revision)], false).await;
    assert_eq!(length().await, "90 cm");
}

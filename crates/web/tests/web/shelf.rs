//! The shelf through the real router: datasheets, logs, stock, and what is
//! wrong with them.

use crate::common::{get, post, post_as, upload};
use axum::http::StatusCode;
use fondant_heat::calibration::cup::Cup;
use fondant_heat::calibration::factors::Factors;
use fondant_materials::resin::{Record, ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Temperature};
use fondant_testkit::{TestApp, documents};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// A datasheet of a medium casting epoxy, with some entries changed.
fn sheet<'a>(changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut form = vec![
        ("revision", "0"),
        ("name", "harbour casting epoxy"),
        ("class", "medium_casting"),
        ("purpose", "Pockets."),
        ("by_mass", "60"),
        ("by_volume", ""),
        ("density_a", "1140 kg/m³"),
        ("density_b", "980 kg/m³"),
        ("density", ""),
        ("measured", "weight"),
        ("viscosity", "700"),
        ("pot", "60"),
        ("pot_mass", "200 g"),
        ("pot_at", "22 °C"),
        ("tacky", "6"),
        ("tacky_depth", "10"),
        ("tacky_at", "22"),
        ("demould", "24"),
        ("demould_depth", "10"),
        ("demould_at", "22"),
        ("full", "120"),
        ("full_depth", "10"),
        ("full_at", "22"),
        ("colouring", "Pastes and dyes."),
        ("deepest", "15"),
        ("deepest_at", "22"),
        ("rule", ""),
        ("limit", "55"),
        ("coldest", "16"),
        ("warmest", "30"),
        ("humidity", "70"),
        ("shore", "82"),
        ("sunlight", "fair"),
        ("kit", "3 L"),
        ("price", "80"),
        ("hz_sensitiser", "1"),
    ];
    for (name, value) in changes {
        match form.iter_mut().find(|(n, _)| n == name) {
            Some(field) => field.1 = value,
            None => form.push((name, value)),
        }
    }
    form
}

/// The log of 300 g of the medium casting epoxy at 22 °C.
fn log(warmer: f64, fahrenheit: bool) -> String {
    let air = Temperature::from_celsius(22.0);
    let cup = Cup { mass: Mass::from_kg(0.3), air };
    let resin = shipped::generic(ResinClass::MediumCasting);
    let truth = Factors { rate: 1.15, heat: 0.95, loss: 1.1 };
    let times: Vec<f64> = (0..140).map(|i| f64::from(i) * 150.0).collect();
    let curve =
        cup.temperatures(&resin.generic(), &truth, air.k(), &times, &Stop::NEVER).expect("a curve");
    let mut text = String::new();
    for (index, (t_s, t_k)) in times.iter().zip(curve).enumerate() {
        let jitter = [0.2, -0.1, 0.0, -0.2, 0.1][index % 5];
        let celsius = t_k - 273.15 + jitter + warmer;
        let shown = if fahrenheit { celsius * 1.8 + 32.0 } else { celsius };
        text.push_str(&format!("{:.1} {shown:.1}\n", t_s / 60.0));
    }
    text
}

fn cup<'a>(log: &'a str, changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let mut form = vec![
        ("mass", "300 g"),
        ("air", "22 °C"),
        ("lot", "M-7"),
        ("times", "minutes"),
        ("scale", "celsius"),
        ("cast", ""),
        ("log", log),
        ("water", ""),
    ];
    for (name, value) in changes {
        if let Some(field) = form.iter_mut().find(|(n, _)| n == name) {
            field.1 = value;
        }
    }
    form
}

#[tokio::test]
async fn seven_generic_resins_stand_on_a_new_shelf() {
    let app = app().await;
    let page = get(&app, "/shelf").await;
    assert_eq!(page.text.matches(">Calibrate<").count(), 7);
    assert!(page.text.contains("no readings yet"));
    assert_eq!(get(&app, "/shelf/resins/treacle").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_datasheet_becomes_a_resin_that_casts_compare() {
    let app = app().await;
    let answer = post_as(&app, "/shelf/new", &sheet(&[]), false).await;
    assert_eq!(answer.header("location"), "/shelf/resins/harbour-casting-epoxy", "{}", answer.text);
    let page = get(&app, "/shelf/resins/harbour-casting-epoxy").await;
    for figure in [
        "Pot life",
        "Sticky after",
        "Out of the form after",
        "Fully cured after",
        "Deepest layer",
        "Pastes and dyes.",
    ] {
        assert!(page.text.contains(figure), "{figure}");
    }
    assert!(page.text.contains("60\u{202f}min") && page.text.contains("15\u{202f}mm"));
    let cast = app.cast("Top").await;
    let compared = get(&app, &format!("/casts/{}/resin", cast.0)).await;
    assert!(compared.text.contains("harbour casting epoxy"));
    // Put away it is no longer compared, and found by those who have it.
    post_as(&app, "/shelf/resins/harbour-casting-epoxy/away", &[("revision", "1")], false).await;
    let compared = get(&app, &format!("/casts/{}/resin", cast.0)).await;
    assert!(!compared.text.contains("harbour casting epoxy"));
}

#[tokio::test]
async fn datasheets_that_say_too_little_or_contradict_themselves_are_refused_at_the_field() {
    let app = app().await;
    type Changes = &'static [(&'static str, &'static str)];
    let cases: [(Changes, &str, &str); 9] = [
        (&[("pot_mass", "")], "pot_mass", "without the mass"),
        (&[("pot_at", "")], "pot_at", "without its temperature"),
        (&[("tacky_depth", "")], "tacky_depth", "depends on the thickness"),
        (&[("by_volume", "60")], "by_volume", "Check which ratio is by mass"),
        (
            &[("by_mass", ""), ("by_volume", "70"), ("density_a", "")],
            "by_volume",
            "nothing can be weighed",
        ),
        (&[("density", "1300 kg/m³")], "density", "Check the densities"),
        (&[("demould", "3")], "pot", "contradicts itself"),
        (&[("deepest", "0")], "deepest", "too little"),
        (&[("deepest", "2 m")], "deepest", "too much"),
    ];
    for (changes, field, says) in cases {
        let answer = post_as(&app, "/shelf/new", &sheet(changes), false).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{changes:?}");
        let refusal = answer.text.split(&format!("id=\"{field}-refusal\"")).nth(1);
        let refusal = refusal.unwrap_or_else(|| panic!("{changes:?}: nothing at {field}"));
        assert!(
            refusal[..400.min(refusal.len())].contains(says),
            "{changes:?}: {}",
            &refusal[..300]
        );
        assert!(answer.text.contains("value=\"harbour casting epoxy\""), "what was typed stays");
    }
    assert_eq!(
        get(&app, "/shelf").await.text.matches(">Calibrate<").count(),
        7,
        "nothing was kept"
    );
}

#[tokio::test]
async fn two_tabs_do_not_overwrite_each_others_resin() {
    let app = app().await;
    post_as(&app, "/shelf/new", &sheet(&[]), false).await;
    let address = "/shelf/resins/harbour-casting-epoxy";
    let first = post_as(&app, address, &sheet(&[("revision", "1"), ("shore", "84")]), false).await;
    assert_eq!(first.status, StatusCode::SEE_OTHER);
    let late = post_as(&app, address, &sheet(&[("revision", "1"), ("shore", "70")]), false).await;
    assert_eq!(late.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(late.text.contains("changed in another tab") && late.text.contains("value=\"70\""));
    assert!(get(&app, address).await.text.contains("84 Shore D"));
}

#[tokio::test]
async fn a_log_is_shown_before_it_is_kept() {
    let app = app().await;
    let log = log(0.0, false);
    let shown = post(&app, "/shelf/resins/medium-casting-epoxy/learn", &cup(&log, &[])).await;
    assert_eq!(shown.status, StatusCode::OK, "{}", shown.text);
    assert!(shown.text.contains("with this log") && shown.text.contains("class=\"reading\""));
    assert!(get(&app, "/shelf/resins/medium-casting-epoxy").await.text.contains("Nothing yet."));
    let kept =
        post_as(&app, "/shelf/resins/medium-casting-epoxy/learn/accept", &cup(&log, &[]), false)
            .await;
    assert_eq!(kept.status, StatusCode::SEE_OTHER);
    let page = get(&app, "/shelf/resins/medium-casting-epoxy").await;
    assert!(page.text.contains("lot M-7") && page.text.contains("140 readings"), "{}", page.text);
    post_as(&app, "/shelf/resins/medium-casting-epoxy/forget", &[("revision", "1")], false).await;
    assert!(get(&app, "/shelf/resins/medium-casting-epoxy").await.text.contains("Nothing yet."));
}

#[tokio::test]
async fn logs_with_something_wrong_are_refused_with_what_it_is_and_keep_what_was_pasted() {
    let app = app().await;
    let good = log(0.0, false);
    let hot = log(0.0, true);
    let back = good.replacen("5.0 ", "50.0 ", 1);
    let short: String = good.lines().take(30).map(|line| format!("{line}\n")).collect();
    let gap: String = good
        .lines()
        .enumerate()
        .filter(|(index, _)| !(18..60).contains(index))
        .map(|(_, line)| format!("{line}\n"))
        .collect();
    let long: String = (0..100_001).map(|i| format!("{i} 20.5\n")).collect();
    for (log, says) in [
        (hot.as_str(), "°F"),
        (&back, "goes back in time"),
        (&short, "before the temperature has fallen"),
        (&gap, "No readings around the peak"),
        (&long, "more than 100000 rows"),
        ("nothing", "It has no readings"),
        ("", "It has no readings"),
    ] {
        let answer = post(&app, "/shelf/resins/medium-casting-epoxy/learn", &cup(log, &[])).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{says}");
        let refusal = answer.text.split("id=\"log-refusal\"").nth(1).unwrap_or_default();
        assert!(
            refusal[..400.min(refusal.len())].contains(says),
            "{says}: {}",
            &refusal[..300.min(refusal.len())]
        );
        let line = log.lines().next().unwrap_or_default();
        assert!(answer.text.contains(line), "what was pasted stays");
    }
    let slow = post(
        &app,
        "/shelf/resins/slow-casting-epoxy/learn",
        &cup(&good, &[("water", "0 40\n5 39")]),
    )
    .await;
    assert!(slow.text.contains("id=\"water-refusal\"") && slow.text.contains("eight or more"));
}

#[tokio::test]
async fn a_resin_leaves_and_comes_back_as_json() {
    let app = app().await;
    let file = get(&app, "/shelf/resins/coating-epoxy/export").await;
    assert_eq!(file.header("content-type"), "application/json");
    let whole: serde_json::Value = serde_json::from_str(&file.text).unwrap();
    let resin: Record = serde_json::from_value(whole["resin"].clone()).unwrap();
    // Files from before files had a version are the resin alone.
    let alone = whole["resin"].to_string();
    let back = upload(&app, "/shelf/import", &[], ("file", "old.json", alone.as_bytes())).await;
    assert_eq!(back.header("location"), "/shelf/resins/coating-epoxy-2");
    assert_eq!(resin, shipped::generic(ResinClass::Coating));
    let back =
        upload(&app, "/shelf/import", &[], ("file", "coat.json", file.text.as_bytes())).await;
    assert!(file.text.contains("\"format\": \"fondant-resin\""), "{}", file.text);
    assert_eq!(back.header("location"), "/shelf/resins/coating-epoxy-3");
    // No name is an address of something else.
    let named = alone.replace("\"id\":\"coating-epoxy\"", "\"id\":\"lots\"");
    let back = upload(&app, "/shelf/import", &[], ("file", "lots.json", named.as_bytes())).await;
    assert_eq!(back.header("location"), "/shelf/resins/lots");
    assert_eq!(get(&app, "/shelf/resins/lots").await.status, StatusCode::OK);
    let impossible = file.text.replace("\"heat_j_kg\": 280000.0", "\"heat_j_kg\": 9e9");
    for (bytes, says) in [
        (b"{\"id\":3}".as_slice(), "is not a resin from Fondant"),
        (b"\xff\xfe".as_slice(), "is not a resin from Fondant"),
        (impossible.as_bytes(), "heat of cure is 9000000000"),
    ] {
        let answer = upload(&app, "/shelf/import", &[], ("file", "x.json", bytes)).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(answer.text.contains(says), "{says}");
    }
}

#[tokio::test]
async fn lots_and_colours_come_and_go() {
    let app = app().await;
    let lot = [
        ("lot_resin", "slow-casting-epoxy"),
        ("lot_mark", "S-1"),
        ("lot_bought", "2026-01-10"),
        ("lot_opened", "2026-02-01"),
        ("lot_left", "2.5 L"),
        ("lot_cost", "150"),
    ];
    post_as(&app, "/shelf/lots", &lot, false).await;
    let page = get(&app, "/shelf").await;
    assert!(page.text.contains("S-1") && page.text.contains("value=\"2.5 L\""));
    let slug = page.text.split("/shelf/lots/").nth(1).and_then(|t| t.split('"').next()).unwrap();
    let name = format!("left-{slug}");
    let address = format!("/shelf/lots/{slug}");
    post_as(&app, &address, &[("revision", "1"), (&name, "1.2 L")], false).await;
    assert!(get(&app, "/shelf").await.text.contains("value=\"1.2 L\""));
    let bad = post_as(&app, &address, &[("revision", "2"), (&name, "lots")], false).await;
    assert!(bad.text.contains("“lots” is not a volume") && bad.text.contains("value=\"lots\""));
    let mut early = lot;
    early[3].1 = "2025-12-01";
    let refused = post_as(&app, "/shelf/lots", &early, false).await;
    assert!(refused.text.contains("before it was bought"));
    post_as(&app, &format!("{address}/remove"), &[], false).await;
    assert!(get(&app, "/shelf").await.text.contains("No lots yet."));

    let watery = [
        ("colour_name", "pond"),
        ("colour_kind", "paint"),
        ("colour_base", "water"),
        ("colour_ceiling", "9"),
    ];
    let refused = post_as(&app, "/shelf/colours", &watery, false).await;
    assert!(refused.text.contains("Water clouds resin"));
}

#[tokio::test]
async fn another_class_for_a_new_resin_brings_its_figures_and_keeps_what_was_typed() {
    let app = app().await;
    let fresh = get(&app, "/shelf/new").await;
    assert!(fresh.text.contains("name=\"class_was\" value=\"medium_casting\""));
    let asked = "/shelf/new?class_was=medium_casting&class=coating&name=our+coat&by_mass=60\
                 &viscosity=777+mPa%C2%B7s";
    let page = get(&app, asked).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    for kept in ["value=\"our coat\"", "value=\"777 mPa·s\"", "class_was\" value=\"coating\""] {
        assert!(page.text.contains(kept), "{kept}: {}", page.text);
    }
    // 100:60 stood there for the class before: the coating's own ratio stands there now.
    let by_mass = page.text.split("id=\"by_mass\"").nth(1).expect("the field");
    assert!(!by_mass.split('>').next().unwrap_or_default().contains("value=\"60\""));
}

#[tokio::test]
async fn a_repair_under_the_lamp_is_worked_out_and_what_is_too_deep_is_refused() {
    let app = app().await;
    let page = get(&app, "/shelf").await;
    assert!(
        page.text.contains("The lamp burns eyes.") && !page.text.contains("under the lamp. Set")
    );
    let size = "repair_length=12&repair_width=5&repair_depth=";
    let page = get(&app, &format!("/shelf/repair?{size}3")).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("2 layers of 1.5\u{202f}mm each"), "{}", page.text);
    let deep = get(&app, &format!("/shelf/repair?{size}8")).await;
    assert_eq!(deep.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        deep.text.contains("id=\"repair_depth-refusal\"") && deep.text.contains("casting resin")
    );
    let odd = get(&app, &format!("/shelf/repair?{size}deep")).await;
    assert!(odd.text.contains("is not a length") && odd.text.contains("value=\"deep\""));
}

//! The bench through the router: what a tap does, what is refused, what other pages say of it.

use axum::http::StatusCode;
use fondant_app::casts;
use fondant_app::records::{Asked, CastState, Listed};
use fondant_cast::{Contents, Document, Kind};
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::blanks::Hollow;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::common::{Answer, get, post, post_as};

/// A river top whose base is being run, and the address of its bench.
async fn running() -> (TestApp, i64, String) {
    running_in(UnitSystem::Metric).await
}

async fn running_in(units: UnitSystem) -> (TestApp, i64, String) {
    let mut workshop = documents::workshop(0, 23);
    workshop.units = units;
    let app = TestApp::new(&workshop).await;
    let cast = app.cast("Hall bench").await;
    let settle = format!("/casts/{cast}/pours/settle");
    let settled = post(&app, &settle, &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(settled.status, StatusCode::OK);
    let pours = app.document(cast).await.pours.taken;
    let pour = pours[0].id.0.to_string();
    app.set_now(pours[0].at);
    let begun = post_as(&app, &format!("/casts/{cast}/runs"), &[("pour", &pour)], false).await;
    assert_eq!(begun.status, StatusCode::SEE_OTHER, "{}", begun.text);
    (app, cast.0, begun.header("location").to_owned())
}

async fn tap(app: &TestApp, bench: &str, row: &[(&str, &str)]) -> Answer {
    let key = format!("key-{}", row.iter().map(|(_, value)| *value).collect::<String>());
    let key: String = key.chars().filter(|c| c.is_ascii_alphanumeric() || *c == '-').collect();
    let mut row = row.to_vec();
    row.push(("key", &key));
    post(app, &format!("{bench}/rows"), &row).await
}

/// Everything up to the first weighing.
async fn ready(app: &TestApp, bench: &str) {
    for _ in 0..12 {
        let page = get(app, bench).await.text;
        let Some(at) = page.find("name=\"item\" value=\"") else { return };
        let item: String = page[at + 19..].chars().take_while(|c| *c != '"').collect();
        let answer = tap(app, bench, &[("what", "ready"), ("item", &item)]).await;
        assert_eq!(answer.status, StatusCode::OK, "{item}: {}", answer.text);
    }
    panic!("the ready list has no end");
}

#[tokio::test]
async fn a_bucket_from_the_scale_into_the_form() {
    let (app, cast, bench) = running().await;
    ready(&app, &bench).await;
    let weigh = get(&app, &bench).await.text;
    assert!(weigh.contains("Weigh B into bucket 1"), "{weigh}");
    let of = |part, grams| [("what", "weighed"), ("batch", "1"), ("part", part), ("amount", grams)];
    let b = tap(&app, &bench, &of("b", "450")).await;
    // 100 : 45 by mass: 450 g of B ask for 1000 g of A.
    assert!(b.text.contains(">1000</span> <small>g</small>"), "{}", b.text);
    let a = tap(&app, &bench, &of("a", "1.06 kg")).await;
    // 1060 g of A ask for 477 g: 5.7 % too little is trouble, and 27 g bring it back.
    assert!(a.text.contains("5.7\u{202f}% too little B: it stays soft"), "{}", a.text);
    assert!(a.text.contains("27\u{202f}g B more is in"), "{}", a.text);
    let more = [("what", "added"), ("batch", "1"), ("part", "b"), ("amount", "27 g")];
    let added = tap(&app, &bench, &more).await;
    assert!(!added.text.contains("too little B"), "{}", added.text);
    let met = [("what", "mix_begun"), ("batch", "1"), ("temperature", "22")];
    let met = tap(&app, &bench, &met).await;
    assert!(met.text.contains("Bucket 1: can be poured for"), "{}", met.text);
    let today = get(&app, "/today").await.text;
    assert!(today.contains("At the bench now") && today.contains("bucket 1"), "{today}");
    tap(&app, &bench, &[("what", "mix_ended"), ("batch", "1")]).await;
    let pour = tap(&app, &bench, &[("what", "pour_begun"), ("batch", "1")]).await;
    assert!(pour.text.contains("Empty bucket 1"), "{}", pour.text);
    let full = [("what", "pour_ended"), ("batch", "1"), ("amount", "40"), ("full", "1")];
    let full = tap(&app, &bench, &full).await;
    assert!(full.text.contains("1497\u{202f}g of"), "1537 g less 40 g: {}", full.text);
    assert!(full.text.contains("Look for bubbles and leaks"), "{}", full.text);
    let station = get(&app, &format!("/casts/{cast}/bench")).await.text;
    assert!(station.contains("✓ poured") && station.contains("Go on"), "{station}");
    let pours = get(&app, &format!("/casts/{cast}/pours")).await.text;
    assert!(pours.contains("By what happened."), "the plan follows the bench");
}

/// In a shop of inches the page asked for millilitres, and a bare number was read as fluid ounces: thirty
/// times as much.
#[tokio::test]
async fn a_little_resin_is_read_in_the_unit_that_is_asked_for() {
    for (units, asked, read) in [
        (UnitSystem::Metric, "millilitres", "Ran short by 9\u{202f}mL"),
        (UnitSystem::UsCustomary, "fluid ounces", "Ran short by 9\u{202f}fl oz"),
    ] {
        let (app, _, bench) = running_in(units).await;
        ready(&app, &bench).await;
        for (part, grams) in [("b", "450"), ("a", "1000")] {
            let row = [("what", "weighed"), ("batch", "1"), ("part", part), ("amount", grams)];
            tap(&app, &bench, &row).await;
        }
        for what in ["mix_begun", "mix_ended", "pour_begun"] {
            tap(&app, &bench, &[("what", what), ("batch", "1")]).await;
        }
        let emptied = [("what", "pour_ended"), ("batch", "1"), ("amount", ""), ("full", "1")];
        let page = tap(&app, &bench, &emptied).await.text;
        let tool = page.split("value=\"ran_short\"").nth(1).expect("the tool");
        let hint = tool.split("class=\"hint\">").nth(1).unwrap_or_default();
        assert!(hint.starts_with(asked), "{units:?}: {hint}");
        let page = tap(&app, &bench, &[("what", "ran_short"), ("amount", "9")]).await.text;
        assert!(page.contains(read), "{page}");
    }
}

#[tokio::test]
async fn a_part_that_is_in_and_a_figure_that_is_none_are_refused_in_a_sentence() {
    let (app, cast, bench) = running().await;
    ready(&app, &bench).await;
    let part = [("what", "weighed"), ("batch", "1"), ("part", "a")];
    let with = |amount| [&part[..], &[("amount", amount)]].concat();
    let none = tap(&app, &bench, &with("a lot")).await;
    assert_eq!(none.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(none.text, "“a lot” is not a mass. Type grams, as 1252.");
    assert_eq!(tap(&app, &bench, &with("-3")).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(tap(&app, &bench, &with("800")).await.status, StatusCode::OK);
    let again = tap(&app, &bench, &with("810")).await;
    assert_eq!(again.status, StatusCode::CONFLICT);
    assert!(again.text.starts_with("A is in this bucket already: 800\u{202f}g."), "{}", again.text);
    // The same row sent again is no conflict: the phone did not hear the answer.
    assert_eq!(tap(&app, &bench, &with("800")).await.status, StatusCode::OK);
    let other = app.cast("Another").await;
    let foreign = bench.replace(&format!("/casts/{cast}/"), &format!("/casts/{other}/"));
    assert_eq!(get(&app, &foreign).await.status, StatusCode::NOT_FOUND);
    assert_eq!(tap(&app, &foreign, &[("what", "looked")]).await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_happened_without_a_connection_keeps_its_hour() {
    let (app, _, bench) = running().await;
    let early = app.app.now() - SignedDuration::from_mins(50);
    let at = early.as_millisecond().to_string();
    let row = [("what", "noted"), ("note", "form wiped"), ("at", &*at), ("by", "Phone <2>")];
    let noted = tap(&app, &bench, &row).await;
    assert_eq!(noted.status, StatusCode::OK, "{}", noted.text);
    let hour = early.strftime("%a %H:%M").to_string();
    assert!(noted.text.contains(&hour) && noted.text.contains("form wiped"), "{}", noted.text);
    assert!(!noted.text.contains("<2>"), "names are text");
    let old = (app.app.now() - SignedDuration::from_hours(999)).as_millisecond().to_string();
    let row = [("what", "noted"), ("note", "long ago"), ("at", &*old)];
    assert_eq!(tap(&app, &bench, &row).await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// One pair of hands is at the bench: what another plan wants of it meanwhile is told on Today.
#[tokio::test]
async fn a_run_at_the_bench_collides_with_what_is_due() {
    let (app, _, bench) = running().await;
    ready(&app, &bench).await;
    let of = |part, grams| [("what", "weighed"), ("batch", "1"), ("part", part), ("amount", grams)];
    tap(&app, &bench, &of("b", "450")).await;
    tap(&app, &bench, &of("a", "1000")).await;
    for what in ["mix_begun", "mix_ended", "pour_begun"] {
        let done = tap(&app, &bench, &[("what", what), ("batch", "1")]).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    }
    let before = get(&app, "/today").await.text;
    assert!(!before.contains("a run at the bench keeps hands busy"), "its own pour is no other");
    let other = app.cast("Window seat").await;
    let settle = format!("/casts/{other}/pours/settle");
    let settled = post(&app, &settle, &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(settled.status, StatusCode::OK);
    let due = app.document(other).await.pours.taken[0].at;
    app.set_now(due - SignedDuration::from_mins(2));
    let today = get(&app, "/today").await.text;
    assert!(today.contains("of “Window seat” is due while a run at the bench keeps"), "{today}");
    let abandoned = [("what", "abandoned"), ("note", "cold shop")];
    assert_eq!(tap(&app, &bench, &abandoned).await.status, StatusCode::OK);
    let after = get(&app, "/today").await.text;
    assert!(!after.contains("a run at the bench keeps hands busy"), "{after}");
}

/// No hazard without its caution at the act.
#[tokio::test]
async fn cautions_stand_at_the_bench() {
    let (app, _, bench) = running().await;
    let page = get(&app, &bench).await.text;
    assert!(page.contains("Sensitises the skin") && page.contains("goggles"), "{page}");
}

/// A cast that needs no schedule is run at once: tubes in casting resin, under pressure.
#[tokio::test]
async fn tubes_are_run_at_once_and_held_under_pressure() {
    let mut workshop = documents::workshop(0, 23);
    workshop.shop.pot_bar = Some(3.0);
    let app = TestApp::new(&workshop).await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(75.0), mm(22.0), mm(22.0), mm(0.0));
    let mut document = Document::begin(Kind::Tubes, "Blanks".into(), piece, documents::now());
    let Contents::Tubes(tubes) = &mut document.contents else { panic!("tubes") };
    tubes.count = 24;
    tubes.hollow = Hollow::Round { diameter: mm(22.0), depth: mm(75.0) };
    tubes.pot = Some(Pot { diameter: mm(300.0), height: mm(350.0), shelf: mm(6.0), gap: mm(8.0) });
    let cast = app.create(&document).await;
    let station = get(&app, &format!("/casts/{cast}/bench")).await.text;
    assert!(station.contains("Pour it now"), "{station}");
    let begun = post_as(&app, &format!("/casts/{cast}/runs"), &[], false).await;
    let bench = begun.header("location").to_owned();
    assert!(get(&app, &bench).await.text.contains("Are the tubes plugged and seated?"));
    ready(&app, &bench).await;
    for bucket in 1..40 {
        let number = bucket.to_string();
        for part in ["b", "a"] {
            let page = get(&app, &bench).await.text;
            let from = page.find("name=\"amount\" value=\"").expect("an amount") + 21;
            let amount: String = page[from..].chars().take_while(|c| *c != '"').collect();
            let row =
                [("what", "weighed"), ("batch", &*number), ("part", part), ("amount", &*amount)];
            assert_eq!(tap(&app, &bench, &row).await.status, StatusCode::OK);
        }
        for what in ["mix_begun", "mix_ended", "pour_begun", "pour_ended"] {
            let done = tap(&app, &bench, &[("what", what), ("batch", &number)]).await;
            assert_eq!(done.status, StatusCode::OK, "{what}: {}", done.text);
        }
        if get(&app, &bench).await.text.contains("Close the pot") {
            break;
        }
    }
    let page = get(&app, &bench).await.text;
    assert!(page.contains("never modify it"), "the caution stands at the act: {page}");
    // Moulds 42 mm across with 8 mm between them stand five in a row across 284 mm; 24 have one level.
    assert!(page.contains("Level 1: 24 blanks."), "{page}");
    let high = tap(&app, &bench, &[("what", "gauge"), ("bar", "30")]).await;
    assert_eq!(high.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", high.text);
    // 40 psi are 2.76 bar.
    let closed = tap(&app, &bench, &[("what", "gauge"), ("bar", "40 psi")]).await;
    assert!(closed.text.contains("Gauge: 2.76"), "{}", closed.text);
    assert!(closed.text.contains("no leak to be seen"), "{}", closed.text);
    app.set_now(app.app.now() + SignedDuration::from_mins(30));
    let leaks = tap(&app, &bench, &[("what", "gauge"), ("bar", "2.0")]).await;
    assert!(
        leaks.text.contains("look for the leak") || leaks.text.contains("leaks"),
        "{}",
        leaks.text
    );
    let vented = tap(&app, &bench, &[("what", "vented")]).await;
    assert_eq!(vented.status, StatusCode::OK, "{}", vented.text);
    let done = tap(&app, &bench, &[("what", "finished")]).await;
    assert!(done.text.contains("Done on"), "{}", done.text);
    // It has no plan that says when it is hard, and is finished all the same.
    let listed = async |state| {
        let asked = Asked { listed: Listed::Of(state), ..Asked::default() };
        let found = casts::list(&app.app, &app.shop().await, &asked).await.expect("a list");
        found.casts.iter().any(|listed| listed.id == cast)
    };
    assert!(listed(CastState::Curing).await);
    assert!(!get(&app, "/today").await.text.contains("id=\"finishing\""));
    app.set_now(app.app.now() + SignedDuration::from_hours(5 * 24));
    assert!(listed(CastState::Done).await);
    let hard = get(&app, "/today").await.text;
    let section = hard.split("id=\"finishing\"").nth(1).expect("the section");
    assert!(section.contains("Blanks"), "{section}");
}

#[tokio::test]
async fn every_bucket_has_its_label_with_what_is_in_it() {
    let (app, _, bench) = running().await;
    ready(&app, &bench).await;
    let b = [("what", "weighed"), ("batch", "1"), ("part", "b"), ("amount", "90")];
    assert_eq!(tap(&app, &bench, &b).await.status, StatusCode::OK);
    let page = get(&app, &format!("{bench}/labels")).await.text;
    // 90 g of B go with 200 g of A.
    assert!(page.contains("B 90\u{202f}g") && page.contains("A 200\u{202f}g"), "{page}");
    assert!(page.contains("Bucket 1 of ") && page.contains("on US letter"), "{page}");
    let svg = get(&app, &format!("{bench}/labels?as=svg")).await;
    assert_eq!(svg.header("content-type"), "image/svg+xml");
    assert!(svg.text.starts_with("<svg") && svg.text.contains("width=\"200mm\""), "{}", svg.text);
}

/// It can be installed, and its worker looks after the whole of it.
#[tokio::test]
async fn it_is_installable() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let manifest = get(&app, "/app.webmanifest").await;
    assert_eq!(manifest.header("content-type"), "application/manifest+json");
    let told: serde_json::Value = serde_json::from_str(&manifest.text).expect("JSON");
    let icon = told["icons"][0]["src"].as_str().expect("an icon");
    assert_eq!(get(&app, icon).await.status, StatusCode::OK, "{icon}");
    assert_eq!(get(&app, told["start_url"].as_str().expect("a page")).await.status, StatusCode::OK);
    assert!(manifest.header("content-security-policy").contains("manifest-src 'self'"));
    let worker = get(&app, "/bench-worker.js").await;
    assert!(worker.header("content-type").starts_with("text/javascript"));
}

/// Colours of moulds have a cup and a label each, of their own amount.
#[tokio::test]
async fn cups_of_two_colours_are_labelled_by_colour() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let cast = app.create(&documents::moulds_of_two_colours()).await;
    let begun = post_as(&app, &format!("/casts/{cast}/runs"), &[], false).await;
    let bench = begun.header("location").to_owned();
    let labels = get(&app, &format!("{bench}/labels")).await.text;
    assert!(labels.contains("Cup 1 (sea)") && labels.contains("Cup 2 (clear)"), "{labels}");
    assert!(!labels.contains("Bucket 1"), "{labels}");
}

/// Somebody deletes the cast on another device while its bench stands open.
#[tokio::test]
async fn a_tap_of_a_deleted_cast_says_how_to_bring_it_back() {
    let (app, cast, bench) = running().await;
    let keep = format!("/casts/{cast}/keep");
    post_as(&app, &keep, &[("keep", "deleted")], false).await;
    let note = [("what", "noted"), ("note", "It drips")];
    let refused = tap(&app, &bench, &note).await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND);
    assert!(refused.text.starts_with("This cast has been deleted"), "{}", refused.text);
    post_as(&app, &keep, &[("keep", "open")], false).await;
    assert_eq!(tap(&app, &bench, &note).await.status, StatusCode::OK);
}

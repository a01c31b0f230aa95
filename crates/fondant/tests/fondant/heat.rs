//! Shelf and heat station in headless Chromium: a resin from its datasheet, a
//! log pasted and accepted, the field scrubbed, a depth dragged, a long
//! solve abandoned, resins compared and one chosen.

use std::sync::Arc;

use fondant_cast::{Document, Kind};
use fondant_heat::calibration::cup::Cup;
use fondant_heat::calibration::factors::Factors;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_quantities::{Length, Mass, Temperature};
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

/// What a thermometer in 300 g of medium casting epoxy shows, minute by minute.
fn log() -> String {
    let air = Temperature::from_celsius(22.0);
    let cup = Cup { mass: Mass::from_kg(0.3), air };
    let truth = Factors { rate: 1.2, heat: 0.93, loss: 1.1 };
    let times: Vec<f64> = (0..120).map(|i| f64::from(i) * 180.0).collect();
    let resin = shipped::generic(ResinClass::MediumCasting);
    let curve =
        cup.temperatures(&resin.generic(), &truth, air.k(), &times, &Stop::NEVER).expect("a curve");
    let line = |(t, k): (&f64, f64)| format!("{},{:.1}", t / 60.0, k - 273.15);
    let lines: Vec<String> = times.iter().zip(curve).map(line).collect();
    lines.join("\\n")
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_resin_is_entered_and_taught_and_chosen_for_a_cast() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Top").await;
    app.drive(move |browser| async move {
        browser.open("/shelf").await;
        browser.click("main a.button.main").await;
        browser.wait_for_text("h1", "What does the datasheet say?").await;
        browser.enter("#name", "jetty casting epoxy").await;
        // Another class brings its figures, and back; what was typed stays.
        let ratio = browser.value("#by_mass").await;
        for (class, is_medium) in [("coating", false), ("medium_casting", true)] {
            let choose = format!(
                "const f = document.getElementById('class'); f.value = '{class}'; \
                 f.dispatchEvent(new Event('change', {{ bubbles: true }}))"
            );
            browser.run(&choose).await;
            browser.find(&format!("input[name=class_was][value={class}]")).await;
            assert_eq!(browser.value("#by_mass").await == ratio, is_medium, "{class}");
            assert_eq!(browser.value("#name").await, "jetty casting epoxy");
        }
        browser.enter("#by_mass", "60").await;
        browser.enter("#by_volume", "").await;
        browser.enter("#density", "").await;
        browser.enter("#pot", "50").await;
        // Without its mass a pot life says nothing.
        browser.click("#resin-form button.main").await;
        browser.wait_for_text("#pot_mass-refusal", "without the mass").await;
        assert_eq!(browser.value("#name").await, "jetty casting epoxy");
        browser.enter("#pot_mass", "200 g").await;
        browser.enter("#pot_at", "22").await;
        browser.click("#resin-form button.main").await;
        browser.wait_for_text("h1", "jetty casting epoxy").await;
        browser.wait_for_text("table", "50").await;

        // A log that begins in the middle of nowhere, then a good one.
        browser.click("section a.button").await;
        browser.wait_for_text("h1", "What did the cup do?").await;
        browser.enter("#air", "22").await;
        browser.enter("#lot", "J-12").await;
        browser.enter("#log", "0 22\n5 23").await;
        browser.click("#log-form button.main").await;
        browser.wait_for_text("#log-refusal", "twelve or more").await;
        let paste = format!("document.getElementById('log').value = \"{}\"", log());
        browser.run(&paste).await;
        browser.click("#log-form button.main").await;
        browser.wait_for_text("#taught", "with this log").await;
        browser.wait_for_text("#taught", "Hottest, all in one pour").await;
        browser.click("#accept-form button.main").await;
        browser.wait_for_text("main", "lot J-12").await;

        // Compared with the others for a cast, and chosen with one key.
        browser.open(&format!("/casts/{}/resin", cast.0)).await;
        browser.wait_for_text(".choice[data-key=a]", "jetty casting epoxy").await;
        // A stray letter changes nothing; one typed into the list chooses.
        browser.press("a").await;
        let chosen = "return document.querySelector('[name=resin]:checked').id";
        let before = browser.run(chosen).await;
        assert_ne!(before, "resin-jetty-casting-epoxy");
        browser.find("[name=resin]:checked").await.send_keys("a").await.expect("the key is taken");
        browser.wait_for_text("#f-hottest", "limit 55").await;
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn the_field_is_scrubbed_and_the_depth_dragged() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Top").await;
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/heat", cast.0)).await;
        browser.find("#heat-field[data-state=done]").await;
        browser.wait_for_text(".field-says", "across the section").await;
        browser.wait_for_text(".field-now", "after the first pour").await;
        // It opens at the hottest moment, and the drawing says of it what the sentences say.
        let drawn =
            browser.run("return document.querySelector('#heat-field canvas').ariaLabel").await;
        let drawn = drawn.as_str().expect("a description");
        let (_, hottest) = drawn.rsplit_once("hottest ").expect("its temperature");
        browser.wait_for_text(".field-says", &format!("Hottest {hottest} after")).await;
        // Time is scrubbed to the end, where it has cooled.
        let before = browser.text(".field-now").await;
        let scrub = "const s = document.querySelector('.field-slider'); s.value = 1000; \
             s.dispatchEvent(new Event('input', { bubbles: true }));";
        browser.run(scrub).await;
        assert_ne!(browser.text(".field-now").await, before);
        // What is shown changes, and the plan does not.
        browser
            .run(
                "const s = document.querySelector('[data-field=show]'); s.value = 'cure'; \
                 s.dispatchEvent(new Event('change', { bubbles: true }));",
            )
            .await;
        let key = browser
            .run("return document.querySelector('.field-scale').getAttribute('aria-label')")
            .await;
        assert!(key.as_str().is_some_and(|text| text.contains("% cured")), "{key}");
        browser.find("#workspace[data-revision='1']").await;

        // A shallower layer, dragged: the label follows at once, the plan on release.
        let layers = browser.text("#f-layers").await;
        browser.drag(".grip circle:last-of-type", (-90.0, 0.0)).await;
        browser.find("#workspace[data-revision='2']").await;
        browser.wait_for_text(".notes", "less than they allow").await;
        assert_ne!(browser.text("#f-layers").await, layers);
        // Its mark says what stands beside it, which is no deeper than the layer may be.
        browser.enter("#layer_depth", "18.7 mm").await;
        browser.wait_for_text(".notes", "layers of at most 18 mm").await;
        browser.wait_for_text(".grip text", "18 mm: ").await;
        // Deeper than is allowed it counts only with a reason.
        browser.enter("#layer_depth", "60 mm").await;
        browser.wait_for_text(".notes", "Deeper than is allowed").await;
        browser.enter("#reason", "Poured like this over a cold slab.").await;
        browser.wait_for_text(".notes", "taken on by you").await;
        browser.enter("#layer_depth", "3 m").await;
        browser.wait_for_text("#layer_depth-refusal", "too much").await;
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_long_solve_is_abandoned_and_taken_up_again() {
    let mm = Length::from_mm;
    // Wide enough to take seconds.
    let piece = Piece::slab(mm(400.0), mm(300.0), mm(60.0), Length::ZERO);
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let block = Document::begin(Kind::Block, "Long block".into(), piece, documents::now());
    let cast = app.create(&block).await;
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/heat", cast.0)).await;
        browser.find(".field-abandon:not([hidden])").await;
        browser.click(".field-abandon").await;
        browser.wait_for_text(".field-wait", "Abandoned.").await;
        browser.click(".field-again").await;
        browser.find("#heat-field[data-state=done]").await;
        browser.wait_for_text(".field-says", "three dimensions").await;
        browser.assert_quiet().await;
    })
    .await;
}

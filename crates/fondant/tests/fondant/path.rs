//! The whole path of a maker in headless Chromium, from an empty shop to a
//! timed plan; and what happens when something goes wrong on the way.

use std::sync::Arc;

use fantoccini::Locator;
use fondant_testkit::{TestApp, documents};

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn from_the_tape_measure_to_a_timed_plan() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    app.drive(|browser| async move {
        // Begin a cast in an empty shop.
        browser.open("/").await;
        browser.wait_for_text("main", "No cast has pours yet.").await;
        browser.click("main a[href=\"/casts\"]").await;
        browser.wait_for_text("main", "No casts yet.").await;
        browser.click("a.button.main").await;
        browser.click("a.kind[href$=river]").await;
        browser.enter("#name", "Elm for the landing").await;
        for (field, text) in [
            ("#length", "1.5 m"),
            ("#width", "76 cm"),
            ("#thickness", "1 1/3 in"),
            ("#trim_margin", "10"),
        ] {
            browser.enter(field, text).await;
        }
        browser.click("button[type=submit]").await;
        browser.wait_for_text("h1", "Where does the resin run?").await;

        // Widths of the river, as makers type them; the drawing and the strip follow.
        browser.enter("#river-0", "8 1/2 in").await;
        browser.wait_for_text("#workspace tbody tr:nth-child(1)", "215.9").await;
        browser.enter("#river-1", "28,1cm").await;
        browser.wait_for_text(".sheet svg.wide", "281").await;
        browser.enter("#wall-1", "240").await;
        browser.enter("#b_density-0", "0.7 g/cm³").await;
        browser.wait_for_text(".boards", "700").await;
        assert_eq!(browser.value("#b_density-0").await, "0.7 g/cm³");
        let volume = browser.text("#f-volume").await;
        assert!(volume.contains('L') && volume.contains('±'), "{volume}");

        // Every figure of the strip opens its working.
        browser.click("#f-volume").await;
        browser.wait_for_text("#w-volume", "95 of 100").await;
        browser.click("#w-volume button").await;

        // Volume line by line, and the hold-down.
        browser.press("3").await;
        browser.wait_for_text("h1", "How much resin").await;
        browser.wait_for_text(".sheet", "Under the boards").await;
        browser.wait_for_text(".notes", "B, hardener").await;
        browser.wait_for_text(".notes", "on the near board").await;

        // Another resin, and back to the slow one.
        browser.press("4").await;
        browser.click("#resin-coating-epoxy").await;
        browser.wait_for_text("#f-hottest", "limit 60").await;
        browser.click("#resin-slow-casting-epoxy").await;
        browser.wait_for_text("#f-hottest", "limit 65").await;

        // A warmer shop allows less depth: all of it moves.
        browser.press("5").await;
        browser.wait_for_text("h1", "How hot will it get?").await;
        let deepest = browser.text("#f-deepest").await;
        browser.enter("#air", "77 °F").await;
        browser.wait_for_text("label[for=air]", "25").await;
        assert_eq!(browser.value("#air").await, "77 °F");
        let warmer = browser.text("#f-deepest").await;
        assert_ne!(deepest, warmer);
        browser.find(".sheet svg.wide path.limit").await;

        // Pour times inside the hours; a reload in the middle keeps everything.
        browser.press("6").await;
        browser.wait_for_text(".pours-table", "Layer 1").await;
        browser.wait_for_text("#opens", "The form can be opened from").await;
        let planned = browser.text(".pours-table").await;
        browser.client.refresh().await.unwrap();
        browser.wait_for_text(".pours-table", "Layer 1").await;
        assert_eq!(browser.text(".pours-table").await, planned);
        browser.open("/casts").await;
        browser.wait_for_text(".list-row", "Elm for the landing").await;
        browser.assert_quiet().await;
    })
    .await;
}

/// A clear block of 100 × 100 × 135 mm: 62 °C in one pour on every page.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_block_from_a_new_cast_to_a_taken_plan() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    app.drive(move |browser| async move {
        browser.open("/casts/new").await;
        browser.click("a.kind[href$='=block']").await;
        browser.enter("#name", "Clear block").await;
        for (field, text) in
            [("#length", "100"), ("#width", "100"), ("#thickness", "135"), ("#trim_margin", "0")]
        {
            browser.enter(field, text).await;
        }
        browser.click("button[type=submit]").await;
        browser.find("#workspace .rail").await;
        browser.press("1").await;
        browser.wait_for_text("h1", "What will it be").await;
        browser.enter("#squaring", "0").await;
        browser.find("#workspace[data-revision='2']").await;
        // As deep as it is, with a reason: the caution alone would make two pours of it.
        browser.press("5").await;
        browser.wait_for_text(".say", "below the limit").await;
        browser.enter("#layer_depth", "135").await;
        browser.find("#workspace[data-revision='3']").await;
        browser.enter("#reason", "poured before").await;
        browser.find("#workspace[data-revision='4']").await;
        browser.wait_for_text("#f-hottest", "62").await;
        browser.wait_for_text("#f-layers", "1").await;
        browser.press("6").await;
        browser.wait_for_text("label[for=lead]", "Work before the first pour").await;
        browser.wait_for_text(".pours-table", "62").await;
        browser.wait_for_text("#f-hottest", "62").await;
        let take = "document.querySelector('button[formaction$=settle]').click()";
        browser.run(take).await;
        // Three degrees under the limit, it would often be over: that is said before it is taken.
        browser.wait_for_text("p.trouble[role=alert]", "of 100 tries").await;
        browser.click("button[name=sure]").await;
        browser.wait_for_text(".standing", "Taken").await;
        browser.client.refresh().await.unwrap();
        browser.wait_for_text(".standing", "Taken").await;
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_bad_entry_is_said_at_its_field_and_the_rest_is_kept() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Careful").await;
    app.drive(move |browser| async move {
        let timber = format!("/casts/{}/timber", cast.0);
        browser.open(&timber).await;
        let before = browser.text("#f-volume").await;
        browser.enter("#river-1", "wide").await;
        browser.wait_for_text("#river-1-refusal", "“wide” is not a length").await;
        assert_eq!(browser.value("#river-1").await, "wide");
        assert_eq!(browser.text("#f-volume").await, before, "nothing changed");
        // A refused form is a network line of the log, and the only one.
        assert!(browser.log().await.iter().all(|line| line.contains("422")));
        browser.enter("#river-1", "300").await;
        browser.wait_for_text(".sheet svg.wide", "300").await;
        assert!(browser.client.find(Locator::Css("[aria-invalid=true]")).await.is_err());
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.value("#river-1").await, "300 mm");

        // A station more, in the middle: half typed it is not sent, whole it is.
        let rows = "return document.querySelectorAll('.stations-table tbody tr').length";
        browser.click("tbody tr:nth-child(2) .cross:nth-child(1)").await;
        browser.type_here("75 cm\t").await;
        assert!(browser.client.find(Locator::Css("[aria-invalid=true]")).await.is_err());
        browser.type_here("244\t").await;
        browser.wait_for_text(".sheet svg.wide[aria-label^='The cast']", "244").await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.run(rows).await, 5);
        assert_eq!(browser.value("#at-2").await, "75 cm");

        // One less by its button, and back by the keys.
        browser.click("tbody tr:nth-child(3) .cross:nth-child(2)").await;
        browser.wait_for_gone("#river-4").await;
        browser.press("\u{E009}z\u{E000}").await;
        browser.wait_for_text(".sheet svg.wide[aria-label^='The cast']", "244").await;
        assert_eq!(browser.run(rows).await, 5);
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_stale_tab_asks_what_to_do() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Two tabs").await;
    app.drive(move |browser| async move {
        let heat = format!("/casts/{}/heat", cast.0);
        browser.open(&heat).await;
        // Something is about to be typed here, so that the page does not follow the other tab.
        browser.run("document.getElementById('air').focus()").await;
        let first = browser.client.window().await.unwrap();
        let second = browser.client.new_window(true).await.unwrap().handle;
        browser.client.switch_to_window(second).await.unwrap();
        browser.open(&heat).await;
        browser.enter("#air", "24").await;
        browser.wait_for_text("label[for=air]", "75").await;
        browser.client.switch_to_window(first).await.unwrap();
        browser.enter("#air", "17").await;
        browser.wait_for_text(".banner[role=alert]:not([hidden])", "changed in another tab").await;
        assert_eq!(browser.value("#air").await, "17");
        browser.click("button[name=over]").await;
        browser.wait_for_text("label[for=air]", "63").await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.value("#air").await, "17 °C");
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn enter_saves_the_field_and_presses_no_other_button() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Late").await;
    fondant_app::casts::pours::settle(&app.app, cast, 1).await.expect("taken");
    app.set_now("2026-12-20T10:00:00Z".parse().unwrap());
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/pours", cast.0)).await;
        browser.wait_for_text(".sheet", "has passed").await;
        let begin = browser.value("#not_before").await;
        browser.find("#sanding").await.send_keys("\u{E009}a\u{E000}90 min\n").await.unwrap();
        browser.find("#workspace[data-revision='3']").await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.value("#sanding").await, "90 min");
        assert_eq!(browser.value("#not_before").await, begin, "\"Plan from now\" was not pressed");
        browser.click("button[name=from_now]").await;
        browser.wait_for_gone("button[name=from_now]").await;
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn quick_entries_one_after_another_are_all_kept() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Quick").await;
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/form", cast.0)).await;
        // Three changes before the first can have been answered.
        browser
            .run(
                "for (const [id, text] of [['base_gap', '3'], ['overfill', '4'], ['residue', '5']]) {
                   const field = document.getElementById(id);
                   field.value = text;
                   field.dispatchEvent(new Event('change', { bubbles: true }));
                 }",
            )
            .await;
        browser.wait_for_text(".sheet", "5 % of what is poured").await;
        browser.wait_for_text(".sheet", "4 mm proud").await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.value("#base_gap").await, "3 mm");
        assert_eq!(browser.value("#overfill").await, "4 mm");
        browser.assert_quiet().await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_link_waits_for_the_change_before_it_and_stays_where_that_is_refused() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("Hasty").await;
    app.drive(move |browser| async move {
        let leave_after = |text: &str| {
            format!(
                "const field = document.getElementById('air');
                 field.value = '{text}';
                 field.dispatchEvent(new Event('change', {{ bubbles: true }}));
                 document.querySelector('a[data-digit=\"6\"]').click();"
            )
        };
        let heat = format!("/casts/{}/heat", cast.0);
        browser.open(&heat).await;
        browser.run(&leave_after("23")).await;
        browser.wait_for_text("h1", "When does each layer go in?").await;
        browser.open(&heat).await;
        assert_eq!(browser.value("#air").await, "23 °C");
        browser.run(&leave_after("-40")).await;
        browser.wait_for_text("#air-refusal", "is too little").await;
        assert_eq!(browser.text("h1").await, "How hot will it get?");
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn pages_fit_a_phone_and_the_theme_is_remembered() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    let cast = app.cast("A name that is rather long for a narrow screen, and then some more").await;
    app.drive(move |browser| async move {
        browser.size(390, 844).await;
        for station in ["piece", "timber", "form", "resin", "heat", "pours"] {
            browser.open(&format!("/casts/{}/{station}", cast.0)).await;
            browser.find("h1").await;
            let wide = browser.run("return document.documentElement.scrollWidth").await;
            assert!(wide.as_i64().unwrap() <= 390, "{station} is {wide} px wide");
        }
        // The rail brings its station into sight, and the page stays at its top.
        let left = "return document.querySelector('.rail').scrollLeft";
        assert!(browser.run(left).await.as_f64().unwrap() > 0.0);
        browser.size(1280, 320).await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.run("return window.scrollY").await, 0);
        browser.size(1280, 800).await;
        browser.run("localStorage.setItem('theme', 'day')").await;
        browser.open("/casts").await;
        browser.click("header button").await;
        browser.open("/shop").await;
        browser.find("html[data-theme=evening]").await;
        browser.assert_quiet().await;
    })
    .await;
}

//! The bench in headless Chromium: three buckets with one over-pour and a short last one, a touch that moves
//! the window, a log over kills, readings.

use std::sync::Arc;

use fondant_app::bench::{begin as begin_run, folded, runs};
use fondant_app::casts::pours;
use fondant_app::devices;
use fondant_app::records::{CastId, KeptRun};
use fondant_bench::Happening;
use fondant_bench::reading::Place;
use fondant_cast::document::Split;
use fondant_cast::{Document, PourId};
use fondant_quantities::{Mass, TemperatureDelta};
use fondant_testkit::{Browser, Http, TestApp, documents};

use crate::program::Server;

/// A river top of a base and one layer of about 12 kg, in buckets of 4.5 kg.
pub(crate) fn river() -> Document {
    let mut document = documents::river_top("Long table");
    document.conditions.bucket = Mass::from_kg(4.5);
    document.pours.split = Split::Equal { count: 1 };
    document
}

pub(crate) async fn taken(app: &TestApp) -> (CastId, i64) {
    taken_of(app, &river()).await
}

async fn taken_of(app: &TestApp, document: &Document) -> (CastId, i64) {
    let cast = app.create(document).await;
    pours::settle(&app.app, cast, 1).await.expect("the times are taken");
    let taken = app.document(cast).await.pours.taken;
    app.set_now(taken[1].at);
    (cast, taken[1].id.0)
}

pub(crate) async fn kept(app: &TestApp, cast: CastId) -> KeptRun {
    runs(&app.app, &app.open(cast).await).await.expect("runs").remove(0)
}

/// Taps the act at hand once it is the one that is meant.
pub(crate) async fn tap(browser: &Browser, heading: &str) {
    browser.wait_for_text(".bench-now", heading).await;
    browser.click(".bench-go").await;
}

/// Begins the run of a pour, and looks at all of its ready list.
pub(crate) async fn begin(browser: &Browser, cast: CastId, pour: i64) {
    browser.open(&format!("/casts/{cast}/bench")).await;
    browser.click(&format!("button[name=pour][value=\"{pour}\"]")).await;
    ready(browser).await;
}

/// Looks at all of the ready list.
async fn ready(browser: &Browser) {
    for asked in ["layer below", "at their temperature", "air keep", "Gloves", "half an hour"] {
        tap(browser, asked).await;
    }
}

/// Weighs a part as it is typed.
async fn weigh(browser: &Browser, heading: &str, grams: &str) {
    browser.wait_for_text(".bench-now", heading).await;
    browser.enter("#act-amount", grams).await;
    browser.click(".bench-go").await;
}

/// From the moment when A meets B until the bucket is empty.
async fn mix_and_pour(browser: &Browser, bucket: u32) {
    tap(browser, &format!("Bucket {bucket}: let A meet B")).await;
    for heading in ["Mix bucket", "Pour bucket", "Empty bucket"] {
        tap(browser, &format!("{heading} {bucket}")).await;
    }
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn three_buckets_with_an_over_pour_and_a_touch_that_moves_the_window() {
    for (width, height) in [(1024, 768), (390, 844)] {
        let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
        let (cast, pour) = taken(&app).await;
        let driven = Arc::clone(&app);
        app.drive(move |browser| async move {
            browser.size(width, height).await;
            begin(&browser, cast, pour).await;
            weigh(&browser, "Weigh B into bucket 1", "1250").await;
            weigh(&browser, "Weigh A into bucket 1", "3000").await;
            // 3000 g of A ask for 1350 g of B: 100 g more bring the ratio back.
            browser.wait_for_text(".bench-act", "7.4 % too little B").await;
            browser.wait_for_text(".bench-other", "100 g B more").await;
            browser.click(".bench-other").await;
            browser.wait_for_text(".bench-log ul", "more into bucket 1").await;
            mix_and_pour(&browser, 1).await;
            weigh(&browser, "Weigh B into bucket 2", "1200").await;
            // 1200 / 0.45 = 2667 g of A.
            browser.wait_for_text(".bench-figure", "2667").await;
            tap(&browser, "Weigh A into bucket 2").await;
            mix_and_pour(&browser, 2).await;
            // The last one is made smaller, and the form is full before it is empty.
            browser.wait_for_text(".bench-log ul", "Bucket 2 is in").await;
            browser.click(".bench-more summary").await;
            browser.enter(".bench-tool input[value=resized] ~ .field input", "1450").await;
            browser.click(".bench-tool:has(input[value=resized]) button").await;
            browser.wait_for_text(".bench-figure", "450").await;
            tap(&browser, "Weigh B into bucket 3").await;
            browser.wait_for_text(".bench-figure", "1000").await;
            tap(&browser, "Weigh A into bucket 3").await;
            tap(&browser, "Bucket 3: let A meet B").await;
            tap(&browser, "Mix bucket 3").await;
            tap(&browser, "Pour bucket 3").await;
            browser.wait_for_text(".bench-now", "Empty bucket 3").await;
            browser.click("input[name=full]").await;
            browser.click(".bench-go").await;
            browser.wait_for_text(".bench-now", "Look for bubbles").await;
            // 4350 + 3867 + 1450 g went in.
            browser.wait_for_text(".bench-head", "9667 g of").await;
            let run = folded(&kept(&driven, cast).await);
            assert!((run.poured().kg() - 9.667).abs() < 2e-3, "{:?}", run.poured());
            // Twenty hours later it is still liquid: the window moves.
            driven.set_now(driven.app.now() + jiff::SignedDuration::from_hours(20));
            browser.open(&format!("/casts/{cast}/runs/{}", kept(&driven, cast).await.id)).await;
            browser.click("button[name=found][value=clear]").await;
            browser.wait_for_text(".bench-moved", "By touch it cures").await;
            browser.assert_quiet().await;
        })
        .await;
    }
}

/// Rounds of rows and kills; `FONDANT_KILLS` asks for more.
pub(crate) const KILLS: usize = 3;
/// Rows of a round, at most.
const ROWS: usize = 12;

/// "Killed at random moments of a run": the log is complete, in order and without doubles. A device that
/// heard no answer sends the row again with the same key.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_log_is_complete_in_order_and_without_doubles_after_kills() {
    let asked = std::env::var("FONDANT_KILLS").ok().and_then(|text| text.parse().ok());
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let (cast, pour) = taken(&app).await;
    let run = begin_run(&app.app, cast, Some(PourId(pour))).await.expect("a run");
    let rows = format!("/casts/{cast}/runs/{run}/rows");
    let mut sent = 0;
    for round in 0..asked.unwrap_or(KILLS) {
        let server = Server::start(&app.db.address, &[]).await;
        let http = Http::new(&server.base);
        let (acknowledged, mut seen) = tokio::sync::watch::channel(0);
        let device = tokio::spawn(send_rows(http, rows.clone(), sent, acknowledged));
        // In the middle of what is on its way, at another row every time.
        let enough = sent + round * 5 % ROWS;
        let _ = seen.wait_for(|count| *count > enough).await;
        server.kill().await;
        sent = device.await.expect("the device goes on");
    }
    let kept = kept(&app, cast).await;
    let notes: Vec<String> = kept
        .rows
        .iter()
        .map(|row| match &row.what {
            Happening::Noted { note } => note.clone(),
            other => panic!("{other:?}"),
        })
        .collect();
    // The last row may have been written without its answer being heard.
    assert!(notes.len() == sent || notes.len() == sent + 1, "{} of {sent}", notes.len());
    let expected: Vec<String> = (0..notes.len()).map(|number| format!("row {number}")).collect();
    assert_eq!(notes, expected);
}

/// Sends numbered rows one after the other until the server is gone; returns the first that was not
/// acknowledged, which is sent again with its own key.
async fn send_rows(
    http: Http,
    rows: String,
    from: usize,
    acknowledged: tokio::sync::watch::Sender<usize>,
) -> usize {
    for number in from..from + 10 * ROWS {
        let (key, note) = (format!("device-row-{number}"), format!("row {number}"));
        let row = [("what", "noted"), ("note", &*note), ("key", &*key)];
        match http.post(&rows, &row).await {
            Ok(answer) if answer.status.is_success() => {
                let _ = acknowledged.send(number + 1);
            }
            _ => return number,
        }
    }
    from + 10 * ROWS
}

/// Readings reach the page of instruments as they come in, and no other page is reloaded by them.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_reading_shows_where_it_is_asked_for_and_reloads_nothing() {
    // The thermometer of the bucket reads.
    const BUCKET: &str = "dispatchEvent(new CustomEvent('bench:read', \
         { detail: { place: 'bucket', value: 291.15, doubt: null } }))";
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let mut warm = river();
    warm.conditions.resin = warm.conditions.air + TemperatureDelta::from_k(4.0);
    let (cast, pour) = taken_of(&app, &warm).await;
    let shop = app.shop().await;
    let added = devices::add(&app.app, &shop, "Scale".into(), Place::Scale).await.expect("added");
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        const GO: &str = "return document.querySelector('.bench-go').offsetTop";
        let reads = async |seq: i64, grams: f64| {
            let at = driven.app.now();
            let line = format!(
                "{{\"device\":\"Scale\",\"seq\":{seq},\"at\":\"{at}\",\"quantity\":\"mass\",\"value\":{grams},\"unit\":\"g\"}}"
            );
            let taken = devices::take(&driven.app, &added.token, &line).await.expect("taken");
            assert_eq!(taken.expect("its token").taken, 1);
        };
        browser.open("/shop/devices").await;
        browser.run("window.stays = true").await;
        reads(1, 812.0).await;
        browser.wait_for_text("#device-list", "812.0 g").await;
        assert_eq!(browser.run("return window.stays").await, true);
        browser.open(&format!("/casts/{cast}/bench")).await;
        browser.click(&format!("button[name=pour][value=\"{pour}\"]")).await;
        // A bottle in warm water is read by the gun, not by the bucket's thermometer.
        browser.click(".is-warm summary").await;
        browser.click(".is-warm button").await;
        let bottle = ".bench-tool:has(input[value=bottle_read]) input[name=temperature]";
        browser.find(bottle).await;
        browser.run(BUCKET).await;
        assert_eq!(browser.value(bottle).await, "");
        ready(&browser).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        let stands = browser.run(GO).await;
        reads(2, 700.0).await;
        browser.wait_for_text("#bench-live", "Scale 700 g").await;
        assert_eq!(browser.value("#act-amount").await, "700 g");
        assert_eq!(browser.run(GO).await, stands, "what a finger is on its way to does not move");
        // One reading is not a scale at rest.
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-refusal", "The scale has not settled").await;
        // What is typed is not overwritten, and what cannot be is shown and not taken over.
        browser.enter("#act-amount", "1111").await;
        browser.find("#act-amount").await;
        let stands = browser.run(GO).await;
        reads(3, 9_000_000.0).await;
        browser.wait_for_text("#bench-live", "not believed").await;
        assert_eq!(browser.value("#act-amount").await, "1111");
        assert_eq!(browser.run(GO).await, stands);
        // The next act tells what the scale read last, before it reads again.
        browser.run(BUCKET).await;
        browser.click(".bench-go").await;
        browser.wait_for_text(".bench-now", "Weigh A").await;
        browser.wait_for_text("#bench-live", "not believed").await;
    })
    .await;
}

//! The bench in headless Chromium: three buckets with one over-pour and a short last one, rows that
//! wait for a connection, a second device, a touch that moves the window.

use std::sync::Arc;

use fondant_app::bench::{begin as begin_run, folded, runs};
use fondant_app::casts::pours;
use fondant_app::devices;
use fondant_app::records::{CastId, KeptRun};
use fondant_bench::Happening;
use fondant_bench::reading::Place;
use fondant_cast::document::{RecipeColour, Split};
use fondant_cast::{Document, PourId};
use fondant_quantities::Mass;
use fondant_testkit::{Browser, Http, TestApp, documents, with_browser};

use crate::program::Server;

/// A river top of a base and one layer of about 12 kg, in buckets of 4.5 kg.
fn river() -> Document {
    let mut document = documents::river_top("Long table");
    document.conditions.bucket = Mass::from_kg(4.5);
    document.pours.split = Split::Equal { count: 1 };
    document
}

pub(crate) async fn taken(app: &TestApp) -> (CastId, i64) {
    let cast = app.create(&river()).await;
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
async fn begin(browser: &Browser, cast: CastId, pour: i64) {
    browser.open(&format!("/casts/{cast}/bench")).await;
    browser.click(&format!("button[name=pour][value=\"{pour}\"]")).await;
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
            browser.wait_for_text(".bench-other", "100\u{202f}g B more").await;
            browser.click(".bench-other").await;
            browser.wait_for_text(".bench-log", "more into bucket 1").await;
            mix_and_pour(&browser, 1).await;
            weigh(&browser, "Weigh B into bucket 2", "1200").await;
            // 1200 / 0.45 = 2667 g of A.
            browser.wait_for_text(".bench-figure", "2667").await;
            tap(&browser, "Weigh A into bucket 2").await;
            mix_and_pour(&browser, 2).await;
            // The last one is made smaller, and the form is full before it is empty.
            browser.wait_for_text(".bench-log", "Bucket 2 is in").await;
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
            browser.wait_for_text(".bench-head", "9667\u{202f}g of").await;
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

/// Rows tapped without a connection stand as waiting, over a reload too, and are written once each, in
/// their order and with their own hours.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn rows_wait_for_a_connection_and_are_written_once_each() {
    const CUT: &str = "window.reached = window.fetch; \
        window.fetch = () => Promise.reject(new TypeError('no connection')); return true";
    const PLACE: &str =
        "return document.querySelector('.bench-go').getBoundingClientRect().top + scrollY";
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let (cast, pour) = taken(&app).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        browser.size(390, 844).await;
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        let before = kept(&driven, cast).await.rows.len();
        let place = browser.run(PLACE).await;
        browser.run(CUT).await;
        browser.enter("#act-amount", "1200").await;
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-queue", "1 row waiting to be sent").await;
        assert_eq!(browser.run(PLACE).await, place, "what is tapped next has moved");
        browser.click(".bench-more summary").await;
        browser.enter("form:has(input[value=noted]) input[name=note]", "form wiped").await;
        browser.click("form:has(input[value=noted]) button").await;
        browser.wait_for_text("#bench-queue", "2 rows waiting to be sent").await;
        browser.wait_for_text("#bench-unsent", "form wiped").await;
        assert_eq!(kept(&driven, cast).await.rows.len(), before);
        // The tab is closed and opened again: nothing was lost.
        browser.open(&format!("/casts/{cast}/runs/{}", kept(&driven, cast).await.id)).await;
        browser.wait_for_text(".bench-log ul", "form wiped").await;
        browser.wait_for_text(".bench-now", "Weigh A").await;
        let rows = kept(&driven, cast).await.rows;
        let told: Vec<&Happening> = rows[before..].iter().map(|row| &row.what).collect();
        assert!(
            matches!(told[..], [Happening::Weighed { .. }, Happening::Noted { .. }]),
            "{told:?}"
        );
        // What another device has done meanwhile is told beside what was tapped here.
        browser.run(CUT).await;
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-queue", "1 row waiting to be sent").await;
        let run = kept(&driven, cast).await;
        let a = Happening::Weighed {
            batch: 1,
            part: fondant_bench::weighing::Part::A,
            mass: Mass::from_kg(2.5),
        };
        let row = fondant_app::records::NewRow {
            key: "other-tablet".into(),
            at: driven.app.now(),
            by: "Other tablet".into(),
            what: a,
        };
        fondant_app::bench::write_down(&driven.app, (cast, run.id), row).await.expect("written");
        browser.run("window.fetch = window.reached; dispatchEvent(new Event('online'))").await;
        browser.wait_for_text("#bench-refusal", "A is in this bucket already: 2500\u{202f}g").await;
        browser.wait_for_text(".bench-log", "Other tablet").await;
        browser.wait_for_text(".bench-now", "let A meet B").await;
    })
    .await;
}

/// While a row is on its way, what is tapped next waits behind it; the same button once more is the same
/// tap. A server that says nothing is asked again.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn what_is_tapped_while_a_row_is_on_its_way_is_kept() {
    // Nothing is answered any more, until the page's patience is ended by hand.
    const HOLD: &str = "window.reached = window.fetch; \
        window.fetch = (address, { signal }) => new Promise((_, failed) => \
          signal.addEventListener('abort', () => failed(signal.reason))); \
        AbortSignal.timeout = () => { window.patience = new AbortController(); return patience.signal; }";
    const LET_GO: &str = "window.fetch = window.reached; patience.abort()";
    const WRITE: &str = "form:has(input[value=noted]) button";
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let (cast, pour) = taken(&app).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        let before = kept(&driven, cast).await.rows.len();
        browser.click(".bench-more:not(.is-warm) summary").await;
        browser.run(HOLD).await;
        for note in ["one", "two", "three"] {
            browser.enter(NOTE, note).await;
            browser.click(WRITE).await;
        }
        // Tapped twice, then typed and tapped again.
        browser.enter("#act-amount", "1200").await;
        browser.click(".bench-go").await;
        browser.click(".bench-go").await;
        browser.enter("#act-amount", "1200").await;
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-queue", "4 rows waiting to be sent").await;
        browser.run(LET_GO).await;
        browser.wait_for_text(".bench-now", "Weigh A").await;
        let rows = kept(&driven, cast).await.rows;
        let told: Vec<String> =
            rows[before..].iter().map(|row| format!("{:?}", row.what)).collect();
        assert_eq!(told.len(), 4, "{told:?}");
        for (row, written) in told.iter().zip(["one", "two", "three", "1.2"]) {
            assert!(row.contains(written), "{told:?}");
        }
    })
    .await;
}

/// "The server is killed": the page opens again from what the device keeps, what is tapped meanwhile
/// waits, and the server that comes back has every row once.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_killed_server_loses_no_tap_and_the_bench_opens_without_it() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let cast = app.create(&river()).await;
    pours::settle(&app.app, cast, 1).await.expect("the times are taken");
    let pour = app.document(cast).await.pours.taken[1].id.0;
    let server = Server::start(&app.db.address, &[]).await;
    let port = server.base.rsplit(':').next().expect("a port").to_owned();
    with_browser(server.base.clone(), async move |browser| {
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        browser.find("html[data-kept=bench]").await;
        let before = kept(&app, cast).await;
        server.kill().await;
        browser.enter("#act-amount", "1200").await;
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-queue", "1 row waiting to be sent").await;
        browser.open(&format!("/casts/{cast}/runs/{}", before.id)).await;
        browser.wait_for_text("#bench-unsent", "B is in 1200").await;
        let again = Server::start(&app.db.address, &["--port", &port]).await;
        browser.wait_for_text(".bench-now", "Weigh A").await;
        browser.wait_for_text(".bench-log", "1200\u{202f}g B into bucket 1").await;
        let rows = kept(&app, cast).await.rows;
        assert_eq!(rows.len(), before.rows.len() + 1);
        again.kill().await;
    })
    .await;
}

/// An answer that was asked for before a tap, and comes after it, takes nothing back.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn an_answer_that_was_overtaken_changes_nothing() {
    const HOLD: &str = "const ask = fetch; window.fetch = async (where, how) => {
        if (how.method) return ask(where, how);
        const text = await (await ask(where, how)).text();
        const { dataset } = document.documentElement;
        await new Promise((go) => { window.letGo = go; dataset.held = '1'; });
        return { ok: true, text: async () => { setTimeout(() => { dataset.come = '1'; }, 0); return text; } };
      };
      dispatchEvent(new Event('bench:again'))";
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let (cast, pour) = taken(&app).await;
    app.drive(move |browser| async move {
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        browser.run(HOLD).await;
        browser.find("html[data-held]").await;
        browser.enter("#act-amount", "1200").await;
        browser.click(".bench-go").await;
        browser.wait_for_text(".bench-now", "Weigh A").await;
        browser.run("window.letGo()").await;
        browser.find("html[data-come]").await;
        assert!(browser.text(".bench-now").await.contains("Weigh A"));
    })
    .await;
}

/// Another device writes a note down.
async fn other_notes(app: &TestApp, cast: CastId, note: &str) {
    let row = fondant_app::records::NewRow {
        key: format!("other-tablet-{note}"),
        at: app.app.now(),
        by: "Other tablet".into(),
        what: Happening::Noted { note: note.into() },
    };
    let run = kept(app, cast).await.id;
    fondant_app::bench::write_down(&app.app, (cast, run), row).await.expect("written");
}

/// The field of a note.
const NOTE: &str = "form:has(input[value=noted]) input[name=note]";

/// Keys go on where they went, whatever others write between two of them: before the first word of a note
/// that is half typed, into a field that is still empty, into the name of this device.
async fn keys_go_on(browser: &Browser, app: &TestApp, cast: CastId) {
    const WHY: &str = "form:has(input[value=abandoned]) input[name=note]";
    let half = browser.value(NOTE).await;
    browser.run(&format!("document.querySelector('{NOTE}').setSelectionRange(0, 0)")).await;
    let typed = [
        (NOTE, "now ", format!("now {half}")),
        (WHY, "cracked", "cracked".into()),
        ("#bench-by", "Blue", "Blue".into()),
    ];
    for (number, (field, keys, value)) in typed.iter().enumerate() {
        browser.run(&format!("document.querySelector('{field}').focus()")).await;
        let note = format!("word {number}");
        other_notes(app, cast, &note).await;
        browser.wait_for_text(".bench-log", &note).await;
        browser.type_here(keys).await;
        assert_eq!(&browser.value(field).await, value);
    }
    other_notes(app, cast, "the last word").await;
    browser.wait_for_text(".bench-log", "the last word").await;
    for (field, _, value) in &typed {
        assert_eq!(&browser.value(field).await, value);
    }
}

/// What is typed stays while others write, though its field has been left; what is refused stands there
/// again.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn what_is_typed_outlives_what_others_write() {
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let (cast, pour) = taken(&app).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        browser.click(".bench-more:not(.is-warm) summary").await;
        browser.enter(NOTE, "half a sentence").await;
        browser.enter("#act-amount", "1111").await;
        other_notes(&driven, cast, "from the other one").await;
        browser.wait_for_text(".bench-log", "from the other one").await;
        assert_eq!(browser.value(NOTE).await, "half a sentence");
        assert_eq!(browser.value("#act-amount").await, "1111");
        keys_go_on(&browser, &driven, cast).await;
        browser.enter(NOTE, "half a sentence").await;
        browser.enter("#act-amount", "a lot").await;
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-refusal", "“a lot” is not a mass").await;
        assert_eq!(browser.value("#act-amount").await, "a lot");
        assert_eq!(browser.value(NOTE).await, "half a sentence");
    })
    .await;
}

/// The amount of one colour that is typed here is not put to the next, when the other tablet has written the
/// first one down.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn what_is_typed_of_one_colour_is_nothing_to_the_next() {
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let mut document = river();
    let colour = RecipeColour::of_all;
    document.recipe.colours = vec![colour("sea", 0.3), colour("foam", 0.1)];
    let cast = app.create(&document).await;
    pours::settle(&app.app, cast, 1).await.expect("the times are taken");
    let pour = app.document(cast).await.pours.taken[1];
    app.set_now(pour.at);
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        begin(&browser, cast, pour.id.0).await;
        tap(&browser, "Weigh B into bucket 1").await;
        tap(&browser, "Weigh A into bucket 1").await;
        browser.wait_for_text(".bench-now", "Sea into bucket 1").await;
        browser.enter("#act-amount", "77").await;
        let run = kept(&driven, cast).await;
        let what = Happening::Tinted { batch: 1, colour: "sea".into(), mass: Mass::from_kg(0.013) };
        let (key, by) = ("other-tablet".into(), String::new());
        let row = fondant_app::records::NewRow { key, at: driven.app.now(), by, what };
        fondant_app::bench::write_down(&driven.app, (cast, run.id), row).await.expect("written");
        browser.wait_for_text(".bench-now", "Foam into bucket 1").await;
        assert_ne!(browser.value("#act-amount").await, "77");
    })
    .await;
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
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let (cast, pour) = taken(&app).await;
    let shop = app.shop().await;
    let added = devices::add(&app.app, &shop, "Scale".into(), Place::Scale).await.expect("added");
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
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
        browser.wait_for_text("#device-list", "812.0\u{202f}g").await;
        assert_eq!(browser.run("return window.stays").await, true);
        begin(&browser, cast, pour).await;
        browser.wait_for_text(".bench-now", "Weigh B").await;
        reads(2, 700.0).await;
        browser.wait_for_text("#bench-live", "Scale 700 g").await;
        assert_eq!(browser.value("#act-amount").await, "700 g");
        // One reading is not a scale at rest.
        browser.click(".bench-go").await;
        browser.wait_for_text("#bench-refusal", "The scale has not settled").await;
        // What is typed is not overwritten, and what cannot be is shown and not taken over.
        browser.enter("#act-amount", "1111").await;
        browser.find("#act-amount").await;
        reads(3, 9_000_000.0).await;
        browser.wait_for_text("#bench-live", "not believed").await;
        assert_eq!(browser.value("#act-amount").await, "1111");
    })
    .await;
}

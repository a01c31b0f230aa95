//! What is tapped and typed at the bench, in headless Chromium: rows wait for a connection and are written
//! once each, and no answer takes away what a hand is about.

use std::sync::Arc;

use fondant_app::bench::write_down;
use fondant_app::casts::pours;
use fondant_app::records::{CastId, NewRow};
use fondant_bench::Happening;
use fondant_bench::weighing::Part;
use fondant_cast::document::RecipeColour;
use fondant_quantities::Mass;
use fondant_testkit::{Browser, TestApp, documents, with_browser};

use crate::bench::{begin, kept, river, taken, tap};
use crate::program::Server;

/// The field of a note.
const NOTE: &str = "form:has(input[value=noted]) input[name=note]";

/// Another device writes something down.
async fn other_writes(app: &TestApp, cast: CastId, what: Happening) {
    let (key, by) = (format!("other-tablet-{what:?}"), "Other tablet".into());
    let row = NewRow { key, at: app.app.now(), by, what };
    let run = kept(app, cast).await.id;
    write_down(&app.app, (cast, run), row).await.expect("written");
}

/// Another device writes a note down.
async fn other_notes(app: &TestApp, cast: CastId, note: &str) {
    other_writes(app, cast, Happening::Noted { note: note.into() }).await;
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
        let mass = Mass::from_kg(2.5);
        other_writes(&driven, cast, Happening::Weighed { batch: 1, part: Part::A, mass }).await;
        browser.run("window.fetch = window.reached; dispatchEvent(new Event('online'))").await;
        browser.wait_for_text("#bench-refusal", "A is in this bucket already: 2500 g").await;
        browser.wait_for_text(".bench-log ul", "Other tablet").await;
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

/// A double tap is one: the answer to its first half comes before the second, which would tap the act that
/// comes next.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_double_tap_is_one_tap() {
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let (cast, pour) = taken(&app).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{cast}/bench")).await;
        browser.click(&format!("button[name=pour][value=\"{pour}\"]")).await;
        browser.wait_for_text(".bench-now", "layer below").await;
        let place = browser.lift(".bench-go", (0.0, 0.0)).await;
        browser.let_go(place).await;
        browser.wait_for_text(".bench-now", "at their temperature").await;
        let (x, y) = place;
        let under = format!("return document.elementFromPoint({x}, {y}).matches('.bench-go')");
        assert_eq!(browser.run(&under).await, true, "the next act is tapped otherwise");
        browser.click_again(place).await;
        // What is tapped afterwards is the next row.
        browser.click(".bench-more:not(.is-warm) summary").await;
        browser.enter(NOTE, "wiped").await;
        browser.click("form:has(input[value=noted]) button").await;
        browser.wait_for_text(".bench-log ul", "wiped").await;
        let rows = kept(&driven, cast).await.rows;
        let told: Vec<&Happening> = rows.iter().map(|row| &row.what).collect();
        assert!(matches!(told[..], [_, Happening::Noted { .. }]), "{told:?}");
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
        browser.wait_for_text(".bench-log ul", "1200 g B into bucket 1").await;
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
        browser.wait_for_text(".bench-log ul", &note).await;
        browser.type_here(keys).await;
        assert_eq!(&browser.value(field).await, value);
    }
    other_notes(app, cast, "the last word").await;
    browser.wait_for_text(".bench-log ul", "the last word").await;
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
        browser.wait_for_text(".bench-log ul", "from the other one").await;
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
        let what = Happening::Tinted { batch: 1, colour: "sea".into(), mass: Mass::from_kg(0.013) };
        other_writes(&driven, cast, what).await;
        browser.wait_for_text(".bench-now", "Foam into bucket 1").await;
        assert_ne!(browser.value("#act-amount").await, "77");
    })
    .await;
}

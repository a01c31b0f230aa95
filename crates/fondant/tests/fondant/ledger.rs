//! A cast finished; a fault marked, explained and confirmed; the record printed, the cast put into the
//! ledger; two casts compared; the cast taken out as an archive and brought in again.

use std::sync::Arc;

use fondant_app::{Request, ending};
use fondant_record::end::Outcome;
use fondant_record::figures::{Figure, Figures};
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::access::TOO_SMALL;

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn from_a_fault_to_the_ledger_and_a_comparison() {
    let app = Arc::new(TestApp::new(&documents::workshop(8, 18)).await);
    // Five casts that are in the ledger already, so that a spread is known.
    for (number, bucket) in (1..).zip([295.0, 296.0, 295.5, 296.5, 296.2]) {
        let cast = app.cast(&format!("Board {number}")).await;
        let mut figures = Figures::default();
        figures.set(Figure::Bucket, bucket);
        let told = ending::Told {
            outcome: Outcome::Finished,
            ended_at: documents::now() - SignedDuration::from_hours(24 * number),
            people: String::new(),
            note: String::new(),
            figures,
        };
        let seen = ending::Seen { cast: 1, record: None };
        ending::close(&app.app, cast, seen, told).await.expect("it is closed");
    }
    let cast = app.cast("Board with bubbles").await;
    let fault = fondant_record::fault::Fault {
        kind: fondant_record::fault::FaultKind::Haze,
        place: None,
        size: None,
        note: String::new(),
    };
    ending::mark(&app.app, cast, &fault, &Request::default()).await.expect("a fault");
    app.drive(move |browser| async move {
        // Finished first: a step is timed, a time is typed in two ways, and one too many is taken back.
        browser.open(&format!("/casts/{cast}/finish")).await;
        browser.click("#step-flatten button[value=start]").await;
        browser.wait_for_text("#step-flatten", "in progress since").await;
        browser.client.refresh().await.expect("a reload");
        browser.click("#step-flatten button[value=stop]").await;
        browser.click("#step-sand summary").await;
        browser.enter("#took_sand", "soon").await;
        browser.click("#step-sand button[value=took]").await;
        browser.wait_for_text("#took_sand-refusal", "such as 90 or 1 h 30 min").await;
        assert_eq!(browser.value("#took_sand").await, "soon");
        browser.enter("#took_sand", "3 h 30 min").await;
        browser.click("#step-sand button[value=took]").await;
        browser.wait_for_text("#step-sand", "worked 3 h 30 min").await;
        browser.click("#step-sand button[value=done]").await;
        browser.wait_for_text("#step-sand", "your pace:").await;
        browser.click("button[name=school][value=flood_coat]").await;
        browser.wait_for_text("#step-surface", "of coating resin").await;
        browser.click("button[name=back]").await;
        browser.wait_for_text("#step-surface", "of oil").await;

        browser.open(&format!("/casts/{cast}/record")).await;
        // A tap on the piece is the place of the fault.
        browser.click("svg.fault-map").await;
        assert!(browser.value("#at_x").await.ends_with(" mm"));
        // A tap on the cut says how high it is, and leaves where it is along the piece.
        let along = browser.value("#at_x").await;
        browser.click(".fault-section-box svg.wide").await;
        assert!(browser.value("#at_z").await.ends_with(" mm"));
        assert_eq!(browser.value("#at_x").await, along);
        // Without saying what is wrong, the place that was tapped stays.
        browser.click("#fault-form button").await;
        browser.wait_for_text("#kind-refusal", "Choose what is wrong").await;
        assert!(browser.value("#at_x").await.ends_with(" mm"));
        browser.run("document.querySelector('#kind').value = 'bubbles'").await;
        browser.click("#fault-form button").await;
        browser.wait_for_text("#fault-2", "Bubbles inside").await;
        browser.find("svg.fault-map circle.fault-mark").await;
        browser.find("#fault-2 .fault-section circle.fault-mark").await;
        // A cold bucket is said at the end, and moves the causes.
        browser.enter("#bucket", "13 °C").await;
        browser.click("#station-form button.main").await;
        browser.wait_for_text("#fault-2 .cause", "Cold, thick resin").await;
        browser.wait_for_text(".station", "Unlike the others of its kind: Coldest bucket").await;
        browser.click("#fault-2 .cause button").await;
        browser.wait_for_text("#fault-2", "It was this: Cold, thick resin").await;
        browser.client.refresh().await.expect("a reload");
        // Somebody else changes the record meanwhile: nothing is kept over it unless that is chosen.
        browser.run("document.querySelector('#station-form [name=record]').value = '0'").await;
        browser.enter("#note", "seen late").await;
        browser.click("#station-form p button").await;
        browser.wait_for_text(".banner[role=alert]:not([hidden])", "changed in another tab").await;
        assert_eq!(browser.value("#note").await, "seen late");
        let said = browser.log().await;
        let is_known = |line: &String| line.contains("status of 409") || line.contains("status of 422");
        assert!(said.iter().all(is_known), "{said:?}");
        browser.click(".banner button[name=over]").await;
        browser.wait_for_text("#fault-2", "It was this").await;
        assert_eq!(browser.value("#note").await, "seen late");
        browser.wait_for_text("#fault-2", "It was this").await;

        // On paper for the customer there are neither faults nor remarks; for the shop there are both.
        browser.open(&format!("/casts/{cast}/record/sheet")).await;
        browser.find("svg.qr .qr-ink").await;
        let paper = browser.text("main").await;
        assert!(!paper.contains("Bubbles") && !paper.contains("seen late"), "{paper}");
        browser.open(&format!("/casts/{cast}/record/sheet?shop=true")).await;
        browser.wait_for_text("main", "Bubbles inside: Cold, thick resin").await;
        browser.wait_for_text("main", "seen late").await;

        browser.open("/ledger").await;
        browser.enter("#words", "Board 3").await;
        browser.wait_for_text(".ledger-totals", "1\ncasts").await;
        let cleared = "const words = document.querySelector('#words'); words.value = '';
            words.dispatchEvent(new Event('input', { bubbles: true }))";
        browser.run(cleared).await;
        browser.wait_for_text(".ledger-totals", "6\ncasts").await;
        browser.run("document.querySelectorAll('.ledger-table tbody tr')[0].querySelector('[name=one]').click(); document.querySelectorAll('.ledger-table tbody tr')[2].querySelector('[name=other]').click()").await;
        browser.click("#ledger-found form button.button").await;
        browser.wait_for_text("#compare", "What differs most: Coldest bucket").await;
        browser.wait_for_text("#compare tbody tr:first-child", "13 °C").await;

        for page in ["/ledger".to_owned(), format!("/casts/{cast}/record")] {
            browser.open(&page).await;
            let faults = browser.faults_of_access(&[]).await;
            assert!(faults.is_empty(), "{page}: {faults:?}");
            browser.size(390, 800).await;
            let small = browser.run(TOO_SMALL).await;
            assert_eq!(small, serde_json::json!([]), "{page}");
            let wide = browser.run("return document.documentElement.scrollWidth").await;
            assert_eq!(wide, serde_json::json!(390), "{page}");
            browser.size(1280, 800).await;
        }
        // Out as an archive and in again, it is the same cast beside itself.
        browser.open("/casts").await;
        let fetched = format!("fetch('/casts/{cast}/export/cast.zip').then(a => a.blob())");
        let twin = "FETCHED.then(blob => {
            const files = new DataTransfer(), field = document.querySelector('#file');
            files.items.add(new File([blob], 'cast.zip'));
            field.files = files.files;
            field.form.querySelector('button').click();
        })";
        browser.run(&twin.replace("FETCHED", &fetched)).await;
        browser.wait_for_text("#fault-2", "It was this: Cold, thick resin").await;
        assert_eq!(browser.value("#note").await, "seen late");
        browser.open("/ledger").await;
        browser.wait_for_text(".ledger-totals", "7\ncasts").await;
        browser.assert_quiet().await;
    })
    .await;
}

//! Two dozen tube blanks at the bench in headless Chromium: labels, cups of fast resin, the pressure pot,
//! with instruments that are played by hand in a second window.

use std::sync::Arc;

use fondant_cast::{Contents, Document, Kind};
use fondant_quantities::Length;
use fondant_shapes::blanks::Hollow;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::form::Piece;
use fondant_testkit::{Browser, TestApp, documents};

use crate::bench::{kept, tap};

fn blanks() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(75.0), mm(22.0), mm(22.0), mm(0.0));
    let mut document = Document::begin(Kind::Tubes, "Two dozen".into(), piece, documents::now());
    let Contents::Tubes(tubes) = &mut document.contents else { panic!("tubes") };
    tubes.count = 24;
    tubes.hollow = Hollow::Round { diameter: mm(22.0), depth: mm(75.0) };
    tubes.pot = Some(Pot { diameter: mm(300.0), height: mm(350.0), shelf: mm(6.0), gap: mm(8.0) });
    document
}

/// Sets a played instrument to a value; it begins to send.
async fn play(browser: &Browser, name: &str, value: &str) {
    let script = format!(
        "const slider = document.querySelector('[data-played=\"{name}\"] input[type=range]'); \
         slider.value = {value}; slider.dispatchEvent(new Event('input'))"
    );
    browser.run(&script).await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn two_dozen_tubes_are_labelled_poured_and_held_under_pressure() {
    let mut workshop = documents::workshop(0, 23);
    workshop.shop.pot_bar = Some(3.0);
    let app = Arc::new(TestApp::new(&workshop).await);
    let cast = app.create(&blanks()).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        browser.size(1024, 768).await;
        browser.open(&format!("/casts/{cast}/bench")).await;
        browser.click("button[form=run-form]").await;
        for asked in
            ["Are the tubes", "Is the pot", "temperature", "air keep", "Gloves", "half an hour"]
        {
            tap(&browser, asked).await;
        }
        browser.wait_for_text(".bench-now", "into bucket 1").await;
        let run = kept(&driven, cast).await;
        let count = fondant_bench::batches::split(run.plan.mass(), run.plan.batch).count;
        let bench = format!("/casts/{cast}/runs/{}", run.id);
        // Each bucket has its label.
        browser.open(&format!("{bench}/labels")).await;
        browser.wait_for_text(".cup-bucket", "Bucket 1").await;
        let labels = browser.run("return document.querySelectorAll('.cup-bucket').length").await;
        assert_eq!(labels, count);
        browser.open(&bench).await;
        for bucket in 1..=count {
            for part in ["B", "A"] {
                tap(&browser, &format!("{part} into bucket {bucket}")).await;
            }
            tap(&browser, &format!("Bucket {bucket}: let A meet B")).await;
            for heading in ["Mix bucket", "Pour bucket", "Empty bucket"] {
                tap(&browser, &format!("{heading} {bucket}")).await;
            }
        }
        browser.wait_for_text(".bench-now", "Close the pot").await;
        browser.wait_for_text(".bench-act", "never modify it").await;
        // In a second window a gauge is played: what it reads stands in the field here.
        let here = browser.client.window().await.expect("a window");
        let played = browser.client.new_window(true).await.expect("a second window").handle;
        browser.client.switch_to_window(played).await.expect("it opens");
        browser.open("/shop/devices").await;
        browser.click("form[action$='/play'] button").await;
        browser.wait_for_text("h1", "Instruments by hand").await;
        play(&browser, "Played gauge", "2.75").await;
        browser.find("#play-trouble[hidden]").await;
        browser.client.switch_to_window(here.clone()).await.expect("back");
        browser.wait_for_text("#bench-live", "Gauge 2.75 bar").await;
        assert_eq!(browser.value("#act-bar").await, "2.75 bar");
        browser.click(".bench-go").await;
        browser.wait_for_text(".bench-pot", "no leak to be seen").await;
        browser.wait_for_text(".bench-now", "Hold the pressure").await;
        browser.click(".bench-other").await;
        tap(&browser, "This pour is done").await;
        browser.wait_for_text(".say.good", "Done on").await;
        let run = kept(&driven, cast).await;
        assert!(run.ended_at.is_some());
        browser.assert_quiet().await;
        browser.client.switch_to_window(browser_other(&browser, &here).await).await.expect("there");
        browser.client.close_window().await.expect("it closes");
        browser.client.switch_to_window(here).await.expect("back");
    })
    .await;
}

/// The window that is not this one.
async fn browser_other(
    browser: &Browser,
    here: &fantoccini::wd::WindowHandle,
) -> fantoccini::wd::WindowHandle {
    let all = browser.client.windows().await.expect("windows");
    all.into_iter().find(|window| window != here).expect("a second one")
}

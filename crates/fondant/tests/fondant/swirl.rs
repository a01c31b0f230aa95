//! A swirl at the bench in headless Chromium.

use std::sync::Arc;

use fondant_app::bench::swirls;
use fondant_bench::swirl::Edges;
use fondant_cast::document::Colour;
use fondant_cast::{Contents, Document, Kind};
use fondant_materials::resin::{ResinId, shipped};
use fondant_quantities::{Length, Temperature};
use fondant_shapes::form::Piece;
use fondant_testkit::{Browser, TestApp, documents};

use crate::bench::{kept, tap};

/// A block of three colours in a resin that heats itself.
fn swirl() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(400.0), mm(220.0), mm(12.0), Length::ZERO);
    let mut document = Document::begin(Kind::Block, "Tide swirl".into(), piece, documents::now());
    document.resin = ResinId(shipped::MEDIUM_CASTING.into());
    document.conditions.resin = Temperature::from_celsius(24.0);
    let Contents::Block(block) = &mut document.contents else { panic!("a block") };
    let colour = |name: &str, parts| Colour { name: name.into(), parts };
    block.swirl.colours = vec![colour("sea", 3.0), colour("foam", 2.0), colour("black", 2.0)];
    block.swirl.join = Temperature::from_celsius(30.0);
    document
}

/// When the first cup is warm enough, milliseconds since 1970. Read in one go: the part of the page is
/// replaced with every event.
async fn joins(browser: &Browser) -> f64 {
    let script = "return Number(document.querySelector('.bench-clock').dataset.until)";
    browser.run(script).await.as_f64().expect("a time")
}

/// Three cups, joined when readings say that they are warm enough; the edges teach the next swirl.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_swirl_of_three_cups_is_joined_by_readings() {
    let app = Arc::new(TestApp::new(&documents::workshop(0, 23)).await);
    let cast = app.create(&swirl()).await;
    let driven = Arc::clone(&app);
    app.drive(move |browser| async move {
        browser.size(1024, 768).await;
        browser.open(&format!("/casts/{cast}/timber")).await;
        browser.wait_for_text("main", "Warm enough to join").await;
        browser.open(&format!("/casts/{cast}/bench")).await;
        browser.click("button[form=run-form]").await;
        for asked in [
            "stand level",
            "joints sealed",
            "release on",
            "temperature",
            "air keep",
            "Gloves",
            "half an hour",
        ] {
            tap(&browser, asked).await;
        }
        let begun = kept(&driven, cast).await;
        // The smaller cups take longer to warm: they come first.
        let order: Vec<&str> = begun.plan.cups.iter().map(|cup| cup.colour.as_str()).collect();
        assert_eq!(order, ["foam", "black", "sea"]);
        for (number, colour) in (1..).zip(order) {
            if number == 2 {
                browser.wait_for_text(".bench-other", "Pour cup 1 (foam) now").await;
            }
            let cup = format!("cup {number} ({colour})");
            tap(&browser, &format!("Weigh B into {cup}")).await;
            tap(&browser, &format!("Weigh A into {cup}")).await;
            browser.wait_for_text(".bench-act", &format!("Its colour is {colour}")).await;
            tap(&browser, &format!("Cup {number} ({colour}): let A meet B")).await;
            tap(&browser, &format!("Mix {cup}")).await;
        }
        browser.wait_for_text(".bench-now", "Pour cup 1 (foam) into the swirl").await;
        browser.wait_for_text(".bench-act", "Hard stop").await;
        // Ten minutes later the gun reads more than the model thought: the cup is there sooner.
        let before = joins(&browser).await;
        driven.set_now(driven.app.now() + jiff::SignedDuration::from_mins(10));
        browser.open(&format!("/casts/{cast}/runs/{}", begun.id)).await;
        browser.enter(".bench-tool:has(input[value=read]) .field input", "29").await;
        browser.click(".bench-tool:has(input[value=read]) button").await;
        browser.wait_for_text(".bench-log ul", "reads 29").await;
        let after = joins(&browser).await;
        assert!(after < before, "{after} is no sooner than {before}");
        for cup in ["cup 1 (foam)", "cup 2 (black)", "cup 3 (sea)"] {
            tap(&browser, &format!("Pour {cup} into the swirl")).await;
            tap(&browser, &format!("Empty {cup}")).await;
        }
        browser.wait_for_text(".bench-now", "Look for bubbles").await;
        browser.click("form:has(input[value=crisp]) button").await;
        browser.wait_for_text(".bench-log ul", "The edges came out crisp").await;
        let shop = driven.shop().await.id;
        let [(edges, thick)] = swirls(&driven.app, shop).await.expect("swirls")[..] else {
            panic!("one swirl was rated")
        };
        assert!(edges == Edges::Crisp && thick > 0.1 && thick.is_finite(), "{thick}");
        browser.assert_quiet().await;
    })
    .await;
}

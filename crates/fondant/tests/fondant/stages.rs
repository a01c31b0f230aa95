//! Stages of a cast in headless Chromium: one is added, given a resin and a depth, dragged on the
//! section, moved over the main fill, refused where it leaves no room, and taken with the plan.

use std::sync::Arc;

use fondant_cast::{Document, Kind};
use fondant_materials::resin::shipped::COATING;
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_testkit::{Browser, TestApp, documents};

fn block() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(300.0), mm(200.0), mm(40.0), mm(10.0));
    let begin = "2026-11-23T08:00:00Z".parse().expect("a time");
    Document::begin(Kind::Block, "Lamp foot".into(), piece, begin)
}

/// The plans that were compared are higher than the line that announced them, and come in above the section
/// when somebody may be about to press it.
async fn what_comes_in_moves_nothing_under_the_mouse(browser: &Browser) {
    browser.find("#alternatives .plan-card").await;
    browser.run("document.querySelector('#alternatives > div').textContent = 'Comparing'").await;
    let (_, before) = browser.point_at(".layer-grip").await;
    browser
        .run("document.querySelector('#alternatives > div').dispatchEvent(new Event('retry'))")
        .await;
    browser.find("#alternatives .plan-card").await;
    let (_, after) = browser.middle_of(".layer-grip").await;
    assert!((after - before).abs() < 1.0, "from {before} px to {after} px");
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_stage_is_added_dragged_moved_and_taken() {
    let app = Arc::new(TestApp::new(&documents::workshop(7, 22)).await);
    let cast = app.create(&block()).await;
    app.drive(move |browser| async move {
        let pours = format!("/casts/{}/pours", cast.0);
        browser.open(&pours).await;
        browser.wait_for_text(".standing", "Proposed").await;
        browser.click("button[name=stage_add][value=below]").await;
        browser.wait_for_text(".pours-table", "Base").await;
        let choose = format!(
            "const resin = document.querySelector('[name=\"stage_resin-below-0\"]'); \
             resin.value = '{COATING}'; resin.dispatchEvent(new Event('change', {{ bubbles: true }}));"
        );
        browser.run(&choose).await;
        browser.wait_for_text(".pours-table", "coating epoxy").await;
        browser.wait_for_text("#f-mass", "of 2 resins").await;

        // More than the form holds is refused at the stages, and changes nothing.
        let kept = browser.text(".pours-table").await;
        browser.enter("[name=\"stage_depth-below-0\"]", "60").await;
        browser.wait_for_text("#stages-refusal", "nothing is left for the main fill").await;
        browser.open(&pours).await;
        assert_eq!(browser.text(".pours-table").await, kept);

        what_comes_in_moves_nothing_under_the_mouse(&browser).await;
        // Its edge is dragged up on the section: it becomes deeper.
        browser.drag(".layer-grip[data-stage=\"below-0\"]", (0.0, -40.0)).await;
        browser.wait_for_gone("#workspace[data-revision=\"3\"]").await;
        browser.wait_for_text(".pours-table", "Base").await;
        let deeper = browser.text(".pours-table").await;
        assert_ne!(deeper, kept);

        // Moved up, it lies over the main fill and is poured after it.
        browser.click("button[name=stage_up][value=\"below-0\"]").await;
        browser.wait_for_text(".pours-table", "Top").await;
        let rows = browser.text(".pours-table").await;
        assert!(rows.find("Layer 1") < rows.find("Top"), "{rows}");
        browser.click("button[name=stage_down][value=\"above-0\"]").await;
        browser.wait_for_text(".pours-table", "Base").await;

        browser.click("button[name=stage_add][value=flood]").await;
        browser.wait_for_text("#opens", "The flood coat is hard from").await;
        crate::pours::take_proposal(&browser, &pours).await;
        let taken = browser.text(".pours-table").await;
        assert!(taken.contains("Flood coat") && taken.contains("on the finished face"), "{taken}");
        browser.open("/today").await;
        browser.wait_for_text("main", "of coating epoxy").await;
    })
    .await;
}

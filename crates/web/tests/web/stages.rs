//! Stages of a cast on its pages.

use fondant_app::shelf;
use fondant_cast::document::Stage;
use fondant_materials::resin::{ResinId, shipped};
use fondant_pours::layers::Purpose;
use fondant_testkit::{TestApp, documents};

use crate::common::get;

/// A select without the resin that a stage has would send another one with the next change of
/// anything on the page.
#[tokio::test]
async fn a_resin_that_was_put_away_stays_the_stages_until_another_is_chosen() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let mut document = documents::river_top("Coated");
    let resin = Some(ResinId(shipped::COATING.into()));
    document.stages.below = vec![Stage { resin, ..Stage::begin(Purpose::Base) }];
    let cast = app.create(&document).await;
    let shop = app.app.shop().await.expect("the shop");
    shelf::put_away(&app.app, &shop, shipped::COATING, 0).await.expect("it is put away");
    let page = get(&app, &format!("/casts/{cast}/pours")).await.text;
    let select = page.split("name=\"stage_resin-below-0\"").nth(1).expect("a select");
    let select = select.split("</select>").next().expect("its end");
    let chosen = format!("<option value=\"{}\" selected>", shipped::COATING);
    assert!(select.contains(&chosen), "{select}");
    // And the plan is still of it.
    let csv = get(&app, &format!("/casts/{cast}/pours.csv")).await.text;
    assert!(csv.lines().nth(1).is_some_and(|line| line.contains("coating epoxy")), "{csv}");
}

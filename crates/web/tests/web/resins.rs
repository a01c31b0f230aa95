//! A resin chosen for what is left, once something is poured.

use axum::http::StatusCode;
use fondant_app::Request;
use fondant_app::casts::facts::log;
use fondant_cast::facts::Fact;
use fondant_materials::resin::shipped;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::common::{get, post};

/// "The base was told of the resin that was chosen for the layer over it, and its window with it."
#[tokio::test]
async fn another_resin_is_chosen_for_what_is_left() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let cast = app.create(&documents::river_top("Of two resins")).await;
    let at = |page: &str| format!("/casts/{cast}/{page}");
    let settled = post(&app, &at("pours/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(settled.status, StatusCode::OK);
    let document = app.document(cast).await;
    let base = document.pours.taken[0];
    assert!(!get(&app, &at("resin")).await.text.contains("The form already holds"));
    let fact = Fact::Poured { pour: base.id, at: base.at, resin_at: None };
    log(&app.app, cast, 2, &Request::default(), fact).await.expect("it is written down");
    let told = get(&app, &at("resin")).await.text;
    let name = |id| shipped::find(id).expect("it ships").name.clone();
    assert!(told.contains(&format!("The form already holds {}.", name(&document.resin))), "{told}");

    let form = get(&app, &at("form")).await.text;
    assert!(form.contains("Without what is in: "), "{form}");
    // Missed and not yet sanded: the hour at which it is planned is no way out.
    let late = (base.at + SignedDuration::from_hours(36)).as_second().to_string();
    let late = [("revision", "2"), ("pour", "1"), ("at", &*late)];
    let moved = post(&app, &at("pours/move"), &late).await;
    assert!(moved.text.contains("and then pour layer 1."), "{}", moved.text);

    let revision = app.open(cast).await.record.revision.to_string();
    let chosen = [("resin", shipped::MEDIUM_CASTING), ("revision", &*revision)];
    assert_eq!(post(&app, &at("resin"), &chosen).await.status, StatusCode::OK);
    let page = get(&app, &at("pours")).await.text;
    for id in [&document.resin, &app.document(cast).await.resin] {
        assert!(page.contains(&name(id)), "{id:?}: {page}");
    }
    assert!(page.contains("of 2 resins"), "{page}");
}

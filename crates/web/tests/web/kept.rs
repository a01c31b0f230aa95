//! A database as an earlier version left it: every page opens, and what was planned still stands.

use axum::body::Body;
use axum::http::{Request, StatusCode};
use fondant_app::{App, Clock, beginning, casts};
use fondant_testkit::TestDb;
use fondant_web::{Settings, Web, router};
use tokio_util::sync::CancellationToken;

use crate::common::send_to;

/// Written by the version before pours had ids and jobs were rows. Never edited.
const SCHEMA_4: &str = include_str!("data/schema-4.sql");

fn the_day_it_was_written() -> jiff::Timestamp {
    "2026-11-27T16:00:00Z".parse().expect("a time")
}

#[tokio::test]
async fn a_database_of_the_version_before_opens_with_every_page() {
    let db = TestDb::empty().await;
    db.run(SCHEMA_4).await;
    let app = App::new(db.store.clone(), Clock::new(the_day_it_was_written));
    beginning::migrate(&app).await.unwrap();
    let settings = Settings { listening: "127.0.0.1:7350".parse().unwrap(), public_url: None };
    let pages = router(Web { app: app.clone(), settings, end: CancellationToken::new() });
    let open = async |path: &str| {
        let page = send_to(pages.clone(), Request::get(path).body(Body::empty()).unwrap()).await;
        assert_eq!(page.status, StatusCode::OK, "{path}: {}", page.text);
        page.text
    };
    let list =
        casts::list(&app, &app.shop().await.unwrap(), &fondant_app::records::Asked::default())
            .await
            .unwrap();
    assert!(list.casts.len() > 9 && list.casts.iter().all(|cast| cast.document.is_some()));
    let mut taken = 0;
    for cast in list.casts {
        let kind = cast.document.as_ref().unwrap().kind();
        for station in ["piece", "timber", "form", "resin", "heat", "pours"] {
            open(&format!("/casts/{}/{station}", cast.id)).await;
        }
        let worked = casts::open(&app, cast.id).await.unwrap();
        let is_taken = !worked.record.document.pours.taken.is_empty();
        let standing = worked.worked(&app).await.unwrap().evaluation.standing;
        assert_eq!(is_taken, standing == fondant_cast::Standing::Taken, "{kind:?} {}", cast.name);
        taken += usize::from(is_taken);
    }
    assert!(taken >= 3, "{taken} plans were taken");
    for path in ["/casts", "/today", "/shelf", "/forms", "/shop"] {
        open(path).await;
    }
}

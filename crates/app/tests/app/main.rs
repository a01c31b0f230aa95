//! Use cases on a real PostgreSQL, without HTTP, and what they rest on.
#![allow(clippy::unwrap_used, reason = "what a test cannot go on without fails it")]

mod agendas;
mod archives;
mod beginning;
mod bench;
mod bookings;
mod devices;
mod ending;
mod events;
mod facts;
mod finishing;
mod front_page;
mod jobs;
mod keeping;
mod keys;
mod lanes;
mod learning;
mod lists;
mod poured_of;
mod pours;
mod reading;
mod stock;

use std::time::Duration;

use fondant_app::casts;
use fondant_app::records::CastId;
use fondant_cast::Document;
use fondant_cast::document::PourId;
use fondant_testkit::{TestApp, documents};

/// Longest wait for something that must happen.
const PATIENCE: Duration = Duration::from_secs(90);

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// A river top with the proposed times taken: its number and its pours. It stands at revision 2.
async fn taken(app: &TestApp) -> (CastId, Vec<PourId>) {
    let cast = app.cast("Taken").await;
    let changed = casts::pours::settle(&app.app, cast, 1).await.expect("the times are taken");
    assert_eq!(changed.revision, 2);
    let pours = app.document(cast).await.pours.taken;
    (cast, pours.iter().map(|pour| pour.id).collect())
}

/// Changes a document as the one who saw `expected`.
async fn edit(
    app: &TestApp,
    cast: CastId,
    expected: i32,
    edit: impl Fn(&mut Document) + Sync,
) -> Result<i32, fondant_app::AppError> {
    let changed = casts::change(&app.app, cast, expected, |open| {
        let mut document = open.record.document.clone();
        edit(&mut document);
        Ok(document)
    });
    changed.await.map(|changed| changed.revision)
}

/// Runs SQL on the database of a test, to damage it as no use case would.
async fn damage(app: &TestApp, sql: &str) {
    app.db.run(sql).await;
}

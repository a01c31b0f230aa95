//! Every page for those who do not see it, have no mouse, or wear gloves.

use fondant_testkit::{TestDb, with_browser};

use crate::program::Server;

/// Pages of the demo workshop: each place, each station, each kind.
const PAGES: [&str; 24] = [
    "/today",
    "/today/sheet",
    "/casts",
    "/casts/new",
    "/casts/new?kind=river",
    "/casts/1/piece",
    "/casts/4/timber",
    "/casts/5/timber",
    "/casts/4/form",
    "/casts/4/resin",
    "/casts/4/heat",
    "/casts/4/pours",
    "/casts/6/timber",
    "/casts/7/timber",
    "/casts/8/timber",
    "/casts/9/timber",
    "/casts/10/timber",
    "/casts/11/timber",
    "/casts/5/files",
    "/shelf",
    "/shelf/new",
    "/shelf/resins/slow-casting-epoxy",
    "/forms",
    "/shop",
];

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn no_page_has_a_serious_fault_of_access() {
    let db = TestDb::migrated().await;
    let server = Server::start(&db.address, &["--demo"]).await;
    with_browser(server.base.clone(), |browser| async move {
        let mut faults = Vec::new();
        for page in PAGES {
            browser.open(page).await;
            browser.find("main").await;
            faults.extend(
                browser.faults_of_access(&[]).await.into_iter().map(|f| format!("{page} {f}")),
            );
            browser.run("document.documentElement.dataset.theme = 'evening'").await;
            let evening = browser.faults_of_access(&["color-contrast"]).await;
            faults.extend(evening.into_iter().map(|f| format!("{page} (evening) {f}")));
        }
        assert!(faults.is_empty(), "{}", faults.join("\n"));
    })
    .await;
}

//! Every page for those who do not see it, have no mouse, or wear gloves.

use fondant_testkit::{Browser, TestDb, with_browser};

use crate::program::Server;
use crate::units;

/// Pages of the demo workshop: each place, each station, each kind.
const PAGES: [&str; 32] = [
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
    "/casts/4/plan",
    "/casts/4/bench",
    "/casts/10/runs/1",
    "/casts/4/finish",
    "/casts/4/record",
    "/ledger",
    "/casts/6/timber",
    "/casts/7/timber",
    "/casts/8/timber",
    "/casts/9/timber",
    "/casts/10/timber",
    "/casts/11/timber",
    "/casts/10/resin",
    "/casts/5/files",
    "/shelf",
    "/shelf/new",
    "/shelf/resins/slow-casting-epoxy",
    "/forms",
    "/shop",
    "/shop/devices",
];

/// What a gloved finger has to hit on a phone is 44 px high. Links within sentences are not aimed at,
/// what is drawn has reaches of its own, and labels and rows are hit as a whole.
pub(crate) const TOO_SMALL: &str = "
    const inText = (e) => e.matches('a') && e.closest('p, li, .hint, .quiet, .why, dd');
    const drawn = (e) => e.closest('svg, canvas');
    const all = document.querySelectorAll('a, button, input:not([type=hidden]), select, summary');
    return [...all].filter((e) => e.checkVisibility({ visibilityProperty: true }) && !inText(e) && !drawn(e)
        && !e.closest('.check, .choice') && !e.matches('.sr-only, .list-row a.cast-name'))
      .map((e) => [e, e.getBoundingClientRect()])
      .filter(([, box]) => box.width > 0 && (box.height < 43.5 || box.width < 24))
      .map(([e, box]) => `${e.tagName} ${e.className} ${e.id || e.textContent.trim().slice(0, 20)} \
${Math.round(box.width)} × ${Math.round(box.height)}`);";

/// Tables of which something is only seen when they are scrolled sideways.
const CUT_OFF: &str = "
    return [...document.querySelectorAll('.table-scroll')]
      .filter((table) => table.scrollWidth > table.clientWidth)
      .map((table) => `a table is cut off by ${table.scrollWidth - table.clientWidth} px`);";

/// Components of which nothing answers: their script does not come with the page.
const LIFELESS: &str = "
    return [...document.querySelectorAll('[x-data]')].filter((e) => !e._x_dataStack)
      .map((e) => `${e.getAttribute('x-data')} does nothing`);";

/// What is wrong with a page on a desk, by day and in the evening.
async fn faults_on_a_desk(browser: &Browser) -> Vec<String> {
    let mut faults = browser.faults_of_access(&[]).await;
    for script in [CUT_OFF, LIFELESS] {
        let found = browser.run(script).await;
        faults.extend(serde_json::from_value::<Vec<String>>(found).expect("sentences"));
    }
    browser.run("document.documentElement.dataset.theme = 'evening'").await;
    let evening = browser.faults_of_access(&["color-contrast"]).await;
    faults.extend(evening.into_iter().map(|fault| format!("(evening) {fault}")));
    faults
}

/// What is too small to be hit on a phone, or sticks out of it.
async fn faults_on_a_phone(browser: &Browser) -> Vec<String> {
    let small = browser.run(TOO_SMALL).await;
    let mut faults: Vec<String> = serde_json::from_value(small).expect("sentences");
    let wide = browser.run("return document.documentElement.scrollWidth").await;
    if wide.as_f64() > Some(390.0) {
        faults.push(format!("{wide} px wide"));
    }
    faults
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn no_page_has_a_serious_fault_of_access_on_a_desk_or_on_a_phone() {
    let db = TestDb::migrated().await;
    let server = Server::start(&db.address, &["--demo"]).await;
    with_browser(server.base.clone(), |browser| async move {
        let mut faults = Vec::new();
        for page in PAGES {
            browser.size(1280, 800).await;
            browser.open(page).await;
            browser.find("main").await;
            if page.ends_with("/heat") {
                browser.find(".field-stage:not([hidden])").await;
            }
            let mut found = faults_on_a_desk(&browser).await;
            browser.size(390, 844).await;
            found.extend(faults_on_a_phone(&browser).await);
            faults.extend(found.into_iter().map(|fault| format!("{page} {fault}")));
        }
        assert!(faults.is_empty(), "{}", faults.join("\n"));
    })
    .await;
    // The same workshop, were it in America.
    db.run("update workshop set units = 'us_customary'").await;
    let server = Server::start(&db.address, &[]).await;
    let metric = units::metric_figures(&server.base, &PAGES).await;
    assert!(metric.is_empty(), "{}", metric.join("\n"));
}

//! A workshop of one's own: from an installation with nothing in it to the first plan.

use fondant_testkit::{Http, TestDb, with_browser};

use crate::program::Server;

/// Eight clicks and eight fields lead from nothing to a taken plan; a reload in the middle loses
/// nothing, and the questions come once.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_first_plan_takes_eight_clicks_and_eight_fields() {
    let db = TestDb::migrated().await;
    let server = Server::start(&db.address, &[]).await;
    with_browser(server.base.clone(), |browser| async move {
        browser.open("/today").await;
        browser.wait_for_text("h1", "Whose workshop is this?").await;
        browser.enter("#name", "Harbour bench").await;
        // Somebody is there at every hour: the first plan is not about closing times.
        browser.enter("#weekdays", "00:00–23:45").await;
        browser.click("#welcome button").await;
        browser.wait_for_text("h1", "What will you cast?").await;
        browser.click("a.kind[href$=river]").await;
        browser.enter("#name", "First table").await;
        for (field, text) in [("#length", "1200 mm"), ("#width", "600 mm"), ("#thickness", "38 mm")]
        {
            browser.enter(field, text).await;
        }
        browser.click("button[type=submit]").await;
        browser.wait_for_text("h1", "Where does the resin run?").await;
        // A reload in the middle.
        browser.open("/casts").await;
        browser.wait_for_text(".list-row", "First table").await;
        browser.click(".list-row a.cast-name").await;
        browser.wait_for_text("h1", "What will it be").await;
        browser.press("6").await;
        browser.wait_for_text("h1", "When does each layer go in?").await;
        browser.click("button[formaction$=settle]").await;
        // The quick proposal does not hold often enough to be taken without a question.
        browser.wait_for_text("#workspace", "Take them anyway").await;
        browser.click("button[name=sure]").await;
        browser.wait_for_text("#workspace", "Give this plan up").await;
        browser.open("/welcome").await;
        browser.wait_for_text("h1", "What is on the bench?").await;
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn what_cannot_be_is_refused_at_its_field_and_nothing_is_begun() {
    let db = TestDb::migrated().await;
    let server = Server::start(&db.address, &[]).await;
    let http = Http::new(&server.base);
    let typed = |name, zone, hours| {
        [
            ("name", name),
            ("zone", zone),
            ("units", "us_customary"),
            ("weekdays", hours),
            ("saturday", "closed"),
            ("sunday", "closed"),
        ]
    };
    for (form, says) in [
        (typed("", "UTC", "08:00–18:00"), "The name is empty"),
        (typed("Bench", "Mars/Base", "08:00–18:00"), "Mars/Base"),
        (typed("Bench", "UTC", "25 to 7"), "25 to 7"),
    ] {
        let refused = http.post("/welcome", &form).await.expect("an answer");
        assert_eq!(refused.status, 422, "{says}");
        assert!(refused.text.contains(says), "{says}");
    }
    let none = http.get("/casts").await.expect("an answer");
    assert_eq!(none.status, 303);
    assert_eq!(none.headers["location"], "/welcome");
    let begun = typed("Bench", "America/Chicago", "8:00–12:00, 13:00–17:30");
    let begun = http.post("/welcome", &begun).await.expect("an answer");
    assert_eq!(begun.headers["location"], "/casts/new");
    let shop = http.get("/shop").await.expect("an answer").text;
    assert!(shop.contains("America/Chicago") && shop.contains("13:00"), "{shop}");
}

//! The list of casts: found, renamed, copied, put away, deleted and brought back.

use axum::http::StatusCode;
use fondant_testkit::{TestApp, documents};

use crate::common::{get, post_as};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

#[tokio::test]
async fn a_deleted_cast_is_brought_back_from_the_notice() {
    let app = app().await;
    let cast = app.cast("Walnut <b>tray</b>").await;
    let keep = format!("/casts/{cast}/keep");
    let deleted = post_as(&app, &keep, &[("keep", "deleted")], false).await;
    assert_eq!(deleted.header("location"), format!("/casts?gone={cast}"));
    let page = get(&app, deleted.header("location")).await.text;
    assert!(page.contains("“Walnut &#60;b&#62;tray&#60;/b&#62;” is deleted."), "{page}");
    assert!(page.contains("There is no cast.") && page.contains("Deleted <span"));
    assert_eq!(get(&app, &format!("/casts/{cast}/piece")).await.status, StatusCode::NOT_FOUND);
    let listed = get(&app, "/casts?show=deleted").await.text;
    assert!(listed.contains("Bring it back"));
    post_as(&app, &keep, &[("keep", "open")], false).await;
    let page = get(&app, "/casts").await.text;
    assert!(page.contains(&format!("id=\"cast-{cast}\"")) && !page.contains("Deleted <span"));
    let nowhere = post_as(&app, &keep, &[("keep", "somewhere")], false).await;
    assert_eq!(nowhere.status, StatusCode::BAD_REQUEST);
}

#[tokio::test]
async fn a_name_that_cannot_be_is_refused_at_its_field_and_kept() {
    let app = app().await;
    let cast = app.cast("Tray").await;
    let rename = format!("/casts/{cast}/rename");
    let long = "x".repeat(200);
    for (name, revision, says) in [
        ("", "1", "The name is empty"),
        (long.as_str(), "1", "characters; this has 200"),
        ("Later", "7", "changed elsewhere"),
    ] {
        let form = [("name", name), ("revision", revision)];
        let refused = post_as(&app, &rename, &form, false).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(says), "{says}");
        assert!(refused.text.contains(&format!("value=\"{name}\"")), "{name} is kept");
    }
    let kept = post_as(&app, &rename, &[("name", "Oak tray"), ("revision", "1")], false).await;
    assert_eq!(kept.header("location"), "/casts");
    assert_eq!(app.document(cast).await.name, "Oak tray");
}

#[tokio::test]
async fn the_list_is_found_by_word_and_says_where_nothing_is() {
    let app = app().await;
    app.cast("Oak tray").await;
    let other = app.cast("Ash bowl").await;
    let found = get(&app, "/casts?words=oak").await.text;
    assert!(found.contains("Oak tray") && !found.contains("Ash bowl"));
    let none = get(&app, "/casts?words=%3Ci%3E&show=planning").await.text;
    assert!(none.contains("No cast that is planning has “&#60;i&#62;” in its name"), "{none}");
    let copy = post_as(&app, &format!("/casts/{other}/copy"), &[("request", "a1")], false).await;
    let again = post_as(&app, &format!("/casts/{other}/copy"), &[("request", "a1")], false).await;
    assert_eq!(copy.header("location"), again.header("location"));
    assert!(get(&app, "/casts?words=bowl").await.text.contains("Ash bowl, copy"));
}

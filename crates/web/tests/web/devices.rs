//! Instruments through the router: added, sending, refused, revoked.

use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use fondant_testkit::{TestApp, documents};

use crate::common::{Answer, get, post_as, send};

async fn sends(app: &TestApp, token: &str, body: &str) -> Answer {
    let request = Request::post("/devices/readings")
        .header(header::AUTHORIZATION, format!("Bearer {token}"))
        .body(Body::from(body.to_owned()));
    send(app, request.expect("a request")).await
}

#[tokio::test]
async fn a_device_is_added_sends_and_is_revoked() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let added = [("name", "Scale <1>"), ("place", "scale")];
    let page = post_as(&app, "/shop/devices/add", &added, false).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    assert!(page.text.contains("Scale &#60;1&#62;"), "names are text: {}", page.text);
    let from = page.text.find("fondant_").expect("a token");
    let token: String =
        page.text[from..].chars().take_while(|c| c.is_ascii_alphanumeric() || *c == '_').collect();
    assert!(!get(&app, "/shop/devices").await.text.contains(&token), "it is shown once");
    let at = documents::now();
    let line = format!(
        "{{\"device\":\"Scale <1>\",\"seq\":7,\"at\":\"{at}\",\"quantity\":\"mass\",\"value\":1252.5,\"unit\":\"g\"}}\n"
    );
    let answer = sends(&app, &token, &line).await;
    assert_eq!(answer.text, r#"{"taken":1,"doubted":0,"known":0,"refused":0,"why":[]}"#);
    let again = sends(&app, &token, &format!("{line}nonsense")).await;
    let told: serde_json::Value = serde_json::from_str(&again.text).expect("JSON");
    assert_eq!((&told["known"], &told["refused"]), (&1.into(), &1.into()), "{}", again.text);
    assert_eq!(told["why"][0]["line"], 2);
    assert!(get(&app, "/shop/devices").await.text.contains("1252.5\u{202f}g"));
    let none = sends(&app, "fondant_wrong", &line).await;
    assert_eq!(none.status, StatusCode::UNAUTHORIZED);
    assert!(none.text.contains("No device has this token"), "{}", none.text);
    let twice = post_as(&app, "/shop/devices/add", &added, false).await;
    assert_eq!(twice.status, StatusCode::UNPROCESSABLE_ENTITY);
    let shows = [("do", "calibrate"), ("shows", "1250")];
    assert_eq!(post_as(&app, "/shop/devices/1", &shows, false).await.status, StatusCode::SEE_OTHER);
    assert!(get(&app, "/shop/devices").await.text.contains("−2.5 g added"));
    let wild = [("do", "calibrate"), ("shows", "3000")];
    let wild = post_as(&app, "/shop/devices/1", &wild, false).await;
    assert_eq!(wild.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", wild.text);
    post_as(&app, "/shop/devices/1", &[("do", "revoke")], false).await;
    assert_eq!(sends(&app, &token, &line).await.status, StatusCode::UNAUTHORIZED);
}

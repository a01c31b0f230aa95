use axum::http::Request;
use fondant_testkit::{TestApp, documents};
use tower::ServiceExt;

#[tokio::test]
async fn today_is_a_page() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let asked = Request::get("/today").header("Host", "localhost:7350").body(String::new());
    let answer = fondant_web::router(app.web()).oneshot(asked.unwrap()).await.unwrap();
    assert_eq!(answer.status(), 200);
}

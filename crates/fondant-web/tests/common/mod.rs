//! Sending requests through the real router.
#![allow(dead_code, reason = "each test binary uses its part")]

use axum::body::{Body, to_bytes};
use axum::http::{HeaderMap, Request, StatusCode, header};
use fondant_testkit::TestApp;
use fondant_web::routes::router;
use tower::ServiceExt;

/// An answer, read to its end.
pub(crate) struct Answer {
    pub(crate) status: StatusCode,
    pub(crate) headers: HeaderMap,
    pub(crate) text: String,
}

pub(crate) async fn send(app: &TestApp, request: Request<Body>) -> Answer {
    let response = router(app.state()).oneshot(request).await.expect("an answer");
    let (status, headers) = (response.status(), response.headers().clone());
    let bytes = to_bytes(response.into_body(), 1 << 22).await.expect("a body");
    Answer { status, headers, text: String::from_utf8_lossy(&bytes).into_owned() }
}

impl Answer {
    /// A header as text; empty where it is not set.
    pub(crate) fn header(&self, name: &str) -> &str {
        self.headers.get(name).and_then(|value| value.to_str().ok()).unwrap_or_default()
    }
}

pub(crate) async fn get(app: &TestApp, path: &str) -> Answer {
    send(app, Request::get(path).body(Body::empty()).expect("a request")).await
}

pub(crate) async fn post(app: &TestApp, path: &str, form: &[(&str, &str)]) -> Answer {
    post_as(app, path, form, true).await
}

pub(crate) async fn post_as(
    app: &TestApp,
    path: &str,
    form: &[(&str, &str)],
    htmx: bool,
) -> Answer {
    let body = url::form_urlencoded::Serializer::new(String::new()).extend_pairs(form).finish();
    let mut request = Request::post(path)
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
        .header("Sec-Fetch-Site", "same-origin");
    if htmx {
        request = request.header("HX-Request", "true");
    }
    send(app, request.body(Body::from(body)).expect("a request")).await
}

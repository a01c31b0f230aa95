//! Headers that keep a page to itself, on every answer.

use std::sync::LazyLock;

use axum::extract::Request;
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware::Next;
use axum::response::Response;

use crate::assets;

/// Scripts, styles and fonts come from here alone; of inline scripts only the import map is let run.
static POLICY: LazyLock<HeaderValue> = LazyLock::new(|| {
    let policy = format!(
        "default-src 'none'; script-src 'self' '{}'; style-src 'self'; img-src 'self' data:; \
         font-src 'self'; connect-src 'self'; form-action 'self'; manifest-src 'self'; \
         base-uri 'none'; frame-ancestors 'none'",
        assets::import_map_hash()
    );
    // Letters, digits and signs that a header may have.
    HeaderValue::try_from(policy).unwrap_or(HeaderValue::from_static("default-src 'none'"))
});

const FIXED: [(HeaderName, &str); 3] = [
    (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
    (header::REFERRER_POLICY, "same-origin"),
    (header::X_FRAME_OPTIONS, "DENY"),
];

/// Adds them, also to what another layer has answered.
pub(crate) async fn add(request: Request, next: Next) -> Response {
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_SECURITY_POLICY, POLICY.clone());
    for (name, value) in FIXED {
        headers.insert(name, HeaderValue::from_static(value));
    }
    if !headers.contains_key(header::CACHE_CONTROL) {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    response
}

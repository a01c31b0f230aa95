//! An id for every request, and a line in the log: id, method, path, status, time.

use std::time::Instant;

use axum::extract::Request;
use axum::middleware::Next;
use axum::response::Response;
use tower_http::request_id::RequestId;
use tracing::Instrument;

/// The private part of this path is not written down.
const PRIVATE: &str = "/feed/";

/// Follows a request. What is logged on the way bears its id.
pub(crate) async fn follow(request: Request, next: Next) -> Response {
    let id = request
        .extensions()
        .get::<RequestId>()
        .and_then(|id| id.header_value().to_str().ok())
        .unwrap_or("-")
        .to_owned();
    let (method, path) = (request.method().clone(), told(request.uri().path()));
    let span = tracing::info_span!("request", id, %method, path);
    let began = Instant::now();
    let response = next.run(request).instrument(span.clone()).await;
    let status = response.status();
    let ms = u64::try_from(began.elapsed().as_millis()).unwrap_or(u64::MAX);
    if status.is_server_error() {
        tracing::error!(parent: &span, status = status.as_u16(), ms, "answered");
    } else {
        tracing::info!(parent: &span, status = status.as_u16(), ms, "answered");
    }
    response
}

fn told(path: &str) -> String {
    if path.starts_with(PRIVATE) { format!("{PRIVATE}…") } else { path.to_owned() }
}

#[cfg(test)]
mod tests {
    use super::told;

    #[test]
    fn the_calendars_private_address_is_not_logged() {
        assert_eq!(told("/feed/abc/pours.ics"), "/feed/…");
        assert_eq!(told("/casts/7/heat"), "/casts/7/heat");
    }
}

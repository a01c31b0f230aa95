//! Errors in the form that the asking page can show. A page that asked for a fragment keeps what
//! stands on it and shows a sentence; one that was asked for by its address becomes an error page.

use std::any::Any;

use axum::body::Body;
use axum::extract::Request;
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use axum_htmx::{HxRequest, HxReswap, SwapOption};

use crate::paths::shop::Welcome;
use crate::ui::error::{NoWorkshop, Notice, WebError};

/// Gives every error an answer with words in it.
pub(crate) async fn word(
    HxRequest(is_fragment): HxRequest,
    request: Request,
    next: Next,
) -> Response {
    let mut response = next.run(request).await;
    // Whatever is asked of a workshop that is not there yet, first it is made.
    if response.extensions().get::<NoWorkshop>().is_some() {
        return Redirect::to(&Welcome.to_string()).into_response();
    }
    let status = response.status();
    let is_error = status.is_client_error() || status.is_server_error();
    if is_error && response.extensions().get::<Notice>().is_none() && is_empty(&response) {
        response = worded(status, &response);
    }
    match response.extensions_mut().remove::<Notice>() {
        Some(Notice(sentence)) if is_fragment => {
            let retry_after = response.headers().get(header::RETRY_AFTER).cloned();
            // The part of the page that asked is left as it is.
            let stays = HxReswap(SwapOption::None);
            let mut notice = (status, stays, sentence).into_response();
            if let Some(seconds) = retry_after {
                notice.headers_mut().insert(header::RETRY_AFTER, seconds);
            }
            notice
        }
        _ => response,
    }
}

fn is_empty(response: &Response) -> bool {
    use http_body::Body as _;
    response.body().size_hint().upper().is_some_and(|bytes| bytes < 64)
}

/// An answer of another layer in words, its headers kept.
fn worded(status: StatusCode, former: &Response) -> Response {
    let error = match status {
        StatusCode::FORBIDDEN => WebError::CrossSite,
        StatusCode::PAYLOAD_TOO_LARGE => WebError::TooLarge,
        StatusCode::NOT_FOUND | StatusCode::METHOD_NOT_ALLOWED => WebError::NotFound("page"),
        status if status.is_client_error() => WebError::BadForm(status.to_string()),
        StatusCode::SERVICE_UNAVAILABLE => WebError::TooLong,
        _ => WebError::Fault(status.to_string()),
    };
    let mut response = error.into_response();
    *response.status_mut() = status;
    for (name, value) in former.headers() {
        if *name == header::ALLOW {
            response.headers_mut().insert(name.clone(), value.clone());
        }
    }
    response
}

/// The answer to a request whose handler panicked.
#[allow(clippy::needless_pass_by_value, reason = "the layer passes the panic by value")]
pub(crate) fn panicked(panic: Box<dyn Any + Send>) -> Response<Body> {
    let said = panic
        .downcast_ref::<&str>()
        .map(|text| (*text).to_owned())
        .or_else(|| panic.downcast_ref::<String>().cloned())
        .unwrap_or_default();
    WebError::Fault(format!("panicked: {said}")).into_response()
}

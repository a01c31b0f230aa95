//! What was typed into a form that could not be kept: the error page carries it, so that trying
//! again is one press of a button.

use askama::Template;
use axum::body::{Body, to_bytes};
use axum::extract::{FromRequest, Request};
use axum::http::{Method, header};
use axum::middleware::Next;
use axum::response::{Html, IntoResponse, Response};
use axum_htmx::HxRequest;

use crate::ui::entries::Entries;
use crate::ui::error::{Notice, Said, WebError};
use crate::ui::extract::Typed;
use crate::ui::page::{Page, Place};

/// Largest form that is sent by its address, bytes: a pasted log.
pub(crate) const LARGEST_FORM: usize = 8 * 1024 * 1024;
const FORM: &str = "application/x-www-form-urlencoded";

#[derive(Template)]
#[template(path = "middleware/retry.html")]
struct RetryPage<'a> {
    page: Page,
    heading: &'a str,
    sentence: &'a str,
    action: String,
    entries: &'a [(String, String)],
}

/// Offers to send a form again that met a fault of the server.
pub(crate) async fn offer(
    HxRequest(is_fragment): HxRequest,
    request: Request,
    next: Next,
) -> Response {
    let kind = request.headers().get(header::CONTENT_TYPE).and_then(|kind| kind.to_str().ok());
    let is_form = kind.is_some_and(|kind| kind.starts_with(FORM));
    if request.method() != Method::POST || !is_form || is_fragment {
        return next.run(request).await;
    }
    let (parts, body) = request.into_parts();
    let Ok(bytes) = to_bytes(body, LARGEST_FORM).await else {
        return WebError::TooLarge.into_response();
    };
    let again = Request::from_parts(parts.clone(), Body::from(bytes.clone()));
    let response = next.run(Request::from_parts(parts, Body::from(bytes))).await;
    if !response.status().is_server_error() {
        return response;
    }
    let action = again.uri().to_string();
    match Typed::from_request(again, &()).await {
        Ok(Typed(entries)) => page(response, action, &entries),
        Err(_) => response,
    }
}

fn page(failed: Response, action: String, entries: &Entries) -> Response {
    let said = WebError::Fault(String::new()).said();
    let Said { heading, .. } = said;
    let notice = failed.extensions().get::<Notice>().map(|notice| notice.0.clone());
    let sentence = notice.unwrap_or(said.sentence);
    let page = Page::new(heading, Place::Elsewhere);
    let entries = entries.pairs();
    let shown = RetryPage { page, heading, sentence: &sentence, action, entries }.render();
    match shown {
        Ok(shown) => {
            let mut response = (failed.status(), Html(shown)).into_response();
            response.extensions_mut().insert(Notice(sentence));
            response
        }
        Err(_) => failed,
    }
}

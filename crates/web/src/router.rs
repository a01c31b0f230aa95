//! The routes of all pages, and what every request passes through.

use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, Request};
use axum::http::HeaderName;
use axum::middleware::{Next, from_fn, from_fn_with_state};
use axum::response::{IntoResponse, Response};
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};

use crate::middleware::retry::LARGEST_FORM;
use crate::middleware::{bodies, headers, hosts, notices, requests, retry};
use crate::ui::error::WebError;
use crate::ui::upload::BODY_LIMIT;
use crate::{Web, assets, pages};

/// Largest form, bytes: forty boards of some hundred points each.
const FORM_LIMIT: usize = 1024 * 1024;
/// A page takes milliseconds, an offer seconds; what takes this long is lost.
const WITHIN: Duration = Duration::from_secs(60);
/// A photo may travel over a shop's poor wireless.
const UPLOAD_WITHIN: Duration = Duration::from_secs(600);

/// The id of a request, in its header and in the log.
const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");

/// The whole application.
pub fn router(web: Web) -> Router {
    let routes = Router::new()
        .merge(ordinary())
        .merge(logs())
        .merge(uploads())
        .merge(pages::events::routes())
        .fallback(|| async { WebError::NotFound("page") })
        .method_not_allowed_fallback(|| async { WebError::NotFound("page") })
        .layer(CsrfLayer::new())
        .layer(from_fn(retry::offer))
        .merge(pages::health::routes())
        .merge(assets::routes());
    // The last one is the first that a request meets.
    routes
        .layer(CompressionLayer::new())
        .layer(from_fn(bodies::drain))
        .layer(from_fn(bodies::plain_address))
        .layer(from_fn_with_state(web.settings.clone(), hosts::check))
        .layer(CatchPanicLayer::custom(notices::panicked))
        .layer(from_fn(notices::word))
        .layer(from_fn(headers::add))
        .layer(PropagateRequestIdLayer::new(REQUEST_ID))
        .layer(from_fn(requests::follow))
        .layer(SetRequestIdLayer::new(REQUEST_ID, MakeRequestUuid))
        .with_state(web)
}

fn ordinary() -> Router<Web> {
    Router::new()
        .merge(pages::today::routes())
        .merge(pages::day_sheet::routes())
        .merge(pages::way_out::routes())
        .merge(pages::calendar::routes())
        .merge(pages::casts::routes())
        .merge(pages::workspace::routes())
        .merge(pages::pouring::routes())
        .merge(pages::alternatives::routes())
        .merge(pages::field::routes())
        .merge(pages::files::routes())
        .merge(pages::photo::routes())
        .merge(pages::prints::routes())
        .merge(pages::forms::routes())
        .merge(pages::shelf::routes())
        .merge(pages::resin::routes())
        .merge(pages::shop::routes())
        .layer(DefaultBodyLimit::max(FORM_LIMIT))
        .layer(from_fn(|request, next| within(WITHIN, request, next)))
}

/// Pages on which a log is pasted.
fn logs() -> Router<Web> {
    Router::new()
        .merge(pages::lesson::routes())
        .merge(pages::shop_log::routes())
        .layer(DefaultBodyLimit::max(LARGEST_FORM))
        .layer(from_fn(|request, next| within(WITHIN, request, next)))
}

fn uploads() -> Router<Web> {
    Router::new()
        .merge(pages::files::uploads())
        .merge(pages::resin::uploads())
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(from_fn(|request, next| within(UPLOAD_WITHIN, request, next)))
}

/// An answer in time, or one that says that it took too long.
async fn within(limit: Duration, request: Request, next: Next) -> Response {
    match tokio::time::timeout(limit, next.run(request)).await {
        Ok(response) => response,
        Err(_) => WebError::TooLong.into_response(),
    }
}

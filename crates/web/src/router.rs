//! The routes of all pages, and what every request passes through.

use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, Request};
use axum::http::HeaderName;
use axum::middleware::{Next, from_fn, from_fn_with_state};
use axum::response::{IntoResponse, Response};
use tokio::sync::Semaphore;
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
        .merge(downloads())
        .merge(pages::events::routes())
        .fallback(|| async { WebError::NotFound("page") })
        .method_not_allowed_fallback(|| async { WebError::NotFound("page") })
        .layer(CsrfLayer::new())
        .layer(from_fn(retry::offer))
        .merge(pages::health::routes())
        .merge(assets::routes());
    guarded(routes, &web).with_state(web)
}

/// Routes behind what every request passes: its id and the log, the headers of security, the hosts that
/// are ours, a page for a panic. The last one is the first that a request meets.
pub fn guarded(routes: Router<Web>, web: &Web) -> Router<Web> {
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
}

fn ordinary() -> Router<Web> {
    Router::new()
        .merge(pages::welcome::routes())
        .merge(pages::today::routes())
        .merge(pages::day_sheet::routes())
        .merge(pages::way_out::routes())
        .merge(pages::calendar::routes())
        .merge(pages::casts::routes())
        .merge(pages::workspace::routes())
        .merge(pages::pouring::routes())
        .merge(pages::bench::routes())
        .merge(pages::alternatives::routes())
        .merge(pages::field::routes())
        .merge(pages::files::routes())
        .merge(pages::drawing::routes())
        .merge(pages::mesh::routes())
        .merge(pages::photo::routes())
        .merge(pages::prints::routes())
        .merge(pages::forms::routes())
        .merge(pages::shelf::routes())
        .merge(pages::resin::routes())
        .merge(pages::shop::routes())
        .merge(pages::devices::routes())
        .merge(pages::finishing::routes())
        .merge(pages::record::routes())
        .merge(pages::ledger::routes())
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
        .merge(pages::photo::uploads())
        .merge(pages::casts::uploads())
        .merge(pages::resin::uploads())
        .layer(DefaultBodyLimit::max(BODY_LIMIT))
        .layer(from_fn(|request, next| in_turn(&UPLOADS, request, next)))
        .layer(from_fn(|request, next| within(UPLOAD_WITHIN, request, next)))
}

/// Files that take long to be made.
fn downloads() -> Router<Web> {
    Router::new()
        .merge(pages::shop::downloads())
        .layer(from_fn(|request, next| in_turn(&DOWNLOADS, request, next)))
        .layer(from_fn(|request, next| within(UPLOAD_WITHIN, request, next)))
}

/// Downloads that are made at a time: each goes over all that is kept.
static DOWNLOADS: Semaphore = Semaphore::const_new(1);

/// Uploads that are taken in at a time: each may fill memory with the largest file that is read.
/// The others wait before anything of them is read.
static UPLOADS: Semaphore = Semaphore::const_new(UPLOADS_AT_ONCE);
const UPLOADS_AT_ONCE: usize = 4;

/// An answer once there is room for the request.
async fn in_turn(turns: &Semaphore, request: Request, next: Next) -> Response {
    let Ok(_turn) = turns.acquire().await else {
        return WebError::TooLong.into_response();
    };
    next.run(request).await
}

/// An answer in time, or one that says that it took too long.
async fn within(limit: Duration, request: Request, next: Next) -> Response {
    match tokio::time::timeout(limit, next.run(request)).await {
        Ok(response) => response,
        Err(_) => WebError::TooLong.into_response(),
    }
}

#[cfg(test)]
mod tests {
    use axum::body::Body;
    use axum::http::StatusCode;
    use axum::routing::get;
    use tower::ServiceExt;

    use super::*;

    /// What waits for its turn has not begun.
    #[tokio::test]
    async fn no_more_uploads_are_taken_in_at_once_than_memory_is_for() {
        use std::sync::atomic::{AtomicUsize, Ordering};
        static TURNS: Semaphore = Semaphore::const_new(2);
        static NOW: AtomicUsize = AtomicUsize::new(0);
        static MOST: AtomicUsize = AtomicUsize::new(0);
        let busy = || async {
            MOST.fetch_max(NOW.fetch_add(1, Ordering::SeqCst) + 1, Ordering::SeqCst);
            tokio::task::yield_now().await;
            NOW.fetch_sub(1, Ordering::SeqCst);
        };
        let service: Router<()> = Router::new()
            .route("/", get(busy))
            .layer(from_fn(|request, next| in_turn(&TURNS, request, next)));
        let asked = (0..12).map(|_| {
            let service = service.clone();
            let request = Request::get("/").body(Body::empty()).unwrap();
            tokio::spawn(async move { service.oneshot(request).await.unwrap().status() })
        });
        for answer in asked.collect::<Vec<_>>() {
            assert_eq!(answer.await.unwrap(), StatusCode::OK);
        }
        assert_eq!(MOST.load(Ordering::SeqCst), 2);
    }
}

//! The route table. Paths of pages are written here and nowhere else in Rust.

mod assets;
mod casts;
mod extract;
mod forms;
mod shop;
mod uploads;
mod workspace;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::response::Redirect;
use axum::routing::{get, post};
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;
use tower_http::trace::TraceLayer;

use crate::{AppState, WebError};

/// Largest form, bytes: forty boards of some hundred points each.
pub const FORM_LIMIT: usize = 1024 * 1024;
/// A request takes milliseconds; one that takes this long is lost.
const TIMEOUT: std::time::Duration = std::time::Duration::from_secs(30);
/// A photo may travel over a shop's poor wireless.
const UPLOAD_TIMEOUT: std::time::Duration = std::time::Duration::from_secs(600);
/// Scripts, styles and fonts come from here alone, and none stand in the markup.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; \
    img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; \
    base-uri 'none'; frame-ancestors 'none'";

/// The whole application.
pub fn router(state: AppState) -> Router {
    let pages = Router::new()
        .route("/", get(|| async { Redirect::to("/casts") }))
        .route("/casts", get(casts::list).post(casts::create))
        .route("/casts/new", get(casts::new))
        .route("/casts/{cast}", get(workspace::begin))
        .route("/casts/{cast}/book", post(forms::book))
        .route("/casts/{cast}/cut-list", get(casts::prints::cut_list_page))
        .route("/casts/{cast}/labels", get(casts::prints::label_sheets))
        .route("/casts/{cast}/files", get(casts::files::show))
        .route("/casts/{cast}/photos/{photo}", get(casts::photos::show).post(casts::photos::square))
        .route("/casts/{cast}/photos/{photo}/take", post(casts::photos::take))
        .route("/casts/{cast}/photos/{photo}/remove", post(casts::photos::remove))
        .route("/casts/{cast}/photos/{photo}/{which}", get(casts::photos::picture))
        .route("/casts/{cast}/export/{file}", get(casts::prints::outlines))
        .route("/casts/{cast}/{station}", get(workspace::show).post(workspace::save))
        .route("/casts/{cast}/{station}/{step}", post(workspace::step))
        .route("/forms", get(forms::show).post(forms::add))
        .route("/forms/{form}", post(forms::save))
        .route("/forms/{form}/remove", post(forms::remove))
        .route("/shop", get(shop::show).post(shop::save))
        .fallback(|| async { WebError::NotFound("page") })
        .layer(DefaultBodyLimit::max(FORM_LIMIT))
        .layer(timeout(TIMEOUT))
        .layer(CsrfLayer::new())
        .layer(header_layer(header::CACHE_CONTROL, "no-store"));
    let uploads = Router::new()
        .route("/casts/{cast}/photos", post(casts::files::add_photo))
        .route("/casts/{cast}/outlines", post(casts::files::add_outlines))
        .route("/casts/{cast}/mesh", post(casts::files::add_mesh))
        .layer(DefaultBodyLimit::max(uploads::BODY_LIMIT))
        .layer(timeout(UPLOAD_TIMEOUT))
        .layer(CsrfLayer::new())
        .layer(header_layer(header::CACHE_CONTROL, "no-store"));
    Router::new()
        .merge(pages)
        .merge(uploads)
        .route("/health", get(health))
        .route("/assets/{*path}", get(assets::asset))
        .layer(header_layer(header::CONTENT_SECURITY_POLICY, POLICY))
        .layer(header_layer(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header_layer(header::REFERRER_POLICY, "same-origin"))
        .layer(CompressionLayer::new())
        .layer(CatchPanicLayer::new())
        .layer(TraceLayer::new_for_http())
        .with_state(state)
}

fn timeout(after: std::time::Duration) -> TimeoutLayer {
    TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, after)
}

fn header_layer(name: HeaderName, value: &'static str) -> SetResponseHeaderLayer<HeaderValue> {
    SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value))
}

/// Whether server and database answer.
async fn health(
    axum::extract::State(state): axum::extract::State<AppState>,
) -> Result<&'static str, WebError> {
    state.store.ping().await?;
    Ok("ok")
}

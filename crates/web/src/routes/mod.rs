//! The route table. Paths of pages are written here and nowhere else in Rust.

mod assets;
mod casts;
mod extract;
mod feed;
mod forms;
mod shelf;
mod shop;
mod today;
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
/// Largest form with a log in it, bytes: twice the rows that are read.
const LOG_LIMIT: usize = 8 * 1024 * 1024;
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
        .route("/", get(|| async { Redirect::to("/today") }))
        .route("/today", get(today::show))
        .route("/today/sheet", get(today::day_sheet))
        .route("/today/move/{cast}/{pour}", get(today::offer).post(today::apply))
        .route("/feed/{token}/pours.ics", get(feed::show))
        .route("/casts", get(casts::list).post(casts::create))
        .route("/casts/new", get(casts::new))
        .route("/casts/{cast}", get(workspace::begin))
        .route("/casts/{cast}/book", post(forms::book))
        .route("/casts/{cast}/cut-list", get(casts::prints::cut_list_page))
        .route("/casts/{cast}/labels", get(casts::prints::label_sheets))
        .route("/casts/{cast}/field", get(casts::field::show))
        .route("/casts/{cast}/field/abandon", post(casts::field::abandon))
        .route("/casts/{cast}/depth-map", get(casts::field::map))
        .route("/casts/{cast}/pours.csv", get(casts::pouring::looking::csv))
        .route("/casts/{cast}/pours/try", get(casts::pouring::looking::tried))
        .route("/casts/{cast}/pours/alternatives", get(casts::pouring::looking::alternatives))
        .route("/casts/{cast}/pours/offers", get(casts::pouring::looking::offered))
        .route("/casts/{cast}/pours/move", post(casts::pouring::shift))
        .route("/casts/{cast}/pours/take", post(casts::pouring::take))
        .route("/casts/{cast}/pours/settle", post(casts::pouring::settle))
        .route("/casts/{cast}/pours/release", post(casts::pouring::release))
        .route("/casts/{cast}/pours/fix", post(casts::pouring::fix))
        .route("/casts/{cast}/pours/facts", post(casts::pouring::facts::add))
        .route("/casts/{cast}/pours/facts/{row}/withdraw", post(casts::pouring::facts::withdraw))
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
        .route("/shelf", get(shelf::show))
        .route("/shelf/new", get(shelf::resin::new).post(shelf::resin::create))
        .route("/shelf/lots", post(shelf::stock::add_lot))
        .route("/shelf/lots/{lot}", post(shelf::stock::left))
        .route("/shelf/lots/{lot}/remove", post(shelf::stock::remove_lot))
        .route("/shelf/colours", post(shelf::stock::add_colour))
        .route("/shelf/colours/{colour}/remove", post(shelf::stock::remove_colour))
        .route("/shelf/{resin}", get(shelf::resin::show).post(shelf::resin::save))
        .route("/shelf/{resin}/away", post(shelf::resin::put_away))
        .route("/shelf/{resin}/restore", post(shelf::resin::restore))
        .route("/shelf/{resin}/export", get(shelf::resin::export))
        .route(
            "/shelf/{resin}/learn",
            get(shelf::learn::show)
                .post(shelf::learn::try_log)
                .layer(DefaultBodyLimit::max(LOG_LIMIT)),
        )
        .route(
            "/shelf/{resin}/learn/accept",
            post(shelf::learn::accept).layer(DefaultBodyLimit::max(LOG_LIMIT)),
        )
        .route("/shelf/{resin}/forget", post(shelf::learn::forget))
        .route("/shop", get(shop::show).post(shop::save))
        .route(
            "/shop/log",
            get(shop::log::show).post(shop::log::add).layer(DefaultBodyLimit::max(LOG_LIMIT)),
        )
        .route("/shop/fit", post(shop::log::fit))
        .route("/shop/feed", post(shop::log::renew_feed))
        .route("/shop/forecast.json", get(shop::log::forecast))
        .fallback(|| async { WebError::NotFound("page") })
        .layer(DefaultBodyLimit::max(FORM_LIMIT))
        .layer(timeout(TIMEOUT))
        .layer(CsrfLayer::new())
        .layer(header_layer(header::CACHE_CONTROL, "no-store"));
    let uploads = Router::new()
        .route("/casts/{cast}/photos", post(casts::files::add_photo))
        .route("/casts/{cast}/outlines", post(casts::files::add_outlines))
        .route("/casts/{cast}/mesh", post(casts::files::add_mesh))
        .route("/shelf/import", post(shelf::resin::import))
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

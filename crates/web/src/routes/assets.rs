//! Styles, scripts and fonts, embedded in the program.

use axum::extract::Path;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use rust_embed::Embed;

use crate::WebError;

#[derive(Embed)]
#[folder = "assets/"]
struct Assets;

/// One embedded file. Fonts may be kept for a year, the rest is asked for
/// again and answered by its hash.
pub(super) async fn asset(
    Path(path): Path<String>,
    headers: HeaderMap,
) -> Result<Response, WebError> {
    let file = Assets::get(&path).ok_or(WebError::NotFound("file"))?;
    let tag = file.metadata.sha256_hash()[..12]
        .iter()
        .fold(String::from("\""), |tag, byte| tag + &format!("{byte:02x}"))
        + "\"";
    let keep =
        if path.starts_with("fonts/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    let asked = headers.get(header::IF_NONE_MATCH).and_then(|value| value.to_str().ok());
    if asked == Some(tag.as_str()) {
        return Ok((StatusCode::NOT_MODIFIED, [(header::ETAG, tag)]).into_response());
    }
    let kind = file.metadata.mimetype().to_owned();
    let headers =
        [(header::CONTENT_TYPE, kind), (header::ETAG, tag), (header::CACHE_CONTROL, keep.into())];
    Ok((headers, file.data).into_response())
}

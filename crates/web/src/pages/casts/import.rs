//! A cast from a file.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::routing::RouterExt;
use axum_typed_multipart::TryFromMultipart;
use fondant_app::casts::exchange::{self, CAST_LIMIT, NotACast};
use fondant_app::{App, AppError, Request};

use super::list::refused;
use crate::Web;
use crate::paths::casts::{ImportCast, Station};
use crate::ui::error::WebError;
use crate::ui::units::InUnits;
use crate::ui::upload::{File, Uploaded};
use crate::words::{conflicts, files};

pub(crate) fn uploads() -> Router<Web> {
    Router::new().typed_post(import)
}

#[derive(TryFromMultipart)]
struct Import {
    file: File<CAST_LIMIT>,
    request: Option<String>,
}

async fn import(
    _: ImportCast,
    State(app): State<App>,
    form: Uploaded<Import>,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let Import { file, request } = form.data;
    let name = file.name.clone();
    let read = match file.bytes() {
        Ok(bytes) => exchange::read(&bytes).map_err(|error| not_a_cast(&name, &error)),
        Err(error) => Err(files::file(&error)),
    };
    let sentence = match read {
        Err(sentence) => sentence,
        Ok(read) => {
            let request = Request::keyed(request.as_deref());
            match exchange::import(&app, &shop, read, &request).await {
                Ok(Ok(cast)) => {
                    let piece = Station::of(cast, "piece");
                    return Ok(Redirect::to(&piece.to_string()).into_response());
                }
                Ok(Err(error)) => not_a_cast(&name, &error),
                Err(AppError::Conflicts(all)) => {
                    let shown = shop.shown();
                    let first = all.first().map(|one| conflicts::without_drawing(one, shown));
                    format!("“{name}”: {}", first.unwrap_or_default())
                }
                Err(error) => return Err(error.into()),
            }
        }
    };
    let page = refused(&app, sentence).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// Why a file is not a cast, and what to do.
fn not_a_cast(name: &str, error: &NotACast) -> String {
    match error {
        NotACast::Unreadable(why) => {
            format!("“{name}” cannot be read: {why}. Save it again and try once more.")
        }
        NotACast::OtherFormat => {
            format!("“{name}” is not a cast from Fondant. Choose another file.")
        }
        NotACast::Newer { found, known } => format!(
            "“{name}” is of version {found}, and this Fondant reads up to {known}. Update Fondant first."
        ),
        NotACast::UnknownField(field) => format!(
            "“{name}” has a field “{field}” that Fondant does not know. Check its spelling, or take \
             it out."
        ),
        NotACast::NoResin(resin) => format!(
            "The resin “{resin}” of “{name}” is neither in the file, sound, nor on the shelf. Bring \
             the resin in first."
        ),
    }
}

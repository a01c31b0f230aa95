//! A cast from a file.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_typed_multipart::TryFromMultipart;
use fondant_app::casts::exchange::{self, NoResin};
use fondant_app::{App, AppError, Request, Shop};
use fondant_files::records::archive::{ARCHIVE_LIMIT, Archive};

use super::list::refused;
use crate::Web;
use crate::paths::casts::{ImportCast, Station};
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::units::InUnits;
use crate::ui::upload::{File, Uploaded};
use crate::words::{conflicts, files};

pub(crate) fn uploads() -> Router<Web> {
    Router::new().typed_post(import)
}

#[derive(TryFromMultipart)]
struct Import {
    file: File<ARCHIVE_LIMIT>,
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
        Ok(bytes) => app.read_cast(bytes).await?,
        Err(error) => Err(error),
    };
    let begun = match read {
        Err(error) => Err(files::file(&error)),
        Ok(Err(error)) => Err(files::record(&error, (&name, "cast"))),
        Ok(Ok(read)) => begin(&app, &shop, read, (&name, request.as_deref())).await?,
    };
    match begun {
        Ok(to) => Ok(Redirect::to(&to).into_response()),
        Err(sentence) => {
            let page = refused(&app, sentence).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// Where the cast is that was begun; the inner error says why there is none.
async fn begin(
    app: &App,
    shop: &Shop,
    read: Archive,
    (name, request): (&str, Option<&str>),
) -> Result<Result<String, String>, WebError> {
    // One that has come to its end opens at what was said of it.
    let has_ended = read.record.as_ref().is_some_and(|record| !record.is_open);
    let first = if has_ended { "record" } else { "piece" };
    match exchange::import(app, shop, read, &Request::keyed(request)).await {
        Ok(Ok(cast)) => Ok(Ok(Station::of(cast, first).to_string())),
        Ok(Err(NoResin(resin))) => Ok(Err(format!(
            "The resin “{}” of “{name}” is neither in the file, sound, nor on the shelf. Bring the \
             resin in first.",
            resin.0
        ))),
        Err(AppError::Conflicts(all)) => {
            let first = all.first().map(|one| conflicts::without_drawing(one, shop.shown()));
            Ok(Err(format!("“{name}”: {}", first.unwrap_or_default())))
        }
        Err(error) => Err(error.into()),
    }
}

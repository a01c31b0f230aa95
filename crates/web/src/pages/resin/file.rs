//! A resin as a JSON file, out and in.

use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Redirect, Response};
use axum_typed_multipart::TryFromMultipart;
use fondant_app::{App, Request, shelf};
use fondant_files::records::resin::{RESIN_LIMIT, write};

use crate::Web;
use crate::pages::shelf::refused_with;
use crate::paths::shop::{ExportResin, ImportResin, Resin};
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::upload::{File, Uploaded};
use crate::words::{files, resin as words};

pub(super) fn routes() -> Router<Web> {
    Router::new().typed_get(export)
}

pub(super) fn uploads() -> Router<Web> {
    Router::new().typed_post(import)
}

async fn export(path: ExportResin, State(app): State<App>) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let resin = &shelf::find(&shop, &path.resin)?.resin;
    let text = write(resin).map_err(|error| WebError::Fault(error.to_string()))?;
    let name = format!("attachment; filename=\"{}.json\"", resin.id.0);
    let headers = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, name),
    ];
    Ok((headers, text).into_response())
}

#[derive(TryFromMultipart)]
struct Import {
    file: File<RESIN_LIMIT>,
}

async fn import(
    _: ImportResin,
    State(app): State<App>,
    form: Uploaded<Import>,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let file = form.data.file;
    let name = file.name.clone();
    let read = match file.bytes() {
        Ok(bytes) => app.read_resin(bytes).await?,
        Err(error) => Err(error),
    };
    let checked = match read {
        Err(error) => Err(files::file(&error)),
        Ok(Err(error)) => Err(files::record(&error, (&name, "resin"))),
        Ok(Ok(record)) => match record.check() {
            Ok(()) => Ok(record),
            Err(error) => Err(format!("“{name}”: {}", words::resin(&error))),
        },
    };
    match checked {
        Ok(record) => {
            // A file brought in twice is two resins.
            let added = shelf::add_resin(&app, &shop, record, &Request::default()).await?;
            let resin = added.map(|id| id.0).unwrap_or_default();
            Ok(Redirect::to(&Resin { resin }.to_string()).into_response())
        }
        Err(notice) => refused_with(&app, notice).await,
    }
}

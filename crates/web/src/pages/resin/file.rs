//! A resin as a JSON file, out and in.

use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::routing::RouterExt;
use axum_typed_multipart::TryFromMultipart;
use fondant_app::{App, Request, shelf};
use fondant_materials::resin::Record;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::Web;
use crate::pages::shelf::refused_with;
use crate::paths::shop::{ExportResin, ImportResin, Resin};
use crate::ui::error::WebError;
use crate::ui::upload::{File, Uploaded};
use crate::words::{files, resin as words};

/// Largest file of a resin, bytes.
const FILE_LIMIT: usize = 256 * 1024;

pub(super) fn routes() -> Router<Web> {
    Router::new().typed_get(export)
}

pub(super) fn uploads() -> Router<Web> {
    Router::new().typed_post(import)
}

async fn export(path: ExportResin, State(app): State<App>) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let resin = &shelf::find(&shop, &path.resin)?.resin;
    let file = ResinFile { format: FORMAT.to_owned(), version: VERSION, resin: resin.clone() };
    let text = serde_json::to_string_pretty(&file);
    let text = text.map_err(|error| WebError::Fault(error.to_string()))?;
    let name = format!("attachment; filename=\"{}.json\"", resin.id.0);
    let headers = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, name),
    ];
    Ok((headers, text).into_response())
}

/// What a resin's file says it is, and its version.
const FORMAT: &str = "fondant-resin";
const VERSION: u32 = 1;

/// A resin as a file.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct ResinFile {
    format: String,
    version: u32,
    resin: Record,
}

/// Reads a resin's file. Those from before files had a version are the resin alone.
fn read_file(name: &str, bytes: &[u8]) -> Result<Record, String> {
    let told =
        |error: serde_json::Error| format!("“{name}” is not a resin file from Fondant: {error}.");
    let value: Value = serde_json::from_slice(bytes).map_err(told)?;
    if value.get("format").is_none() {
        return serde_json::from_value(value).map_err(told);
    }
    let file: ResinFile = serde_json::from_value(value).map_err(told)?;
    match (file.format.as_str(), file.version) {
        (FORMAT, VERSION) => Ok(file.resin),
        (FORMAT, newer) => Err(format!(
            "“{name}” is of version {newer}, and this Fondant reads up to {VERSION}. Update Fondant \
             first."
        )),
        _ => Err(format!("“{name}” is not a resin file from Fondant. Choose another file.")),
    }
}

#[derive(TryFromMultipart)]
struct Import {
    file: File<FILE_LIMIT>,
}

async fn import(
    _: ImportResin,
    State(app): State<App>,
    form: Uploaded<Import>,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let file = form.data.file;
    let name = file.name.clone();
    let read = file.bytes().map_err(|error| files::file(&error));
    let read = read.and_then(|bytes| read_file(&name, &bytes));
    let checked = read.and_then(|record| match record.check() {
        Ok(()) => Ok(record),
        Err(error) => Err(format!("“{name}”: {}", words::resin(&error))),
    });
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

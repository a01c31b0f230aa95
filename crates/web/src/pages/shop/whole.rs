//! The whole workshop as one file, which a browser saves: what `fondant import` brings into a fresh
//! installation.

use std::fs::File;
use std::io::{Read, Seek};

use axum::Router;
use axum::body::{Body, Bytes};
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use fondant_app::whole::WholeError;
use fondant_app::{App, whole};
use tokio::sync::mpsc;
use tokio_stream::wrappers::ReceiverStream;

use crate::Web;
use crate::paths::shop::WholeShop;
use crate::routing::Routes;
use crate::ui::error::WebError;

/// Bytes that are sent at a time.
const CHUNK: usize = 64 * 1024;
/// Chunks that wait for a slow line.
const AHEAD: usize = 4;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(save)
}

/// It is written whole before any of it is sent: an archive that ends midway looks like one that does not.
async fn save(_: WholeShop, State(app): State<App>) -> Result<Response, WebError> {
    let fault = |error: &dyn std::fmt::Display| WebError::Fault(error.to_string());
    let mut file = tempfile::tempfile().map_err(|error| fault(&error))?;
    let written = whole::write(&app, std::io::BufWriter::new(&mut file)).await;
    written.map_err(|error| match error {
        WholeError::App(error) => WebError::App(error),
        // A cast that is larger than any archive that is read: it is named.
        error => WebError::NotWritten(StatusCode::CONFLICT, error.to_string()),
    })?;
    let length = file.metadata().map_err(|error| fault(&error))?.len();
    file.rewind().map_err(|error| fault(&error))?;
    let headers = [
        (header::CONTENT_TYPE, "application/zip".to_owned()),
        (header::CONTENT_LENGTH, length.to_string()),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"workshop.zip\"".to_owned()),
    ];
    Ok((headers, Body::from_stream(sent(file))).into_response())
}

/// The bytes of a file, as the line takes them.
fn sent(mut file: File) -> ReceiverStream<std::io::Result<Bytes>> {
    let (into, out) = mpsc::channel(AHEAD);
    tokio::task::spawn_blocking(move || {
        loop {
            let mut chunk = vec![0; CHUNK];
            let read = file.read(&mut chunk).map(|count| {
                chunk.truncate(count);
                Bytes::from(chunk)
            });
            let is_last = read.as_ref().map_or(true, Bytes::is_empty);
            // Nobody takes it any more.
            if into.blocking_send(read).is_err() || is_last {
                break;
            }
        }
    });
    ReceiverStream::new(out)
}

//! Whether the server lives, and whether it can serve pages: for monitoring.

use std::time::Duration;

use axum::Router;
use axum::extract::State;
use fondant_app::{App, AppError};
use tokio::time::timeout;

use crate::Web;
use crate::paths::shop::{Health, Ready};
use crate::routing::Routes;
use crate::ui::error::WebError;

/// Within this long the records answer, or the server is not ready.
const READY_WITHIN: Duration = Duration::from_secs(2);

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(live).typed_get(ready)
}

/// The server lives where this answers: it waits for nothing.
async fn live(_: Health) -> &'static str {
    "ok"
}

/// Pages can be served where the records answer.
async fn ready(_: Ready, State(app): State<App>) -> Result<&'static str, WebError> {
    match timeout(READY_WITHIN, app.ping()).await {
        Ok(answered) => answered?,
        Err(_) => return Err(AppError::Unavailable("no answer in time".to_owned()).into()),
    }
    Ok("ready")
}

//! The door for instruments: `POST /devices/readings`, one JSON object a line, with the token of the
//! device. It answers in JSON how many readings were taken, and why others were not.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use fondant_app::devices::{Taken, take as take_in};
use fondant_app::{App, AppError};
use serde::Serialize;

use crate::paths::shop::DeviceReadings;

/// What a device is told.
#[derive(Serialize)]
struct Answer {
    /// Number of new readings that were saved.
    taken: usize,
    /// Of these, kept as doubtful.
    doubted: usize,
    /// Number of readings that had been sent before.
    known: usize,
    /// Number of lines that were refused.
    refused: usize,
    /// Why, for the first of them.
    why: Vec<Why>,
}

#[derive(Serialize)]
struct Why {
    line: usize,
    why: String,
}

/// What went wrong with a whole request.
#[derive(Serialize)]
struct Trouble {
    error: &'static str,
}

pub(super) async fn take(
    _: DeviceReadings,
    State(app): State<App>,
    headers: HeaderMap,
    body: String,
) -> Response {
    let token = headers.get(header::AUTHORIZATION).and_then(|value| value.to_str().ok());
    let token = token.and_then(|value| value.strip_prefix("Bearer ")).unwrap_or_default();
    match take_in(&app, token.trim(), &body).await {
        Ok(Some(taken)) => Json(Answer::of(taken)).into_response(),
        Ok(None) => {
            let told = [(header::WWW_AUTHENTICATE, "Bearer")];
            let error = "No device has this token. Add the device in the shop, and send its token.";
            (StatusCode::UNAUTHORIZED, told, Json(Trouble { error })).into_response()
        }
        Err(AppError::Unavailable(_) | AppError::Busy | AppError::TooLong) => {
            let error = "Not taken: the records cannot be reached. Send it again in a moment.";
            let again = [(header::RETRY_AFTER, "2")];
            (StatusCode::SERVICE_UNAVAILABLE, again, Json(Trouble { error })).into_response()
        }
        Err(error) => {
            tracing::error!(%error, "readings were not taken");
            let error = "Not taken, by a fault of the server. Send it again later.";
            (StatusCode::INTERNAL_SERVER_ERROR, Json(Trouble { error })).into_response()
        }
    }
}

impl Answer {
    fn of(taken: Taken) -> Self {
        Self {
            taken: taken.taken,
            doubted: taken.doubted,
            known: taken.known,
            refused: taken.refused_count,
            why: taken
                .refused
                .into_iter()
                .map(|refusal| Why { line: refusal.line, why: refusal.why.to_string() })
                .collect(),
        }
    }
}

//! What can go wrong with a request, as a page, or as a notice on the page that asked.

use askama::Template;
use axum::Extension;
use axum::extract::rejection::PathRejection;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use fondant_app::AppError;

use super::page::{Page, Place};
use super::units::Shown;
use crate::words::{bench, conflicts, trouble};

/// Seconds after which something busy may be asked for again.
const RETRY_AFTER_S: &str = "3";

/// What can go wrong with a request.
#[derive(Debug, Clone, thiserror::Error)]
pub(crate) enum WebError {
    /// There is no such thing.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// The body is over the limit.
    #[error("the form is larger than Fondant accepts")]
    TooLarge,
    /// The request's body is not a form.
    #[error("the form could not be read: {0}")]
    BadForm(String),
    /// The request names a server that this is not.
    #[error("this is not the server of that name")]
    Misdirected,
    /// The request came from a page of another server.
    #[error("the request comes from another site")]
    CrossSite,
    /// The request passed its deadline.
    #[error("took too long")]
    TooLong,
    /// What was asked for could not be done.
    #[error(transparent)]
    App(#[from] AppError),
    /// A row of the bench that was not written down, with the sentence why.
    #[error("not written down: {1}")]
    NotWritten(StatusCode, String),
    /// A fault of the program.
    #[error("{0}")]
    Fault(String),
}

/// No such page.
impl Default for WebError {
    fn default() -> Self {
        Self::NotFound("page")
    }
}

impl From<askama::Error> for WebError {
    fn from(error: askama::Error) -> Self {
        Self::Fault(error.to_string())
    }
}

impl From<PathRejection> for WebError {
    fn from(_: PathRejection) -> Self {
        Self::NotFound("page")
    }
}

/// A heading and a sentence.
pub(crate) struct Said {
    pub(crate) heading: &'static str,
    pub(crate) sentence: String,
}

#[derive(Template)]
#[template(path = "ui/error.html")]
struct ErrorPage {
    page: Page,
    heading: &'static str,
    sentence: String,
}

impl WebError {
    pub(crate) fn status(&self) -> StatusCode {
        match self {
            Self::NotFound(_) | Self::App(AppError::NotFound(_)) => StatusCode::NOT_FOUND,
            Self::TooLarge => StatusCode::PAYLOAD_TOO_LARGE,
            Self::BadForm(_) => StatusCode::BAD_REQUEST,
            Self::NotWritten(status, _) => *status,
            Self::Misdirected => StatusCode::MISDIRECTED_REQUEST,
            Self::CrossSite => StatusCode::FORBIDDEN,
            Self::App(
                AppError::Stale { .. }
                | AppError::Nothing(_)
                | AppError::Booked
                | AppError::AtBench(_)
                | AppError::NotPrepared(_)
                | AppError::OfferGone
                | AppError::NotReady,
            ) => StatusCode::CONFLICT,
            Self::App(AppError::Conflicts(_) | AppError::Pours(_)) => {
                StatusCode::UNPROCESSABLE_ENTITY
            }
            Self::TooLong
            | Self::App(AppError::Busy | AppError::TooLong | AppError::Unavailable(_)) => {
                StatusCode::SERVICE_UNAVAILABLE
            }
            Self::Fault(_) | Self::App(AppError::Unreadable(_) | AppError::Fault(_)) => {
                StatusCode::INTERNAL_SERVER_ERROR
            }
        }
    }

    pub(crate) fn said(&self) -> Said {
        let (heading, sentence) = match self {
            Self::NotFound(what) => (NOTHING, nothing(what)),
            Self::TooLarge => (
                "Too much at once",
                "The form is larger than Fondant accepts. Shorten what you typed; nothing was changed."
                    .to_owned(),
            ),
            Self::BadForm(_) => (
                "That form could not be read",
                "The form arrived damaged. Go back, reload the page and try again; nothing was changed."
                    .to_owned(),
            ),
            Self::Misdirected => (
                "Not this server",
                "Fondant was asked under a name that is not its own. Open it by the address that it \
                 prints at its start, or set its public address."
                    .to_owned(),
            ),
            Self::CrossSite => (
                "Not from here",
                "This was sent by a page of another site, so nothing was changed.".to_owned(),
            ),
            Self::NotWritten(_, sentence) => ("Not written down", sentence.clone()),
            Self::TooLong => (BUSY, busy()),
            Self::App(error) => said(error),
            Self::Fault(_) => (FAULT, fault()),
        };
        Said { heading, sentence }
    }
}

const NOTHING: &str = "Nothing here";
const BUSY: &str = "Too much at once";
const FAULT: &str = "That should not have happened";

fn nothing(what: &str) -> String {
    format!("This workshop has no such {what}. Check the address.")
}

fn busy() -> String {
    "Fondant is busy with other work and has not done this. Nothing was changed. Try again in a moment."
        .to_owned()
}

fn fault() -> String {
    "Fondant met a fault of its own. What was saved before is safe; the server's log says more."
        .to_owned()
}

fn said(error: &AppError) -> (&'static str, String) {
    // Where nothing says otherwise, millimetres and degrees Celsius.
    let shown = Shown::METRIC;
    match error {
        AppError::NotFound(what) => (NOTHING, nothing(what)),
        AppError::Stale { .. } => (
            "Changed in between",
            "It was changed in another tab since you opened it, so nothing was saved. Reload to see \
             it as it is now."
                .to_owned(),
        ),
        AppError::Conflicts(all) => (
            "That does not fit together",
            all.iter().map(|one| conflicts::without_drawing(one, shown)).collect::<Vec<_>>().join(" "),
        ),
        AppError::Pours(error) => ("No pour times", trouble::pours(error, shown)),
        AppError::OfferGone => (
            "Changed in between",
            "What was offered is no longer what would happen, so nothing was changed. Look again and \
             choose again."
                .to_owned(),
        ),
        AppError::NotReady => (
            "Still at work",
            "It is still being worked out. Wait until it is shown, then choose.".to_owned(),
        ),
        AppError::Booked => (
            "Booked already",
            "Another cast uses this form. Let it go there first, or take another form.".to_owned(),
        ),
        AppError::AtBench(why) => ("Not written down", bench::refused(why, shown)),
        AppError::NotPrepared(why) => ("Nothing to run", bench::not_prepared(why)),
        AppError::Nothing(act) => ("Nothing to do", format!("There is nothing to {act}.")),
        AppError::Busy | AppError::TooLong => (BUSY, busy()),
        AppError::Unavailable(_) => (
            "The records cannot be reached",
            "The database does not answer, so nothing was saved. Try again in a moment.".to_owned(),
        ),
        AppError::Unreadable(_) => (
            "A record cannot be read",
            "What is kept of this was written by another version of Fondant, or is damaged. Nothing \
             was changed; the server's log says more."
                .to_owned(),
        ),
        AppError::Fault(_) => (FAULT, fault()),
    }
}

impl IntoResponse for WebError {
    fn into_response(self) -> Response {
        if matches!(self, Self::App(AppError::NotFound("workshop"))) {
            return (Extension(NoWorkshop), self.status()).into_response();
        }
        let status = self.status();
        if status.is_server_error() {
            tracing::error!(error = %self, "request failed");
        }
        let Said { heading, sentence } = self.said();
        let page = Page::new(heading, Place::Elsewhere);
        let body = ErrorPage { page, heading, sentence: sentence.clone() }.render();
        let mut response = match body {
            Ok(body) => (status, axum::response::Html(body)).into_response(),
            Err(_) => (status, sentence.clone()).into_response(),
        };
        // A page that asked for a fragment shows the sentence in a place of its own, see
        // `middleware::notices`.
        response.extensions_mut().insert(Notice(sentence));
        if status == StatusCode::SERVICE_UNAVAILABLE {
            response
                .headers_mut()
                .insert(header::RETRY_AFTER, header::HeaderValue::from_static(RETRY_AFTER_S));
        }
        response
    }
}

/// There is no workshop yet: see `middleware::notices`.
#[derive(Debug, Clone, Copy)]
pub(crate) struct NoWorkshop;

/// What went wrong, for the page that asked for a fragment.
#[derive(Debug, Clone)]
pub(crate) struct Notice(pub(crate) String);

//! What can go wrong with a request, as a page.

use askama::Template;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use fondant_store::StoreError;

/// What can go wrong with a request.
#[derive(Debug, thiserror::Error)]
pub enum WebError {
    /// There is no such thing.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// The body is over the limit.
    #[error("the form is larger than Fondant accepts")]
    TooLarge,
    /// The body is no form.
    #[error("the form could not be read: {0}")]
    BadForm(String),
    /// Kept data.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A page could not be written.
    #[error(transparent)]
    Page(#[from] askama::Error),
    /// A fault of the program.
    #[error("{0}")]
    Internal(String),
}

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage {
    title: &'static str,
    place: &'static str,
    heading: &'static str,
    sentence: String,
}

impl WebError {
    fn status(&self) -> StatusCode {
        match self {
            Self::NotFound(_) | Self::Store(StoreError::NotFound(_)) => StatusCode::NOT_FOUND,
            Self::TooLarge => StatusCode::PAYLOAD_TOO_LARGE,
            Self::BadForm(_) => StatusCode::BAD_REQUEST,
            Self::Store(StoreError::Stale { .. } | StoreError::Nothing(_) | StoreError::Booked) => {
                StatusCode::CONFLICT
            }
            Self::Store(StoreError::Unavailable(_)) => StatusCode::SERVICE_UNAVAILABLE,
            Self::Store(StoreError::Corrupt(_)) | Self::Page(_) | Self::Internal(_) => {
                StatusCode::INTERNAL_SERVER_ERROR
            }
        }
    }

    fn words(&self) -> (&'static str, String) {
        match self {
            Self::NotFound(what) | Self::Store(StoreError::NotFound(what)) => (
                "Nothing here",
                format!("There is no such {what} in this workshop. It may have been a mistyped address."),
            ),
            Self::Store(StoreError::Booked) => (
                "Booked already",
                "Another cast uses this form. Let it go there first, or take another form.".to_owned(),
            ),
            Self::TooLarge => (
                "Too much at once",
                "The form is larger than Fondant accepts. Shorten what you typed; nothing was changed.".to_owned(),
            ),
            Self::BadForm(_) => (
                "That form could not be read",
                "The form arrived damaged. Go back, reload the page and try again; nothing was changed.".to_owned(),
            ),
            Self::Store(StoreError::Stale { .. }) => (
                "Changed in between",
                "It was changed in another tab since you opened it, so nothing was saved. Reload to see it as it is now.".to_owned(),
            ),
            Self::Store(StoreError::Nothing(act)) => {
                ("Nothing to do", format!("There is nothing to {act}."))
            }
            Self::Store(StoreError::Unavailable(_)) => (
                "The records cannot be reached",
                "The database does not answer, so nothing was saved. Try again in a moment.".to_owned(),
            ),
            Self::Store(StoreError::Corrupt(_)) | Self::Page(_) | Self::Internal(_) => (
                "That should not have happened",
                "Fondant met a fault of its own. What was saved before is safe; the server's log says more.".to_owned(),
            ),
        }
    }
}

impl IntoResponse for WebError {
    fn into_response(self) -> Response {
        let status = self.status();
        if status.is_server_error() {
            tracing::error!(error = %self, "request failed");
        }
        let (heading, sentence) = self.words();
        let page = ErrorPage { title: heading, place: "", heading, sentence };
        let body = page.render().unwrap_or_else(|_| heading.to_owned());
        // A fragment's place cannot hold a page: htmx puts it in the whole body.
        let headers = [("HX-Retarget", "body"), ("HX-Reswap", "innerHTML")];
        (status, headers, Html(body)).into_response()
    }
}

//! What handlers take from a request.

use axum::extract::rejection::FormRejection;
use axum::extract::{Form, FromRequest, Request};
use axum::http::StatusCode;

use super::entries::Entries;
use super::error::WebError;

/// The revision that a change is made on: "put mine over it" names the newer one that the maker
/// was shown.
pub(crate) fn expected(entries: &Entries) -> Result<i32, WebError> {
    let expected = entries.number("over").or_else(|| entries.number("revision"));
    expected.ok_or_else(|| WebError::BadForm("no revision".to_owned()))
}

/// A form as it was typed.
pub(crate) struct Typed(pub(crate) Entries);

impl<S: Send + Sync> FromRequest<S> for Typed {
    type Rejection = WebError;

    async fn from_request(request: Request, state: &S) -> Result<Self, WebError> {
        match Form::<Entries>::from_request(request, state).await {
            Ok(Form(entries)) => Ok(Self(entries)),
            Err(FormRejection::BytesRejection(error))
                if error.status() == StatusCode::PAYLOAD_TOO_LARGE =>
            {
                Err(WebError::TooLarge)
            }
            Err(error) => Err(WebError::BadForm(error.to_string())),
        }
    }
}

//! What handlers take from a request.

use axum::extract::rejection::FormRejection;
use axum::extract::{Form, FromRequest, FromRequestParts, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;

use crate::WebError;
use crate::entries::Entries;

/// A form as it was typed.
pub(super) struct Typed(pub(super) Entries);

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

/// Whether htmx asks for a fragment.
pub(super) struct WantsFragment(pub(super) bool);

impl<S: Send + Sync> FromRequestParts<S> for WantsFragment {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Self::Rejection> {
        Ok(Self(parts.headers.contains_key("HX-Request")))
    }
}

//! Addresses and bodies within bounds.

use std::pin::Pin;
use std::task::{Context, Poll};
use std::time::Duration;

use axum::body::{Body, Bytes};
use axum::extract::Request;
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use http_body::{Body as HttpBody, Frame, SizeHint};
use http_body_util::BodyExt;

use crate::ui::error::WebError;

/// Most bytes of a refused body that are read and dropped.
const DRAINED_BYTES: usize = 512 * 1024 * 1024;
/// Longest time for which the rest of a refused body is read.
const DRAINED_FOR: Duration = Duration::from_secs(60);

/// Refuses addresses that no page has: those with control characters in them, which PostgreSQL
/// would not take.
pub(crate) async fn plain_address(request: Request, next: Next) -> Response {
    let has_control = request.uri().path().as_bytes().windows(3).any(|three| match three {
        [b'%', b'0' | b'1', _] => true,
        [b'%', b'7', last] => last.eq_ignore_ascii_case(&b'f'),
        _ => false,
    });
    if has_control {
        return WebError::NotFound("page").into_response();
    }
    next.run(request).await
}

/// Lets a request that is refused before its body was read be answered: the rest of the body is
/// read beside, where a closed connection would keep the answer from arriving.
pub(crate) async fn drain(request: Request, next: Next) -> Response {
    next.run(request.map(|body| Body::new(Drained(Some(body))))).await
}

/// A body that is read to its end even where it is not used.
struct Drained(Option<Body>);

impl HttpBody for Drained {
    type Data = Bytes;
    type Error = axum::Error;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Bytes>, axum::Error>>> {
        match &mut self.0 {
            Some(body) => Pin::new(body).poll_frame(context),
            None => Poll::Ready(None),
        }
    }

    fn is_end_stream(&self) -> bool {
        self.0.as_ref().is_none_or(HttpBody::is_end_stream)
    }

    fn size_hint(&self) -> SizeHint {
        self.0.as_ref().map_or_else(SizeHint::default, HttpBody::size_hint)
    }
}

impl Drop for Drained {
    fn drop(&mut self) {
        if let Some(body) = self.0.take().filter(|body| !body.is_end_stream())
            && let Ok(runtime) = tokio::runtime::Handle::try_current()
        {
            runtime.spawn(tokio::time::timeout(DRAINED_FOR, read_to_the_end(body)));
        }
    }
}

async fn read_to_the_end(mut body: Body) {
    let mut read = 0;
    while let Some(Ok(frame)) = body.frame().await {
        read += frame.data_ref().map_or(0, Bytes::len);
        if read > DRAINED_BYTES {
            return;
        }
    }
}

//! How a handler comes to its address.

use std::pin::Pin;
use std::sync::Arc;

use axum::Router;
use axum::extract::Request;
use axum::handler::Handler;
use axum::response::Response;
use axum::routing::{MethodRouter, get, post};
use axum_extra::routing::{SecondElementIs, TypedPath};

use crate::Web;

/// Adds handlers at the address that is their first argument.
///
/// A router wraps each handler in some ten types, which the compiler builds once more for each: here all
/// handlers are of one type when it gets them.
pub(crate) trait Routes: Sized {
    /// Answers at an address.
    fn at(self, address: &str, answers: MethodRouter<Web>) -> Self;

    /// Answers GET, and HEAD without the body.
    fn typed_get<T, P>(self, handler: impl Handler<T, Web, Future = Answering>) -> Self
    where
        T: SecondElementIs<P> + 'static,
        P: TypedPath,
    {
        self.at(P::PATH, get(Page::of(handler)))
    }

    /// Answers POST.
    fn typed_post<T, P>(self, handler: impl Handler<T, Web, Future = Answering>) -> Self
    where
        T: SecondElementIs<P> + 'static,
        P: TypedPath,
    {
        self.at(P::PATH, post(Page::of(handler)))
    }
}

impl Routes for Router<Web> {
    fn at(self, address: &str, answers: MethodRouter<Web>) -> Self {
        self.route(address, answers)
    }
}

/// What a handler is at work on.
pub(crate) type Answering = Pin<Box<dyn Future<Output = Response> + Send>>;

/// A handler of whatever type.
#[derive(Clone)]
struct Page(Arc<dyn Fn(Request, Web) -> Answering + Send + Sync>);

impl Page {
    fn of<T: 'static>(handler: impl Handler<T, Web, Future = Answering>) -> Self {
        Self(Arc::new(move |request, web| handler.clone().call(request, web)))
    }
}

impl Handler<(), Web> for Page {
    type Future = Answering;

    fn call(self, request: Request, web: Web) -> Answering {
        (self.0)(request, web)
    }
}

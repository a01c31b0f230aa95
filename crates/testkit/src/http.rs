//! Plain requests to a running server.

use std::io::Cursor;

use http::header::{CONTENT_TYPE, HOST};
use http::{Request, StatusCode};
use http_body_util::{BodyExt, Full};
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;

/// A client of a running server that says it is a fragment's script.
#[derive(Debug, Clone)]
pub struct Http {
    client: Client<HttpConnector, Full<Cursor<Vec<u8>>>>,
    base: String,
}

/// An answer, read to its end.
#[derive(Debug, Clone)]
pub struct Answer {
    /// HTTP status.
    pub status: StatusCode,
    /// HTTP headers.
    pub headers: http::HeaderMap,
    /// Body as text.
    pub text: String,
}

/// Why there is no answer: the server is not there, or has gone.
pub type NoAnswer = Box<dyn std::error::Error + Send + Sync>;

impl Http {
    /// For a server by its address, `http://127.0.0.1:7350`.
    #[must_use]
    pub fn new(base: &str) -> Self {
        let client = Client::builder(TokioExecutor::new()).build(HttpConnector::new());
        Self { client, base: base.trim_end_matches('/').to_owned() }
    }

    /// Asks for a page or a fragment.
    ///
    /// # Errors
    /// [`NoAnswer`].
    pub async fn get(&self, path: &str) -> Result<Answer, NoAnswer> {
        let request = self.request(path).method("GET").body(Full::new(Cursor::default()))?;
        self.send(request).await
    }

    /// Sends a form.
    ///
    /// # Errors
    /// [`NoAnswer`].
    pub async fn post(&self, path: &str, form: &[(&str, &str)]) -> Result<Answer, NoAnswer> {
        let body = url::form_urlencoded::Serializer::new(String::new()).extend_pairs(form).finish();
        let request = self
            .request(path)
            .method("POST")
            .header(CONTENT_TYPE, "application/x-www-form-urlencoded")
            .body(Full::new(Cursor::new(body.into_bytes())))?;
        self.send(request).await
    }

    fn request(&self, path: &str) -> http::request::Builder {
        let host = self.base.trim_start_matches("http://");
        Request::builder()
            .uri(format!("{}{path}", self.base))
            .header(HOST, host)
            .header("HX-Request", "true")
            .header("Sec-Fetch-Site", "same-origin")
    }

    async fn send(&self, request: Request<Full<Cursor<Vec<u8>>>>) -> Result<Answer, NoAnswer> {
        let response = self.client.request(request).await?;
        let (parts, body) = response.into_parts();
        let bytes = body.collect().await?.to_bytes();
        let text = String::from_utf8_lossy(&bytes).into_owned();
        Ok(Answer { status: parts.status, headers: parts.headers, text })
    }
}

impl Answer {
    /// The revision that a workspace page shows; 0 on other pages.
    #[must_use]
    pub fn revision(&self) -> i32 {
        let (_, from) = self.text.split_once("data-revision=\"").unwrap_or_default();
        from.split('"').next().and_then(|text| text.parse().ok()).unwrap_or_default()
    }
}

//! What handlers share.

use std::net::SocketAddr;

use axum::extract::FromRef;
use fondant_app::App;
use tokio_util::sync::CancellationToken;
use url::Url;

/// How the application is reached.
#[derive(Debug, Clone)]
pub struct Settings {
    /// Address and port of the listener.
    pub listening: SocketAddr,
    /// The address under which others reach it, where that is another one.
    pub public_url: Option<Url>,
}

/// What handlers share. Cheap to copy; all copies are one.
#[derive(Debug, Clone)]
pub struct Web {
    /// The application.
    pub app: App,
    /// Network settings.
    pub settings: Settings,
    /// Ends streams of events when the server ends.
    pub end: CancellationToken,
}

impl Settings {
    /// The address of the application as others know it, without a slash at its end.
    #[must_use]
    pub fn address(&self) -> String {
        let own = || format!("http://{}", self.listening);
        self.public_url
            .as_ref()
            .map_or_else(own, |url| url.as_str().trim_end_matches('/').to_owned())
    }
}

impl FromRef<Web> for App {
    fn from_ref(web: &Web) -> Self {
        web.app.clone()
    }
}

impl FromRef<Web> for Settings {
    fn from_ref(web: &Web) -> Self {
        web.settings.clone()
    }
}

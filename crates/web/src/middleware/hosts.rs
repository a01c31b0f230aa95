//! The names that this server answers to. A page of another site that makes its own name lead here
//! (DNS rebinding) is not answered.

use std::net::{IpAddr, SocketAddr};

use axum::extract::{Request, State};
use axum::http::header;
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use url::Url;

use crate::Settings;
use crate::ui::error::WebError;

/// Refuses requests under a name that is not this server's.
pub(crate) async fn check(
    State(settings): State<Settings>,
    request: Request,
    next: Next,
) -> Response {
    let header = request.headers().get(header::HOST).and_then(|host| host.to_str().ok());
    let host = header.or_else(|| request.uri().authority().map(|a| a.as_str()));
    if host.is_some_and(|host| is_ours(host, &settings)) {
        next.run(request).await
    } else {
        WebError::Misdirected.into_response()
    }
}

/// Whether a name and port, as a browser sends them, are this server's.
fn is_ours(host: &str, settings: &Settings) -> bool {
    let Ok(url) = Url::parse(&format!("http://{host}/")) else { return false };
    let named = match url.host() {
        Some(url::Host::Domain(name)) => name.to_owned(),
        Some(url::Host::Ipv4(address)) => return is_listening(address.into(), settings.listening),
        Some(url::Host::Ipv6(address)) => return is_listening(address.into(), settings.listening),
        None => return false,
    };
    let is_local = named == "localhost" || named.ends_with(".localhost");
    let is_here = settings.listening.ip().is_loopback() || settings.listening.ip().is_unspecified();
    let public = settings.public_url.as_ref().and_then(Url::host_str);
    is_local && is_here || public == Some(named.as_str())
}

/// An address cannot be made to lead elsewhere: where the server listens on all of its addresses,
/// any of them is its own.
fn is_listening(address: IpAddr, listening: SocketAddr) -> bool {
    let own = listening.ip();
    own.is_unspecified() || own == address || own.is_loopback() && address.is_loopback()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn settings(listening: &str, public: Option<&str>) -> Settings {
        Settings {
            listening: listening.parse().unwrap(),
            public_url: public.map(|url| Url::parse(url).unwrap()),
        }
    }

    #[test]
    fn a_host_that_is_not_ours_is_refused() {
        let local = settings("127.0.0.1:7350", None);
        for ours in
            ["127.0.0.1:7350", "localhost:7350", "localhost", "LOCALHOST:7350", "[::1]:7350"]
        {
            assert!(is_ours(ours, &local), "{ours}");
        }
        for other in [
            "evil.example",
            "evil.example:7350",
            "192.168.1.7",
            "",
            "a b",
            "localhost.evil.example",
        ] {
            assert!(!is_ours(other, &local), "{other}");
        }
    }

    #[test]
    fn the_public_address_and_any_own_address_are_ours() {
        let open = settings("0.0.0.0:80", Some("https://bench.example/"));
        for ours in ["bench.example", "bench.example:443", "192.168.1.7", "localhost"] {
            assert!(is_ours(ours, &open), "{ours}");
        }
        assert!(!is_ours("other.example", &open));
        let one = settings("192.168.1.7:80", None);
        assert!(is_ours("192.168.1.7", &one) && !is_ours("localhost", &one));
    }
}

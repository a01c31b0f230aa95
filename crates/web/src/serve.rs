//! The application on a listener.

use std::future::IntoFuture;
use std::time::Duration;

use fondant_app::App;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;

use crate::router::router;
use crate::state::{Settings, Web};

/// Grace period for requests in progress when the server shuts down.
const LAST_ANSWERS: Duration = Duration::from_secs(2);

/// Serves the pages until `end`, then lets open requests finish for a few seconds. What is still
/// open after that, uploads and half-sent requests too, is cut off.
///
/// # Errors
/// The listener's error.
// Not an `async fn`: the body of a public one is compiled into whatever holds it, so that the unit tests
// of this crate, which serve nothing, would be built with all pages.
pub fn serve(
    listener: TcpListener,
    app: App,
    settings: Settings,
    end: CancellationToken,
) -> impl Future<Output = std::io::Result<()>> + Send {
    let web = Web { app, settings, end: end.clone() };
    let ended = end.clone();
    let graceful = async move { ended.cancelled().await };
    let server = axum::serve(listener, router(web)).with_graceful_shutdown(graceful);
    async move {
        let cut_off = async {
            end.cancelled().await;
            tokio::time::sleep(LAST_ANSWERS).await;
        };
        tokio::select! {
            served = server.into_future() => served,
            () = cut_off => Ok(()),
        }
    }
}

//! Pages, fragments and drawings of Fondant, rendered on the server.
//!
//! - [`routes`]: the route table, one folder or file an area
//! - [`entries`]: reading forms into checked values
//! - [`views`]: what pages show, as ready strings
//! - [`drawings`]: SVG as pure functions
//! - [`field_jobs`]: sections and blocks, computed beside the requests
//! - [`pour_jobs`]: alternatives of pour times, computed beside the requests
//! - [`state`]: what handlers share; evaluations are kept there

pub mod drawings;
pub mod entries;
mod error;
pub mod field_jobs;
pub mod pour_jobs;
pub mod routes;
#[cfg(test)]
mod sample;
pub mod state;
pub mod views;

use std::future::Future;

use tokio::net::TcpListener;

pub use error::WebError;
pub use state::AppState;

/// Serves the pages until `shutdown` is ready, then lets open requests finish.
///
/// # Errors
/// What the listener reports.
pub async fn serve(
    listener: TcpListener,
    state: AppState,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    axum::serve(listener, routes::router(state)).with_graceful_shutdown(shutdown).await
}

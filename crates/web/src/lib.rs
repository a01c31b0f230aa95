//! Pages, fragments and drawings of Fondant, rendered on the server.
//!
//! - [`serve`], [`router`]: the application on a listener, or as a service
//! - `paths`: every address, once
//! - `pages`: a folder a page: handlers, form, view, drawing, template, script
//! - `ui`: fields, figures, units; `words`: sentences; `svg`, `drawings`: drawings
//! - `middleware`: what every request passes through; `assets`: styles, scripts, fonts
//!
//! ```
//! # #[tokio::main(flavor = "current_thread")]
//! # async fn main() {
//! use axum::http::Request;
//! use fondant_testkit::{TestApp, documents};
//! use tower::ServiceExt;
//!
//! let app = TestApp::new(&documents::workshop(8, 18)).await;
//! let asked = Request::get("/today").header("Host", "localhost:7350").body(String::new()).unwrap();
//! let answer = fondant_web::router(app.web()).oneshot(asked).await.unwrap();
//! assert_eq!(answer.status(), 200);
//! # }
//! ```

mod assets;
mod drawings;
mod middleware;
mod pages;
mod paths;
mod router;
#[cfg(test)]
mod sample;
mod serve;
mod state;
mod svg;
mod ui;
mod words;

pub use router::{guarded, router};
pub use serve::serve;
pub use state::{Settings, Web};

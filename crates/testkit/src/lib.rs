//! For tests only: a database of its own for each test, the application on it, outages, waiting,
//! plain requests, and a headless browser.
//!
//! - [`TestDb`]: a database of its own; [`TestApp`]: the application on one, with a clock that a test sets
//! - [`documents`]: workshops and casts that tests begin with
//! - [`Http`]: plain requests to a server; [`Browser`]: pages as a maker uses them
//! - [`eventually`]: waits for what other tasks and processes do; [`Outage`]: takes a database away
//!
//! ```
//! # #[tokio::main(flavor = "current_thread")]
//! # async fn main() {
//! use fondant_testkit::{Http, TestApp, documents};
//!
//! let app = TestApp::new(&documents::workshop(8, 18)).await;
//! let cast = app.cast("Counter").await;
//! let page = app.serving(async |base| Http::new(&base).get(&format!("/casts/{cast}/form")).await).await;
//! assert!(page.unwrap().text.contains("Counter"));
//! # }
//! ```

mod app;
mod browser;
mod chromium;
mod database;
pub mod documents;
mod http;
mod outage;
mod until;

pub use app::TestApp;
pub use browser::{Browser, with_browser};
pub use database::TestDb;
pub use http::{Answer, Http, NoAnswer};
pub use outage::Outage;
pub use until::eventually;

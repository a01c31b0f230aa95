//! For tests only: a database of its own for each test, the application on it, outages, waiting,
//! plain requests, and a headless browser.

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

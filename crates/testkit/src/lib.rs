//! For tests only: a database of its own for each test, the application on it,
//! and a headless browser to drive it.

mod app;
mod browser;
mod database;
pub mod documents;

pub use app::TestApp;
pub use browser::{Browser, with_browser};
pub use database::TestDb;

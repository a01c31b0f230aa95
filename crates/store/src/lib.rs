//! Keeps workshops, casts and their revisions in PostgreSQL: rows in, core types out.
//!
//! - [`Store`]: the door to the database; [`Session`]: what can be asked through it
//! - [`repos`]: what can be asked, one file an aggregate; every query names its workshop
//! - [`migrations`]: the schema, step by step; a landed step is never edited
//! - `entities`: one file a table; nothing outside this crate sees them
//!
//! Reads go through any [`Session`]. What changes rows is only there on a [`Transaction`], so that
//! a use case cannot write outside of one.
//!
//! One of its tests, as an example:
//!
//! ```
#![doc = include_str!("../tests/store/front_page.rs")]
//! ```

mod convert;
mod entities;
mod error;
mod events;
pub mod migrations;
pub mod repos;
mod session;

pub use error::StoreError;
pub use events::{EventStream, RawEvent};
pub use session::{Pool, Session, SetUpTurn, Store, Transaction};

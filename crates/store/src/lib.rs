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
//! ```
//! # #[tokio::main(flavor = "current_thread")]
//! # async fn main() -> Result<(), fondant_store::StoreError> {
//! use fondant_testkit::{TestDb, documents};
//!
//! let store = TestDb::migrated().await.store;
//! let writing = store.begin().await?;
//! let id = writing.create_workshop(&documents::workshop(8, 18)).await?;
//! assert!(store.read().workshop().await?.is_none(), "nobody sees what is not committed");
//! writing.commit().await?;
//! assert_eq!(store.read().workshop().await?.map(|workshop| workshop.id), Some(id));
//! # Ok(())
//! # }
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
pub use session::{MigrationTurn, Pool, Session, Store, Transaction};

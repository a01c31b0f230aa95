//! What can be done with Fondant: use cases, each one function and one transaction that moves
//! everything together, and then one event.
//!
//! - [`App`]: what they share: records, clock, weather, what is kept of the model's work
//! - [`Shop`]: the workshop as its casts see it now
//! - [`beginning`]: the records and the first workshop; [`Background`]: what goes on beside requests
//! - [`casts`], [`settings`], [`shelf`], [`forms`]: what can be done
//! - [`mod@bench`]: runs at the bench, begun, written down, read
//! - [`devices`]: instruments and their readings
//! - [`ending`]: the record of a cast, its faults and their causes; [`ledger`]: all of them
//! - [`CastAgenda`], [`collisions`]: what is due, and what is in each other's way
//! - [`jobs`]: long work, kept in the records and worked by whichever process has time
//! - [`Event`]: what has happened, told to every page of every process
//! - [`Worked`]: what follows from a document, worked out once and kept
//! - [`AppError`]: what can go wrong; it carries figures and no sentences
//!
//! One of its tests, as an example:
//!
//! ```
#![doc = include_str!("../tests/app/front_page.rs")]
//! ```

mod agendas;
mod app;
mod background;
pub mod beginning;
pub mod bench;
pub mod casts;
mod clock;
pub mod collisions;
mod compute;
pub mod courses;
pub mod devices;
pub mod ending;
mod error;
mod evaluating;
mod events;
mod files;
pub mod finishing;
pub mod forms;
pub mod jobs;
pub mod large;
pub mod ledger;
mod lessons;
mod listening;
mod looked;
mod reading;
pub mod recipes;
pub mod repeating;
mod request;
mod run_rows;
pub mod settings;
pub mod shelf;
mod shop;
pub mod stock;
mod surroundings;
pub mod whole;

pub use agendas::CastAgenda;
pub use app::App;
pub use background::{Background, Works};
pub use clock::Clock;
pub use compute::{Key, Lane};
pub use error::{AppError, Boxed};
pub use evaluating::Worked;
pub use events::{Event, Subscription};
pub use reading::Readers;
pub use request::Request;
pub use shop::Shop;
pub use surroundings::{Stock, Surroundings};

/// Records as pages see them.
pub mod records {
    pub use fondant_store::repos::{
        AirLogId, Asked, BROUGHT_BACK_WITHIN, BookedBy, CastId, CastRecord, CastState, CastSummary,
        Counts, Cursor, DeviceId, DeviceRecord, DrawingId, FaultId, FormId, FormRecord, Forms,
        JobFailure, Keep, Kept, KeptFault, KeptLog, KeptRun, LedgerAsked, LedgerBy, LedgerGroup,
        LedgerRow, LedgerSort, LedgerTotals, Listed, NewPhoto, NewRow, PhotoId, PhotoRecord,
        Picture, RunId, Shelved, Shows, Step, Workshop, WorkshopId, WorkshopSettings,
    };
}

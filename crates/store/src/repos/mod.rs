//! What can be asked of the store, one file an aggregate.

mod agendas;
mod air;
mod answered;
mod casts;
mod drawings;
mod facts;
mod forecasts;
mod forms;
mod jobs;
mod photos;
mod shelf;
mod workshops;

pub use agendas::{Basis, KeptAgenda};
pub use air::{AirLogId, KeptLog, NewLog};
pub use casts::{CastId, CastRecord, CastSummary, Cursor, Step};
pub use drawings::{DrawingFile, DrawingId};
pub use forms::{BookedBy, FormId, FormRecord, Forms};
pub use jobs::{BegunJob, JobFailure, JobStanding, JobState, NewJob};
pub use photos::{KnownLength, NewPhoto, PhotoId, PhotoRecord, Picture, Squaring};
pub use shelf::{Kept, ShelfItem, Shelved};
pub use workshops::{Workshop, WorkshopId, WorkshopSettings};

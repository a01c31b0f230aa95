//! What can be asked of the store, one file an aggregate.

mod air;
mod casts;
mod forms;
mod photos;
mod pour_facts;
mod shelf;
mod workshops;

pub use casts::{CastId, CastRecord, CastSummary, Step};
pub use forms::{FormId, FormRecord};
pub use photos::{KnownLength, NewPhoto, PhotoId, PhotoRecord, Picture, Squaring};
pub use pour_facts::CastAgenda;
pub use shelf::{Kept, ShelfItem};
pub use workshops::{NewWorkshop, Workshop, WorkshopId};

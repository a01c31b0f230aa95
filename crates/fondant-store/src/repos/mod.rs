//! What can be asked of the store, one file an aggregate.

mod casts;
mod workshops;

pub use casts::{CastId, CastRecord, CastSummary, Step};
pub use workshops::{NewWorkshop, Workshop, WorkshopId};

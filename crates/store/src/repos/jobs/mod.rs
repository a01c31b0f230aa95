//! Long work on casts. The row says what is asked for and how it stands; the queue only says
//! whose turn it is.
//!
//! - `standing`: how a job stands
//! - `ask`: asked for, joined, restarted, cancelled
//! - `work`: as those who work on it see it

mod ask;
mod standing;
mod work;

pub use standing::{BegunJob, JobFailure, JobStanding, JobState, NewJob};

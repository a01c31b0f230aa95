//! A run: one pour from the open bucket to the last look, folded from what happened.
//!
//! - [`happening`]: what can happen; rows are never changed
//! - [`plan`]: what the run is to do
//! - [`batch`]: one bucket of it
//! - [`state`]: where it stands; [`refuse`]: what cannot happen now, and why
//! - `cups`: cups of several colours; `colours`: colour by a recipe
//! - `hands`: how long it keeps hands busy
//! - `baths`: warm water for bottles, cold water round the form
//! - [`acts()`]: what is to be done next; [`clocks()`]: what is running

pub mod acts;
pub mod batch;
mod baths;
pub mod clocks;
mod colours;
mod cups;
mod hands;
pub mod happening;
pub mod plan;
pub mod refuse;
pub mod state;
#[cfg(test)]
mod tests;

pub use acts::{Act, acts};
pub use batch::{Batch, Taken};
pub use clocks::{Clock, ClockKind, clocks};
pub use happening::{Happening, ReadyItem, Row};
pub use plan::{Chill, Cup, PotLevel, RunPlan, Tinting};
pub use refuse::Refused;
pub use state::{Ended, Run};

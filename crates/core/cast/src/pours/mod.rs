//! The step of pours: a cast's layers and times as a task for the search, and its schedule.
//!
//! - `site`: [`Site`], what a shop brings to every cast
//! - `lead`: work before the first pour
//! - `depths`: the layers into which a depth may be split
//! - `in_bucket`: [`InBucket`], whether a bucket is poured before it is too thick
//! - `task`: [`PourTask`], everything that pour times follow from
//! - `sides`: what stands at the sides of its layers; `beside`: pours beside other ones
//! - `over`: what comes over pours that are in, in another form
//! - `coat`: a flood coat that comes to a plan which was taken
//! - `taken`: pours as a document keeps them once they are taken, with ids that stay

mod beside;
mod coat;
mod depths;
mod in_bucket;
pub mod lead;
mod mixes;
mod over;
mod sides;
mod site;
mod taken;
mod task;

pub use coat::recoated;
pub use depths::EXTRA_LAYERS;
pub use in_bucket::InBucket;
pub use site::Site;
pub use taken::{as_given, levels_of, take, with_ids};
pub use task::{Planned, PourTask, PourTrouble};

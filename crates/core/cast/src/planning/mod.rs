//! Readers of an evaluation: what else a maker may want to know before the pour.
//!
//! - `alternatives`: the best schedules by different wishes, and how well they hold
//! - `fixes`: the smallest changes that make a schedule possible; `suits`: resins that are proposed
//! - `charts`, `changes`: peak against depth and wait; what the usual changes would do
//! - `cured`: when the piece is cured through
//! - `field_task`: the section or block whose temperatures are computed in full; `field_run`: it
//!   followed through time

mod alternatives;
mod changes;
mod charts;
mod cured;
mod field_run;
mod field_task;
mod fixes;
mod suits;

pub use alternatives::{Alternative, STEADY, Wish, alternatives};
pub use changes::{Change, ChangeOf, changes};
pub use charts::{DepthMap, DepthPoint, depth_map, peak_by_depth, peak_by_wait, peak_of};
pub use cured::{CuredThrough, cured_through, glass_margin};
pub use field_run::{expected_s, follow};
pub use field_task::{Dimension, FieldTask, Followed, PouredTo};
pub use fixes::{Changed, Fix, Offer, is_wanted, offers, opened, with};
pub use suits::{Unsuitable, suits};

#[cfg(test)]
mod charts_tests;

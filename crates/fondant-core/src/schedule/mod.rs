//! When each layer goes in: pour times inside the layers' windows and the
//! shop's hours, in steady air.
//!
//! - [`hours`]: when the shop is open
//! - [`plan`]: the search for pour times

pub mod hours;
mod search;
mod types;

pub use hours::{HoursError, OpenSpan, ShopHours, Workday};
pub use search::plan;
pub use types::{Joint, Schedule, ScheduleError, ScheduledPour, Task};

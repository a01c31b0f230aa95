//! When each layer goes in: pour times inside the layers' windows and the
//! shop's hours, in the shop's own air.
//!
//! - [`layers`]: how a fill is split
//! - [`hours`]: when the shop is open; [`crew`]: how long a pour takes
//! - [`simulate`]: pours at given times followed through the heat model
//! - [`search`]: the best plan on a grid of times and depths, by `simulate`
//!
//! How the search works and what it guarantees is told in `docs/schedule.md`.

pub mod crew;
pub mod hours;
pub mod layers;
pub mod search;
pub mod simulate;

pub use crew::{Crew, MixedRatio};
pub use hours::{Exception, HoursError, OpenSpan, ShopHours, Workday};
pub use search::{Aim, Allowance, search};
pub use simulate::{
    Binding, Break, GRID_S, Given, Joint, Proof, Schedule, ScheduleError, ScheduledPour, Task,
    WATCH_S, bindings, judge, refit,
};

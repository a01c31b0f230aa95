//! When each layer goes in: pour times inside the layers' windows and the
//! shop's hours, in the shop's own air.
//!
//! - [`hours`]: when the shop is open
//! - [`crew`]: how long a pour takes
//! - [`search`]: the best plan on a grid of times and depths
//! - [`judge`]: what given times do and break
//! - [`robust`]: how often a plan holds when air, resin or people are off
//! - [`observed`]: windows by what was poured and touched
//!
//! How the search works and what it guarantees is told in `docs/schedule.md`.

pub mod crew;
pub mod hours;
pub mod judge;
pub mod observed;
pub mod robust;
pub mod search;
mod types;

pub use crew::Crew;
pub use hours::{Exception, HoursError, OpenSpan, ShopHours, Workday};
pub use judge::{Break, Given, judge, refit};
pub use search::{Aim, Allowance, bindings, search};
pub use types::{Binding, Joint, Proof, Schedule, ScheduleError, ScheduledPour, Task, WATCH_S};

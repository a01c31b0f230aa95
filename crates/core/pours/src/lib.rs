//! When each layer is poured: times inside the layers' windows and the shop's hours, in the shop's own
//! air. It answers how many layers a depth takes, and the soonest or most robust times for them.
//!
//! Read in this order:
//!
//! - [`layers`]: how a fill is split
//! - [`hours`]: when the shop is open; [`crew`]: how long a pour takes
//! - [`simulate`]: pours at given times simulated by the heat model, and what they break
//! - [`search`](mod@search): the best plan on a grid of times and depths, by `simulate`
//!
//! How the search works and what it guarantees stands in `docs/schedule.md`.
//!
//! ```
//! use fondant_pours::{ShopHours, Workday};
//!
//! let day = Workday::read_day("08:00-12:00, 13:00-17:00")?;
//! let hours = ShopHours::new(vec![day; 7].try_into().expect("a week"), "UTC")?;
//! let (from, to) = ("2026-11-23T11:00:00Z".parse()?, "2026-11-23T12:30:00Z".parse()?);
//! assert!(!hours.is_open(from, to));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

pub mod crew;
pub mod hours;
pub mod layers;
pub mod search;
pub mod simulate;

pub use crew::{Crew, MixedRatio};
pub use hours::{Exception, HoursError, OpenSpan, ShopHours, Workday};
pub use search::{Aim, Allowance, search};
pub use simulate::{
    AirRule, Binding, Break, GRID_S, Given, Joint, Proof, Schedule, ScheduleError, ScheduledPour,
    StageResin, Task, Unfit, WATCH_S, bindings, judge, refit,
};

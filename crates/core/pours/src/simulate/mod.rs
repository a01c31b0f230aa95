//! Pours at given times followed through the heat model.
//!
//! - [`task`]: what is to be scheduled
//! - [`schedule`]: pours with their times, windows and peaks
//! - [`air_rule`]: air in which nothing is poured
//! - `grid`, `column`, `course`, `slots`, `joint`: one pour after another, the grid of times, the bond between two
//! - [`judge`](mod@judge): what given times do and break; [`refit`](mod@refit): later pours taken along
//! - [`observe`](mod@observe): windows by what was poured and touched
//! - [`tries`]: how often a plan holds when air, resin or people are off

pub mod air_rule;
pub mod bindings;
pub mod breaks;
pub(crate) mod column;
pub(crate) mod course;
pub mod error;
pub mod given;
pub(crate) mod grid;
pub(crate) mod joint;
pub mod judge;
pub mod observe;
pub mod refit;
pub mod schedule;
pub(crate) mod slots;
pub mod task;
pub mod tries;

pub use air_rule::{AirRule, Unfit};
pub use bindings::bindings;
pub use breaks::Break;
pub use error::ScheduleError;
pub use given::Given;
pub use grid::GRID_S;
pub use judge::judge;
pub use observe::{Allowed, Observed, PouredAt, Touch, Touched, observe};
pub use refit::refit;
pub use schedule::{Binding, Joint, Proof, Schedule, ScheduledPour, WATCH_S};
pub use task::{StageResin, Task};
pub use tries::{Held, TRIES, robust};

//! From the form to the finished piece: what is done to it, in what order, how long it takes and what it
//! uses up.
//!
//! - [`flatten`]: a sled with a router bit over a face; [`sand`]: grits, discs, minutes
//! - [`surface`]: polished, flood coat or oil, side by side
//! - [`square`]: sawn to size
//! - [`steps`]: all of it for a cast
//! - [`work`]: what was done, with its hours; [`pace`]: what the shop learns from them
//!
//! Figures of pace are starting values of the trade until the shop has timed its own.
//!
//! ```
//! use fondant_finish::flatten::{Sled, flatten};
//! use fondant_quantities::Length;
//!
//! // 3 mm off a face of 1200 × 600 mm, 1 mm at a time: three passes of twenty-one lanes.
//! let mm = Length::from_mm;
//! let found = flatten(mm(1200.0), mm(600.0), mm(3.0), &Sled::default());
//! assert_eq!((found.passes, found.lanes), (3, 21));
//! ```

pub mod flatten;
pub mod pace;
pub mod sand;
pub mod square;
pub mod steps;
pub mod surface;
pub mod work;

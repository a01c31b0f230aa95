//! From the form to the finished piece: what is done to it, in what order, how long it takes and what it
//! uses up.
//!
//! - [`flatten`]: a sled with a router bit over a face; [`sand`]: grits, discs, minutes
//! - [`surface`]: polished, flood coat or oil, side by side
//! - [`steps`]: all of it for a cast
//!
//! Figures of pace are starting values of the trade, not measurements.
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
pub mod sand;
pub mod steps;
pub mod surface;

//! The day of the pour: from the open bucket to the last look at the level. It answers what goes on
//! the scale next, how long the bucket can still be poured, and what may not be forgotten.
//!
//! Read in this order:
//!
//! - [`batches`]: a pour split into batches; [`weighing`]: parts A and B, and what to do about too
//!   much of one; [`tinting`]: colour
//! - [`warming`]: bottles in warm water; [`bucket`]: how long a mixed bucket can be poured, moved by
//!   readings; [`pot`]: pressure while it gels; [`vacuum`]: none before it is poured
//! - [`swirl`]: colours that are joined when they have thickened
//! - [`reading`]: readings of instruments, and which of them cannot be
//! - [`prepare`](mod@prepare): from a worked cast to the plan of a run
//! - [`run`]: what happened, where the run stands, what is next
//!
//! ```
//! use fondant_bench::weighing::{Pair, Part, corrected};
//! use fondant_materials::resin::shipped;
//! use fondant_quantities::Mass;
//!
//! let resin = &shipped::all()[0];
//! let asked = Pair::of(Mass::from_kg(1.45), resin);
//! // 40 g of A too much: B follows it.
//! let now = corrected(asked, Part::A, Mass::from_kg(1.04), resin);
//! assert_eq!((now.pair.b.kg() * 1000.0).round(), 468.0);
//! ```

pub mod batches;
pub mod bucket;
pub mod pot;
pub mod prepare;
pub mod reading;
pub mod run;
pub mod swirl;
pub mod tinting;
pub mod vacuum;
pub mod warming;
pub mod weighing;

pub use prepare::{NotPrepared, Prepared, cups, is_at_once, prepare};
pub use run::{Act, Clock, ClockKind, Happening, Refused, Row, Run, RunPlan};

//! The record of a cast: what was measured while it was made, what went wrong and why, and how it
//! stands beside others of its kind.
//!
//! Read in this order:
//! - [`figures`]: what is recorded of a cast, as numbers with a meaning each
//! - [`gather`]: those figures from the runs at the bench and the forecast that was kept
//! - [`at_once`]: a cast that was poured without a plan, as it was poured
//! - [`cost`]: what it costs
//! - [`course`]: what it went through, promised and happened, on one line of time
//! - [`readings`]: what instruments read meanwhile
//! - [`fault`]: what can be wrong with a finished piece
//! - [`causes`]: what each fault comes from, and which figures speak for it: one table
//! - [`mod@diagnose`]: the causes of a fault by what is known of this cast, the likeliest first
//! - [`compare`]: two casts, or one with its like, by the shop's own spread
//! - [`lessons`]: what the next cast like it changes, each change with its reason
//! - [`end`]: what the ledger keeps of a cast
//! - [`chart`]: a figure over casts of one product, with its limits
//!
//! ```
//! use fondant_record::diagnose::{Confirmed, diagnose};
//! use fondant_record::fault::FaultKind;
//! use fondant_record::figures::{Figure, Figures};
//!
//! // Weighed 6 % off, and mixed for long enough: the ratio comes before the stirring.
//! let mut figures = Figures::default();
//! figures.set(Figure::RatioError, 0.06);
//! figures.set(Figure::Mixing, 300.0);
//! let found = diagnose(FaultKind::SoftPlaces, &figures, &Confirmed::default());
//! assert_eq!(found[0].cause, fondant_record::causes::Cause::Ratio);
//! ```

pub mod at_once;
pub mod causes;
pub mod chart;
pub mod compare;
pub mod cost;
pub mod course;
pub mod diagnose;
pub mod end;
pub mod fault;
pub mod figures;
pub mod gather;
pub mod lessons;
pub mod readings;
#[cfg(test)]
mod seeded;

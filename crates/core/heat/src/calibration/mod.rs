//! What a resin really does: its model fitted to a datasheet, or corrected by a
//! temperature log of the shop's own.
//!
//! - [`log`]: readings of a cup over time
//! - [`cup`]: a cup of resin, and the same cup of warm water
//! - [`learning`]: rate and heat from a log, or why the log cannot say
//! - [`forecast`]: what a cast's peak and deepest layer become, with their uncertainty
//! - [`mixing`]: ratios and densities that follow from each other
//! - [`sheet`]: the generic model of a class fitted to a datasheet

pub mod cup;
pub mod factors;
pub mod forecast;
pub mod learning;
pub mod log;
pub mod mixing;
mod refusal;
pub mod sheet;

pub use refusal::Refusal;

//! The rules and the arithmetic of casting resin with timber.
//!
//! Pure functions over typed quantities: no clock, no input or output, no
//! randomness. Modules in the order in which they may use one another, each
//! only those above it:
//!
//! | module | what it holds |
//! |---|---|
//! | [`quantities`] | lengths, volumes, temperatures; reading and writing them; bounds |
//! | [`numerics`] | integration, roots, linear systems; knows no word of the trade |
//! | [`climate`] | the shop's air over days; damp and cold |
//! | [`timber`] | boards, and the river between them by stations |
//! | [`form`] | from the finished piece to the inside of the form |
//! | [`volume`] | V(z), the lines of the volume, its uncertainty, lift |
//! | [`resin`] | what a resin is; those that ship |
//! | [`cure`] | rate of cure, glass temperature, viscosity |
//! | [`heat`] | conduction and cure together; deepest layer; windows |
//! | [`layers`] | splitting the fill |
//! | [`schedule`] | pour times in windows and hours |
//! | [`mix`] | parts A and B |
//! | [`plan`] | the document of a cast, and all that follows from it |

pub mod blanks;
pub mod calibration;
pub mod climate;
pub mod cure;
pub mod form;
pub mod geometry;
pub mod heat;
pub mod layers;
pub mod mix;
pub mod numerics;
pub mod picture;
pub mod plan;
pub mod quantities;
pub mod resin;
pub mod schedule;
pub mod timber;
pub mod volume;

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

pub mod cure;
pub mod heat;
pub mod numerics;
pub mod quantities;
pub mod resin;

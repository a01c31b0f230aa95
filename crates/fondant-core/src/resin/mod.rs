//! What a resin is: how it is mixed, how it cures, what it tolerates.
//!
//! - [`properties`]: the record of one resin
//! - [`shipped`]: the generic resins that come with Fondant

pub mod properties;
pub mod shipped;

pub use properties::{CureParameters, MixRatio, Resin, ResinError, ResinId, Viscosity, Working};

//! What a resin is: how it is mixed, how it cures, what it tolerates.
//!
//! - [`properties`]: the record of one resin
//! - [`shelf`]: what stands on a shop's shelf
//! - [`shipped`]: the generic resins that come with Fondant

pub mod properties;
pub mod shelf;
pub mod shipped;

pub use properties::{
    CureParameters, Cured, DeepestAllowed, Hazard, InBucket, InLayer, Kit, Learnt, MeasuredBy,
    MixRatio, Resin, ResinClass, ResinError, ResinId, Sheet, Sunlight, Viscosity, Working,
};
pub use shelf::Shelf;

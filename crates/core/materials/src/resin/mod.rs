//! What a resin is: how it is mixed, how it cures, what it tolerates.
//!
//! - `properties`: [`Properties`], what datasheet and class say; `mix`, `cure`, `datasheet`: parts of it
//! - `record`: [`Record`], a resin on the shelf
//! - `calibrated`: [`Calibrated`], the resin that the model runs on
//! - [`shelf`]: a shop's shelf
//! - [`shipped`]: the generic resins that come with Fondant

mod calibrated;
mod cure;
mod datasheet;
mod error;
mod mix;
mod properties;
mod record;
pub mod shelf;
pub mod shipped;

pub use calibrated::{
    CLASS_HEAT_SD, CLASS_RATE_SD, Calibrated, Calibration, HEAT_RANGE, RATE_RANGE,
};
pub use cure::{CureParameters, Viscosity};
pub use datasheet::{Datasheet, DeepestAllowed, InBucket, InLayer};
pub use error::ResinError;
pub use mix::{MeasuredBy, MixRatio};
pub use properties::{Cured, Hazard, Kit, Properties, ResinClass, ResinId, Sunlight, Working};
pub use record::Record;
pub use shelf::Shelf;

//! Resins, timber and sheet: their data, properties and sources.
//!
//! - [`resin`]: a resin's record, the shelf, the generic resins that ship
//! - [`Material`]: solids that conduct heat
//! - [`lamp`]: one-part resin that sets under a lamp, for repairs
//! - [`sheet`]: sheets that forms are made of
//!
//! ```
//! use fondant_materials::resin::{ResinClass, shipped};
//!
//! let slow = shipped::generic(ResinClass::SlowCasting);
//! assert!((slow.calibrated().working.peak_limit.celsius() - 65.0).abs() < 1e-9);
//! ```

pub mod lamp;
pub mod resin;
pub mod sheet;
mod solid;

pub use solid::Material;

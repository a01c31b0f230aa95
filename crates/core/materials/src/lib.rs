//! What is cast and what it is cast in: resins, timber, sheet; their data, properties and sources.
//!
//! - [`resin`]: a resin's record, the shelf, the generic resins that ship
//! - [`Material`]: solids that heat goes through
//! - [`sheet`]: sheets that forms are made of

pub mod resin;
pub mod sheet;
mod solid;

pub use solid::Material;

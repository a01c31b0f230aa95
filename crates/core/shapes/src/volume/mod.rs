//! How much resin: net volume by level, its lines, its uncertainty, the ways
//! of measuring it, and the pull of the resin on what lies in it.
//!
//! - [`fill`]: V(z), from which the layers' volumes follow
//! - [`layout`]: what lies where, for drawing and cutting across
//! - [`sizing`]: every line of the volume and how sure it is
//! - [`methods`]: outline, stations, dry fill, weighed timber, side by side
//! - [`float`]: the force that lifts a board, and where to hold it
//! - [`triangle`]: mass, volume and density of a weighed board

pub mod fill;
pub mod float;
pub mod layout;
pub mod methods;
pub mod sizing;
pub mod triangle;

pub use fill::{Fill, Profile};
pub use sizing::{Contribution, Line, LineKind, Sizing, UncertaintySource};

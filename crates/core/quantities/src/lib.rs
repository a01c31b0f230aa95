//! Typed quantities, held in SI units: metres, cubic metres, kilograms, kelvins, seconds.
//!
//! - `types`: the quantities and the products that mean something here
//! - [`units`]: reading what a maker types and showing it back
//! - [`bounds`]: the range of every figure that a maker can enter
//!
//! A temperature and a difference of temperatures are two types:
//!
//! ```compile_fail
//! use fondant_quantities::Temperature;
//! let sum = Temperature::from_celsius(20.0) + Temperature::from_celsius(5.0);
//! ```
//!
//! ```
//! use fondant_quantities::{Temperature, TemperatureDelta};
//! let sum = Temperature::from_celsius(20.0) + TemperatureDelta::from_k(5.0);
//! assert!((sum.celsius() - 25.0).abs() < 1e-9);
//! ```

pub mod bounds;
mod types;
pub mod units;

pub use types::{
    Absorption, Area, Density, Force, Length, Mass, Money, STANDARD_GRAVITY_M_S2, Slope, Span,
    Temperature, TemperatureDelta, Volume,
};

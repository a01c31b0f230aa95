//! The shop's air: its course over days, and what it does to wet resin.
//!
//! - [`AirSeries`]: temperature and humidity at dated moments
//! - [`profile`]: what a shop knows of its air, made into a series
//! - [`indoor`]: a room that follows the weather with an offset and a lag
//! - [`log`]: readings of a logger, gathered
//! - [`dew`]: dew point and vapour pressure
//! - [`trouble`]: damp, cold and falling nights over a plan

pub mod dew;
pub mod indoor;
pub mod log;
pub mod profile;
mod series;
mod sketch;
pub mod trouble;

pub use series::{AirAt, AirSeries, SeriesError};

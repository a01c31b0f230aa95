//! Devices and services outside, replaced by simulated ones that ship with
//! Fondant and speak the formats that real ones would.
//!
//! - [`forecast`]: the weather outside, past and to come, as a JSON document
//! - [`instrument`]: scale, probes, hygrometer and gauge, as lines of JSON
//!
//! ```
//! use fondant_devices::forecast::{self, ForecastSource, SimulatedForecast};
//!
//! let now = "2026-11-23T09:20:00Z".parse().unwrap();
//! let coast = SimulatedForecast::coast();
//! // The document is read as the air over time.
//! let air = forecast::read(&coast.document(now)?)?;
//! assert!((-10.0..30.0).contains(&air.at(now).temperature.celsius()));
//! # Ok::<(), forecast::ForecastError>(())
//! ```

pub mod forecast;
pub mod instrument;

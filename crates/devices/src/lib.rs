//! Devices and services outside, replaced by simulated ones that ship with
//! Fondant and speak the formats that real ones would.
//!
//! - [`forecast`]: the weather outside, past and to come, as a JSON document
//! - [`instrument`]: scale, probes, hygrometer and gauge, as lines of JSON

pub mod forecast;
pub mod instrument;

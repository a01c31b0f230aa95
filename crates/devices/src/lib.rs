//! Devices and services outside, replaced by simulated ones that ship with
//! Fondant and speak the formats that real ones would.
//!
//! - [`forecast`]: the weather outside, past and to come, as a JSON document

pub mod forecast;

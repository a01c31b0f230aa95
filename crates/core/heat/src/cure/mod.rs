//! How fast a resin cures, its glass temperature and how it thickens.
//! Temperatures K, conversions 0…1, rates 1/s, viscosity Pa·s.

mod rate;
mod viscosity;

pub use rate::{CureRate, GAS_CONSTANT_J_MOL_K, Slopes, SlopesOf};
pub use viscosity::viscosity_pa_s;

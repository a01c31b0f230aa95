//! What a taken plan asks of the shop and when: kept beside the cast, so that a
//! shop's day is read without running a model.
//!
//! - `agenda`: the dates of one cast, and what is to be done at them
//! - `collisions`: casts that want the same hands or the same pot

#[allow(clippy::module_inception, reason = "the agenda is the subject of the folder")]
mod agenda;
mod collisions;
#[cfg(test)]
mod sample;

pub use agenda::{Act, ActKind, Agenda, AgendaPour, Fit, TOP_UPS_H, sequence};
pub use collisions::{AtBench, Collision, collisions};

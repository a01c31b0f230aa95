//! Long work: kept in the records with what goes into it, worked by whichever process has time, and
//! found again by its inputs.
//!
//! - `ask`: how a page asks, joins and hears how far it is
//! - `queue`: whose turn it is
//! - `worker`: how a process works
//! - [`field`]: a section or block as a field of temperatures
//! - [`plans`]: plans compared
//! - `results`: what comes of them; `progress`: how far they have come

mod ask;
mod field;
mod kind;
mod plans;
mod progress;
mod queue;
pub(crate) mod results;
mod worker;

pub use ask::{JobView, Working, abandon};
pub use field::field;
pub use kind::JobKind;
pub use plans::{plans, plans_by, plans_key};
pub(crate) use queue::set_up;
pub use results::{ComparedPlans, FieldFrame, FieldResult, FieldSeen};
pub use worker::work;

//! What each fault comes from, and which figures of a cast speak for it.
//!
//! The weights are conventions, in one table: a cause's prior says how often it is found where a
//! fault of the kind is looked into, a sign's factors how much oftener it is seen with that cause than
//! without. A shop's own confirmed causes move the priors.

mod cause;
mod table;

pub use cause::{Cause, Row, Sign, Test};
pub use table::rows;

//! Work of the model beside the threads that answer requests.
//!
//! - [`lanes`]: who may work how much at once, and how long
//! - [`key`]: by what a result is found again
//! - [`kept`]: results that are kept, bounded by their size
//! - [`results`]: everything that is kept

pub(crate) mod kept;
pub(crate) mod key;
pub(crate) mod lanes;
pub(crate) mod results;

pub use key::Key;
pub use lanes::Lane;

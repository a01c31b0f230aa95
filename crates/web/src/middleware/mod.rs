//! What every request passes through.
//!
//! - [`requests`]: an id and a line in the log
//! - [`headers`]: headers that keep a page to itself, on every answer
//! - [`notices`]: errors in the form that the asking page can show
//! - [`hosts`]: the names that this server answers to
//! - [`bodies`]: addresses and bodies within bounds
//! - [`retry`]: what was typed into a form that could not be kept

pub(crate) mod bodies;
pub(crate) mod headers;
pub(crate) mod hosts;
pub(crate) mod notices;
pub(crate) mod requests;
pub(crate) mod retry;

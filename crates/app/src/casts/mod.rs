//! What can be done with casts.
//!
//! - [`open`](mod@open): a cast, what has happened to it, what follows from it
//! - [`list`](mod@list): the casts of a workshop, page by page
//! - [`create`](mod@create), [`change`](mod@change), [`step`](mod@step): the document begun, changed, undone
//! - [`keep`](mod@keep): renamed, copied, put away, deleted and brought back
//! - [`exchange`]: whole casts as files; [`archived`]: all that is kept of one, out and in
//! - [`pours`]: a plan taken, moved, given up; a change that helps applied
//! - [`fitting`]: a plan brought up to what has happened, and to the cast as it is now
//! - [`facts`]: what happened, written down and withdrawn
//! - [`photos`]: photos of the bench; [`drawings`], [`meshes`]: files that are being looked at
//! - `write`: how each of these changes a cast, in one transaction

pub mod archived;
pub mod change;
pub mod create;
pub mod drawings;
pub mod exchange;
pub mod facts;
pub mod fitting;
pub mod keep;
pub mod list;
pub mod meshes;
mod named;
pub mod open;
pub mod photos;
pub mod pours;
pub mod resins;
pub mod step;
pub(crate) mod write;

pub use change::change;
pub use create::create;
pub use keep::{copy, keep, kept, rename};
pub use list::{counts, list};
pub use open::{Open, open};
pub use step::step;
pub use write::Changed;

//! One column of resin, poured in one or more layers.
//!
//! - [`Stack`]: the column through time
//! - [`deepest_layer`]: how deep a single pour may be
//! - [`Trace`]: temperatures over time for drawing

mod accuracy;
mod depth;
mod element;
mod elements;
mod events;
mod following;
mod hot_spot;
mod layer_resin;
mod stack;
mod trace;

pub use accuracy::Accuracy;
pub use depth::{Deepest, deepest_layer};
pub use events::LayerEvents;
pub use stack::{Goal, Stack};
pub use trace::{Sample, Trace};

//! Splitting the fill into layers: a seal coat where one is wanted, the base
//! layer, then equal ones, ones by hand, or a ladder of levels for a search.
//!
//! - `layer`: [`Layer`], by its levels
//! - `split`: a fill split into layers
//! - `ladder`: [`Ladder`], the levels at which layers may end

mod ladder;
mod layer;
mod split;

pub use ladder::{Ladder, Rung};
pub(crate) use layer::numbered;
pub use layer::{Layer, LayerKind, LayersError, MOST_LAYERS, SEAL_COAT};
pub use split::{fewest, seal_coat, split, split_at};

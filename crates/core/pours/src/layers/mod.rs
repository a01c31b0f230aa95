//! Splitting the fill into layers: a seal coat where one is wanted, the base
//! layer, then equal ones, ones by hand, or a ladder of levels for a search.
//!
//! - `layer`: [`Layer`], by its levels
//! - `filling`: [`Filling`], a fill and its stages, split into layers
//! - `ladder`: [`Ladder`], the levels at which layers may end

mod filling;
mod ladder;
mod layer;

pub use filling::{CrackFill, Filling, FloodCoat, SealCoat, StagePour, Stages};
pub use ladder::{Ladder, Rung};
pub(crate) use layer::numbered;
pub use layer::{
    Joins, Layer, LayerKind, LayersError, MOST_LAYERS, MOST_STAGES, Purpose, SEAL_COAT, seal_coat,
};

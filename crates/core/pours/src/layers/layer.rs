//! A layer, by its levels.

use fondant_quantities::{Length, Volume};
use fondant_shapes::volume::Fill;
use serde::{Deserialize, Serialize};

/// Most main layers that a cast is split into.
pub const MOST_LAYERS: usize = 12;
/// Levels closer than this are one: no bench tells them apart.
pub(super) const SAME_LEVEL: Length = Length::from_mm(0.05);
/// A brushed coat: what hangs on a live edge.
pub const SEAL_COAT: Length = Length::from_mm(0.3);

/// Where a layer stands in the pour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum LayerKind {
    /// Brushed on live edges before anything is poured.
    Seal,
    /// Under the boards.
    Base,
    /// Between the boards, counted from 1.
    Main(usize),
}

/// One layer, by its levels above the floor of the form.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Layer {
    /// Base or main.
    pub kind: LayerKind,
    /// Level of its underside.
    pub from: Length,
    /// Level of its surface.
    pub to: Length,
    /// Volume in the form.
    pub volume: Volume,
    /// The thickness through which it loses its heat: its depth, or that of a brushed coat.
    pub heat_depth: Length,
}

impl Layer {
    /// Depth where it is deepest.
    #[must_use]
    pub fn depth(&self) -> Length {
        self.to - self.from
    }
}

/// Why a fill cannot be split.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
pub enum LayersError {
    /// Most layers of a plan (convention).
    #[error("{needed} layers are needed, more than {MOST_LAYERS}")]
    TooMany {
        /// How many layers no deeper than allowed fill the form.
        needed: usize,
        /// The depth allowed.
        allowed: Length,
    },
    /// No depth is safe.
    #[error("no layer, however thin, stays under the limit")]
    NoneSafe,
}

/// The layer between two levels.
pub(super) fn between(fill: &Fill, kind: LayerKind, from: Length, to: Length) -> Layer {
    Layer { kind, from, to, volume: fill.volume_between(from, to), heat_depth: to - from }
}

/// Numbers the main layers of a path from 1.
pub(crate) fn numbered(layers: &mut [Layer]) {
    let mut number = 0;
    for layer in layers.iter_mut() {
        if let LayerKind::Main(_) = layer.kind {
            number += 1;
            layer.kind = LayerKind::Main(number);
        }
    }
}

//! A layer, by its levels.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::volume::Fill;
use serde::{Deserialize, Serialize};

/// Most main layers that a cast is split into.
pub const MOST_LAYERS: usize = 12;
/// Most pours of a plan beside its main layers: a seal coat, what lies under the boards, stages.
pub const MOST_STAGES: usize = 8;
/// Levels closer than this are one: no bench tells them apart.
pub(super) const SAME_LEVEL: Length = Length::from_mm(0.05);
/// A brushed coat: what hangs on a live edge.
pub const SEAL_COAT: Length = Length::from_mm(0.3);

/// What a pour beside the main fill is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// Cracks and knots of the boards, filled before anything else and sanded flush.
    Cracks,
    /// A thin or coloured layer under the main fill.
    Base,
    /// A thin layer into whose sticky surface things are laid. It cannot be sanded, so that what
    /// covers them goes in while it is sticky.
    Inclusions,
    /// A layer over the main fill.
    Top,
    /// A coat over the finished face, once the piece is out of its form.
    Flood,
}

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
    /// A pour beside the main fill, counted from 1 among those of its purpose, from the floor up.
    Stage(Purpose, u8),
}

impl LayerKind {
    /// Whether it goes over the finished face.
    #[must_use]
    pub const fn is_flood(self) -> bool {
        matches!(self, Self::Stage(Purpose::Flood, _))
    }

    /// Whether it fills cracks and knots: nothing of the form stands on it.
    #[must_use]
    pub const fn is_of_cracks(self) -> bool {
        matches!(self, Self::Stage(Purpose::Cracks, _))
    }
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
    /// Which of the cast's resins it is of: 0 is the cast's own, the others follow in the order of
    /// the stages.
    #[serde(default)]
    pub resin: u8,
    /// What is brushed on live edges in the same session, just before it.
    #[serde(default)]
    pub brushed: Volume,
}

impl Layer {
    /// Of the cast's own resin, with a volume in the form, between two levels.
    #[must_use]
    pub fn new(kind: LayerKind, from: Length, to: Length, volume: Volume) -> Self {
        Self { kind, from, to, volume, heat_depth: to - from, resin: 0, brushed: Volume::ZERO }
    }

    /// Depth where it is deepest.
    #[must_use]
    pub fn depth(&self) -> Length {
        self.to - self.from
    }

    /// Whether it has a depth in the form: a brushed coat has none, and a flood coat goes over the
    /// finished face.
    #[must_use]
    pub const fn is_in_form(&self) -> bool {
        !matches!(self.kind, LayerKind::Seal) && !self.kind.is_flood() && !self.kind.is_of_cracks()
    }

    /// How another layer may join this one.
    #[must_use]
    pub fn joins(&self, next: &Self) -> Joins {
        match (self.kind, next.kind) {
            (_, next) if next.is_flood() => Joins::Finished,
            (before, _) if before.is_of_cracks() => Joins::SandedFlush,
            (LayerKind::Stage(Purpose::Inclusions, _), _) => Joins::WhileSticky,
            _ => Joins::StickyOrSanded,
        }
    }
}

impl Joins {
    /// Whether it always waits for the one below to be hard.
    #[must_use]
    pub const fn is_never_wet(self) -> bool {
        matches!(self, Self::SandedFlush | Self::Finished)
    }
}

/// How a layer may join the one below.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Joins {
    /// In its window, or on it hard and sanded.
    StickyOrSanded,
    /// In its window alone: what lies in it cannot be sanded.
    WhileSticky,
    /// On boards whose cracks are filled, hard and sanded flush.
    SandedFlush,
    /// On the finished piece: hard, out of the form, flattened and sanded.
    Finished,
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
    Layer::new(kind, from, to, fill.volume_between(from, to))
}

/// A coat brushed on live edges of this area: no depth, but a pour of its own.
#[must_use]
pub fn seal_coat(edges: Area) -> Layer {
    Layer {
        kind: LayerKind::Seal,
        from: Length::ZERO,
        to: Length::ZERO,
        volume: edges * SEAL_COAT,
        heat_depth: SEAL_COAT,
        resin: 0,
        brushed: Volume::ZERO,
    }
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

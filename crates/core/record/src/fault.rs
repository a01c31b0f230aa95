//! What can be wrong with a finished piece.

use fondant_quantities::Length;
use serde::{Deserialize, Serialize};

/// Kinds of faults.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum FaultKind {
    /// Bubbles that are enclosed.
    Bubbles,
    /// Places that stay soft or sticky while the rest is hard.
    SoftPlaces,
    /// Soft everywhere.
    SoftThroughout,
    /// A greasy or milky film on the surface.
    Blush,
    /// Milky where resin meets timber.
    Bloom,
    /// Amber or yellow.
    Yellow,
    /// Cracks in the resin or along the timber.
    Cracks,
    /// Warped, or sunk in the middle.
    Warped,
    /// Stuck to the form.
    Stuck,
    /// Resin ran out of the form.
    Leak,
    /// A line between layers.
    LayerLine,
    /// Layers, or resin and timber, came apart.
    CameApart,
    /// One batch, layer or cavity has another colour.
    ColourDiffers,
    /// Dents, or prints of what lay on it.
    Dents,
    /// Cloudy throughout.
    Cloudy,
    /// Craters that the resin withdrew from.
    FishEyes,
    /// Haze or scratches after polishing.
    Haze,
}

impl FaultKind {
    /// All, in the order in which they are offered.
    pub const ALL: [Self; 17] = [
        Self::Bubbles,
        Self::SoftPlaces,
        Self::SoftThroughout,
        Self::Blush,
        Self::Bloom,
        Self::Yellow,
        Self::Cracks,
        Self::Warped,
        Self::Stuck,
        Self::Leak,
        Self::LayerLine,
        Self::CameApart,
        Self::ColourDiffers,
        Self::Dents,
        Self::Cloudy,
        Self::FishEyes,
        Self::Haze,
    ];
}

/// Where on the piece a fault is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Place {
    /// From the left end of the form.
    #[serde(rename = "x_m")]
    pub x: Length,
    /// From the near wall of the form.
    #[serde(rename = "y_m")]
    pub y: Length,
}

/// A fault of one piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Fault {
    /// What is wrong.
    pub kind: FaultKind,
    /// Where; `None` where it is everywhere, or was not marked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<Place>,
    /// How large it is across; `None` where nobody said.
    #[serde(default, rename = "size_m", skip_serializing_if = "Option::is_none")]
    pub size: Option<Length>,
    /// A remark.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

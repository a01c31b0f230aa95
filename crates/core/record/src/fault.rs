//! What can be wrong with a finished piece.

use fondant_quantities::Length;
use fondant_shapes::geometry::{Point, Ring, edges, faults};
use fondant_shapes::volume::layout::{Layout, What};
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

/// So near to timber air that leaves it rises past (convention).
const NEAR_TIMBER_M: f64 = 0.03;

/// Where on the piece a fault is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Place {
    /// From the left end of the form.
    #[serde(rename = "x_m")]
    pub x: Length,
    /// From the near wall of the form.
    #[serde(rename = "y_m")]
    pub y: Length,
    /// Above the floor of the form; `None` where nobody said.
    #[serde(default, rename = "z_m", skip_serializing_if = "Option::is_none")]
    pub z: Option<Length>,
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

impl Fault {
    /// Whether it lies within a few centimetres of timber; `None` where its place was not marked, or
    /// where no timber is drawn.
    #[must_use]
    pub fn is_near_timber(&self, layout: &Layout) -> Option<bool> {
        let place = self.place?;
        let at = Point { x_m: place.x.m(), y_m: place.y.m() };
        let is_board = |what: What| matches!(what, What::Board(_));
        let mut boards = layout.laid.iter().filter(|laid| is_board(laid.what)).peekable();
        boards.peek()?;
        Some(boards.any(|laid| is_near(&laid.shape.upper.outer, at)))
    }
}

fn is_near(ring: &Ring, at: Point) -> bool {
    let distance = |(a, b): (Point, Point)| {
        let (along, to) = (b.minus(a), at.minus(a));
        let length = along.norm_m();
        let share = (to.x_m * along.x_m + to.y_m * along.y_m) / (length * length).max(1e-12);
        at.minus(a.towards(b, share.clamp(0.0, 1.0))).norm_m()
    };
    faults::contains(ring, at) || edges(ring).any(|edge| distance(edge) <= NEAR_TIMBER_M)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn near_is_within_three_centimetres_of_an_edge() {
        let ring = [(0.0, 0.0), (1.0, 0.0), (1.0, 0.2), (0.0, 0.2)]
            .map(|(x_m, y_m)| Point { x_m, y_m })
            .to_vec();
        for (x_m, y_m, expected) in
            [(0.5, 0.1, true), (0.5, 0.225, true), (0.5, 0.24, false), (1.03, 0.22, false)]
        {
            assert_eq!(is_near(&ring, Point { x_m, y_m }), expected, "{x_m} {y_m}");
        }
    }
}

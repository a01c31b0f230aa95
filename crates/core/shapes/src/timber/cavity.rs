//! Cavities in a board: length × width × depth with a shape factor, and the
//! order in which they are filled.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Area, Length, Volume};

/// The shape of a cavity: how much of its box it fills.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum CavityShape {
    /// Milled square: the whole box.
    Pocket,
    /// Milled along a line with a straight cutter: the whole box.
    Channel,
    /// Milled along a line with a round-nosed cutter: half an ellipse, π/4.
    RoundChannel,
    /// A bored hole: π/4 of its box.
    Bore,
    /// A knot: an elliptic bowl, a paraboloid, π/8 of its box.
    Knot,
    /// A crack that closes with depth: a wedge, half of its box.
    Crack,
}

impl CavityShape {
    /// All shapes.
    pub const ALL: [Self; 6] =
        [Self::Pocket, Self::Channel, Self::RoundChannel, Self::Bore, Self::Knot, Self::Crack];

    /// Volume as a share of length × width × depth.
    #[must_use]
    pub fn factor(self) -> f64 {
        use std::f64::consts::PI;
        match self {
            Self::Pocket | Self::Channel => 1.0,
            Self::RoundChannel | Self::Bore => PI / 4.0,
            Self::Knot => PI / 8.0,
            Self::Crack => 0.5,
        }
    }

    /// Area at the bottom, half way up and at the rim, as shares of length ×
    /// width, of a quadratic that has the shape's volume.
    fn profile(self) -> [f64; 3] {
        use std::f64::consts::PI;
        match self {
            Self::Pocket | Self::Channel => [1.0; 3],
            // Half an ellipse has no quadratic area: its mean stands for it.
            Self::RoundChannel | Self::Bore => [PI / 4.0; 3],
            Self::Knot => [0.0, PI / 8.0, PI / 4.0],
            Self::Crack => [0.0, 0.5, 1.0],
        }
    }
}

/// One cavity, or several alike.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Cavity {
    /// What the maker calls it; may be empty.
    pub name: String,
    /// Number of equal pieces.
    pub count: u32,
    /// Shape of the cavity.
    pub shape: CavityShape,
    /// Length at the face.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// Width at the face.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Depth at the deepest.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// It goes right through the board.
    #[serde(default)]
    pub is_through: bool,
}

impl Cavity {
    /// Volume of one.
    #[must_use]
    pub fn volume(&self) -> Volume {
        self.length * self.width * self.depth * self.shape.factor()
    }

    /// Volume of all alike.
    #[must_use]
    pub fn volume_of_all(&self) -> Volume {
        self.volume() * f64::from(self.count)
    }

    /// Area at the face, of all alike.
    #[must_use]
    pub fn rim_area(&self) -> Area {
        self.length * self.width * (f64::from(self.count) * self.shape.profile()[2])
    }

    /// Areas at the bottom, half way up and at the rim, of all alike.
    #[must_use]
    pub fn areas(&self) -> [Area; 3] {
        self.shape.profile().map(|share| self.length * self.width * (f64::from(self.count) * share))
    }

    /// Wall and floor that absorb resin: a box's, which is a little more than
    /// any other shape has.
    #[must_use]
    pub fn wetted_area(&self) -> Area {
        let sides = (self.length + self.width) * self.depth * 2.0;
        let floor = if self.is_through { Area::ZERO } else { self.length * self.width };
        (sides + floor) * f64::from(self.count)
    }
}

/// The order in which cavities are filled, as indices: what goes right through
/// first, from the underside; then the deepest first, since it needs the most
/// top-ups; the shallow ones last.
#[must_use]
pub fn fill_order(cavities: &[Cavity]) -> Vec<usize> {
    let mut order: Vec<usize> = (0..cavities.len()).collect();
    order.sort_by(|&a, &b| {
        let (a, b) = (&cavities[a], &cavities[b]);
        b.is_through.cmp(&a.is_through).then(b.depth.m().total_cmp(&a.depth.m()))
    });
    order
}

#[cfg(test)]
mod tests {
    use super::*;

    fn cavity(shape: CavityShape, depth_mm: f64) -> Cavity {
        Cavity {
            name: String::new(),
            count: 2,
            shape,
            length: Length::from_mm(100.0),
            width: Length::from_mm(20.0),
            depth: Length::from_mm(depth_mm),
            is_through: false,
        }
    }

    #[test]
    fn volumes_against_closed_forms() {
        let ml = |shape| cavity(shape, 10.0).volume().l() * 1e3;
        assert!((ml(CavityShape::Pocket) - 20.0).abs() < 1e-9);
        assert!((ml(CavityShape::Crack) - 10.0).abs() < 1e-9);
        assert!((ml(CavityShape::Bore) - 5.0 * std::f64::consts::PI).abs() < 1e-9);
        assert!((ml(CavityShape::Knot) - 2.5 * std::f64::consts::PI).abs() < 1e-9);
    }

    #[test]
    fn the_area_by_depth_has_the_same_volume() {
        for shape in CavityShape::ALL {
            let [a, b, c] = shape.profile();
            assert!(((a + 4.0 * b + c) / 6.0 - shape.factor()).abs() < 1e-12, "{shape:?}");
        }
    }

    #[test]
    fn what_goes_through_is_filled_first_then_the_deepest() {
        let mut all = [
            cavity(CavityShape::Pocket, 6.0),
            cavity(CavityShape::Knot, 20.0),
            cavity(CavityShape::Crack, 12.0),
        ];
        all[2].is_through = true;
        assert_eq!(fill_order(&all), [2, 1, 0]);
    }
}

//! Blanks and moulds: many equal cavities, tubes in them, what is sawn from a
//! block, how a pressure pot is loaded.
//!
//! - this file: a cavity and the objects in it
//! - [`label`]: the printed label of a tube
//! - [`pot`]: loading a pressure pot
//! - [`cutting`]: blanks from a block

pub mod cutting;
pub mod label;
pub mod pot;

use serde::{Deserialize, Serialize};

use fondant_quantities::{Length, Volume};

/// The inside of one mould cavity, standing as it is poured.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "by")]
pub enum Hollow {
    /// A box.
    Box {
        /// Along.
        #[serde(rename = "length_m")]
        length: Length,
        /// Across.
        #[serde(rename = "width_m")]
        width: Length,
        /// Depth.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
    /// A cylinder.
    Round {
        /// Across.
        #[serde(rename = "diameter_m")]
        diameter: Length,
        /// Depth.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
    /// Any shape, by the water it holds.
    Water {
        /// Volume of water that it holds.
        #[serde(rename = "volume_m3")]
        volume: Volume,
        /// Depth.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
}

impl Hollow {
    /// Volume of the empty cavity.
    #[must_use]
    pub fn volume(&self) -> Volume {
        match *self {
            Self::Box { length, width, depth } => length * width * depth,
            Self::Round { diameter, depth } => {
                diameter * diameter * depth * (std::f64::consts::PI / 4.0)
            }
            Self::Water { volume, .. } => volume,
        }
    }

    /// Depth of the cavity.
    #[must_use]
    pub fn depth(&self) -> Length {
        match *self {
            Self::Box { depth, .. } | Self::Round { depth, .. } | Self::Water { depth, .. } => {
                depth
            }
        }
    }

    /// Length and width of its mouth; of a square of the same area where only
    /// the water is known.
    #[must_use]
    pub fn mouth(&self) -> (Length, Length) {
        match *self {
            Self::Box { length, width, .. } => (length, width),
            Self::Round { diameter, .. } => (diameter, diameter),
            Self::Water { volume, depth } => {
                let side = Length::from_m((volume / depth).m2().max(0.0).sqrt());
                (side, side)
            }
        }
    }

    /// Whether it is drawn round.
    #[must_use]
    pub fn is_round(&self) -> bool {
        matches!(self, Self::Round { .. })
    }
}

/// A tube that stands in a cavity, closed with plugs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Tube {
    /// Across, outside, with its label on.
    #[serde(rename = "outside_m")]
    pub outside: Length,
    /// Length.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// How far the plugs stand out, both ends together.
    #[serde(rename = "plugs_m")]
    pub plugs: Length,
}

impl Tube {
    /// What tube and plugs take up in the cavity. Plugs are as wide as the
    /// tube: they seal it.
    #[must_use]
    pub fn volume(&self) -> Volume {
        let area = self.outside * self.outside * (std::f64::consts::PI / 4.0);
        area * (self.length + self.plugs)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_blank_is_its_cavity_less_its_plugged_tube() {
        let mm = Length::from_mm;
        let cavity = Hollow::Round { diameter: mm(20.0), depth: mm(70.0) };
        let tube = Tube { outside: mm(10.0), length: mm(60.0), plugs: mm(10.0) };
        let net = cavity.volume() - tube.volume();
        // π/4 (20² − 10²) × 70 mm³ = 16.49 mL.
        assert!((net.l() * 1e3 - 16.493_361_4).abs() < 1e-6);
        assert!(
            (Hollow::Box { length: mm(100.0), width: mm(50.0), depth: mm(20.0) }.volume().l()
                - 0.1)
                .abs()
                < 1e-12
        );
    }
}

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
        /// Length of the cavity.
        #[serde(rename = "length_m")]
        length: Length,
        /// Width of the cavity.
        #[serde(rename = "width_m")]
        width: Length,
        /// Depth of the cavity.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
    /// A cylinder.
    Round {
        /// Diameter of the cavity.
        #[serde(rename = "diameter_m")]
        diameter: Length,
        /// Depth of the cavity.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
    /// A trough with a round floor as wide as itself, lying open.
    Trough {
        /// Length of the cavity.
        #[serde(rename = "length_m")]
        length: Length,
        /// Across, and twice the radius of its floor.
        #[serde(rename = "width_m")]
        width: Length,
        /// Depth at its middle.
        #[serde(rename = "depth_m")]
        depth: Length,
    },
    /// Any shape, by the water it holds.
    Water {
        /// Volume of water that it holds.
        #[serde(rename = "volume_m3")]
        volume: Volume,
        /// Depth of the cavity.
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
            Self::Trough { length, width, depth } => {
                let radius = width * 0.5;
                // The segment of a circle below the depth, or half a circle with walls over it.
                let below = (depth / radius).min(1.0);
                let angle = 2.0 * (1.0 - below).acos();
                let segment = radius * radius * (0.5 * (angle - angle.sin()));
                segment * length + width * (depth - radius).max(Length::ZERO) * length
            }
            Self::Water { volume, .. } => volume,
        }
    }

    /// Depth of the cavity.
    #[must_use]
    pub fn depth(&self) -> Length {
        match *self {
            Self::Box { depth, .. }
            | Self::Round { depth, .. }
            | Self::Trough { depth, .. }
            | Self::Water { depth, .. } => depth,
        }
    }

    /// Length and width of its mouth; of a square of the same area where only
    /// the water is known.
    #[must_use]
    pub fn mouth(&self) -> (Length, Length) {
        match *self {
            Self::Box { length, width, .. } | Self::Trough { length, width, .. } => (length, width),
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

/// How a tube is held in its cavity.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stance {
    /// On end, on the floor.
    Standing,
    /// Along the cavity, half way up, on its plugs.
    Lying,
}

/// A tube held in a cavity, closed with plugs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Tube {
    /// Across, outside, with its label on.
    #[serde(rename = "outside_m")]
    pub outside: Length,
    /// Length of the tube.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// How far the plugs stand out, both ends together.
    #[serde(rename = "plugs_m")]
    pub plugs: Length,
}

impl Tube {
    /// How it fits a cavity: on end where it is short enough, else along it; `None` where it fits
    /// neither way.
    #[must_use]
    pub fn stance(&self, hollow: &Hollow) -> Option<Stance> {
        // Sides typed in inches may differ from those in millimetres in the last bit.
        let slip = Length::from_mm(1e-6);
        let ((length, width), depth) = (hollow.mouth(), hollow.depth());
        let long = self.length + self.plugs;
        if long <= depth + slip && self.outside < length.min(width) {
            Some(Stance::Standing)
        } else if long <= length + slip && self.outside < width.min(depth) {
            Some(Stance::Lying)
        } else {
            None
        }
    }

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
    fn a_trough_is_half_a_cylinder_with_walls() {
        let mm = Length::from_mm;
        let of =
            |depth: f64| Hollow::Trough { length: mm(100.0), width: mm(20.0), depth: mm(depth) };
        let ml = |depth: f64| of(depth).volume().l() * 1e3;
        // π/8 × 20² × 100 mm³, and 20 × 6 × 100 mm³ over it; a quarter turn below 10 (1 − cos 45°).
        assert!((ml(10.0) - 15.707_963_3).abs() < 1e-6);
        assert!((ml(16.0) - 27.707_963_3).abs() < 1e-6);
        let segment = 10.0 * (1.0 - std::f64::consts::FRAC_1_SQRT_2);
        assert!((ml(segment) - 50.0 * (std::f64::consts::FRAC_PI_2 - 1.0) / 10.0).abs() < 1e-6);
    }

    #[test]
    fn a_long_tube_lies_in_a_shallow_cavity() {
        let mm = Length::from_mm;
        let tube = Tube { outside: mm(10.0), length: mm(60.0), plugs: mm(8.0) };
        let open =
            |l: f64, w: f64, d: f64| Hollow::Box { length: mm(l), width: mm(w), depth: mm(d) };
        assert_eq!(tube.stance(&open(20.0, 20.0, 70.0)), Some(Stance::Standing));
        assert_eq!(tube.stance(&open(70.0, 20.0, 20.0)), Some(Stance::Lying));
        assert_eq!(tube.stance(&open(60.0, 20.0, 20.0)), None);
        assert_eq!(tube.stance(&open(70.0, 10.0, 20.0)), None);
        let round = Hollow::Round { diameter: mm(20.0), depth: mm(30.0) };
        assert_eq!(tube.stance(&round), None);
    }

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

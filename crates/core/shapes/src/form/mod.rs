//! The form: from the finished piece to its inside size, and how it is built.
//!
//! - this file: the piece, its allowances, the size it is cast at
//! - [`wall`]: how far a wall bows, and what holds it
//! - [`seal`]: sealant and release
//! - [`owned`]: forms and moulds that the shop has, and which of them fits

pub mod cut_list;
pub mod nesting;
pub mod owned;
pub mod seal;
pub mod wall;

use serde::{Deserialize, Serialize};

use fondant_quantities::{Area, Length};

/// Taken off each face when the slab is flattened with a router sled.
pub const FLATTENING_PER_FACE: Length = Length::from_mm(2.0);
/// Wall above the highest level of the resin.
pub const FREEBOARD: Length = Length::from_mm(10.0);

/// The piece as it will be when finished, and what is added to cast it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Piece {
    /// Finished length.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// Finished width.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Finished thickness.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// Extra on each of the four sides, sawn off afterwards.
    #[serde(rename = "trim_margin_m")]
    pub trim_margin: Length,
    /// Machined off each of the two faces.
    #[serde(rename = "flattening_m", default = "flattening_per_face")]
    pub flattening: Length,
    /// Extra height of a block that is squared up afterwards.
    #[serde(rename = "squaring_m", default)]
    pub squaring: Length,
}

fn flattening_per_face() -> Length {
    FLATTENING_PER_FACE
}

impl Piece {
    /// A slab that is trimmed all round and flattened on both faces.
    #[must_use]
    pub fn slab(length: Length, width: Length, thickness: Length, trim_margin: Length) -> Self {
        Self {
            length,
            width,
            thickness,
            trim_margin,
            flattening: FLATTENING_PER_FACE,
            squaring: Length::ZERO,
        }
    }
}

/// The size at which the piece is cast: the inside of the form.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CastSize {
    /// Inside length.
    pub length: Length,
    /// Inside width.
    pub width: Length,
    /// Thickness that leaves enough for machining.
    pub thickness: Length,
}

impl CastSize {
    /// Adds the allowances to the finished piece.
    #[must_use]
    pub fn of(piece: &Piece) -> Self {
        Self {
            length: piece.length + piece.trim_margin * 2.0,
            width: piece.width + piece.trim_margin * 2.0,
            thickness: piece.thickness + piece.flattening * 2.0 + piece.squaring,
        }
    }

    /// Inside area of the form.
    #[must_use]
    pub fn area(&self) -> Area {
        self.length * self.width
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn margins_go_on_both_sides_and_both_faces() {
        let mm = Length::from_mm;
        let mut piece = Piece::slab(mm(1500.0), mm(760.0), mm(34.0), mm(10.0));
        let cast = CastSize::of(&piece);
        assert!((cast.length.mm() - 1520.0).abs() < 1e-9);
        assert!((cast.width.mm() - 780.0).abs() < 1e-9);
        assert!((cast.thickness.mm() - 38.0).abs() < 1e-9);
        piece.squaring = mm(25.0);
        assert!((CastSize::of(&piece).thickness.mm() - 63.0).abs() < 1e-9);
    }
}

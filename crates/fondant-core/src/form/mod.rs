//! The form: from the finished piece to its inside size.

use serde::{Deserialize, Serialize};

use crate::quantities::{Area, Length};

/// Taken off each face when the slab is flattened with a router sled.
pub const FLATTENING_PER_FACE: Length = Length::from_mm(2.0);
/// Wall above the highest level of the resin.
pub const FREEBOARD: Length = Length::from_mm(10.0);

/// The piece as it will be when finished.
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
}

/// The size at which the piece is cast: the inside of the form.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CastSize {
    /// Inside length.
    pub length: Length,
    /// Inside width.
    pub width: Length,
    /// Thickness that leaves enough for flattening both faces.
    pub thickness: Length,
}

impl CastSize {
    /// Adds the margins to the finished piece.
    #[must_use]
    pub fn of(piece: &Piece) -> Self {
        Self {
            length: piece.length + piece.trim_margin * 2.0,
            width: piece.width + piece.trim_margin * 2.0,
            thickness: piece.thickness + FLATTENING_PER_FACE * 2.0,
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
        let piece = Piece {
            length: mm(1500.0),
            width: mm(760.0),
            thickness: mm(34.0),
            trim_margin: mm(10.0),
        };
        let cast = CastSize::of(&piece);
        assert!((cast.length.mm() - 1520.0).abs() < 1e-9);
        assert!((cast.width.mm() - 780.0).abs() < 1e-9);
        assert!((cast.thickness.mm() - 38.0).abs() < 1e-9);
    }
}

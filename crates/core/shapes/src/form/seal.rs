//! Sealant along the inside corners, and what lets the resin go again.

use serde::{Deserialize, Serialize};

use super::CastSize;
use fondant_materials::sheet::Sheet;
use fondant_quantities::{Length, Span, Volume};

/// How the piece is meant to come off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Release {
    /// Packing or release tape over base and walls.
    Tape,
    /// Paste wax, buffed.
    Wax,
    /// The bare sheet.
    Bare,
}

impl Release {
    /// Before resin may go in.
    #[must_use]
    pub const fn wait(self) -> Span {
        match self {
            Self::Wax => Span::from_s(20.0 * 60.0),
            Self::Tape | Self::Bare => Span::ZERO,
        }
    }

    /// Whether resin would grip for good.
    #[must_use]
    pub const fn grips(self, sheet: Sheet) -> bool {
        matches!(self, Self::Bare) && !sheet.releases_bare()
    }
}

/// Sealant along the inside corners.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bead {
    /// Length of all corners: round the base and up the four corners.
    pub length: Length,
    /// Volume of a three-cornered fillet of the leg given.
    pub volume: Volume,
}

/// The bead for a form with walls of a height; `leg` is the fillet's side.
#[must_use]
pub fn bead(inside: &CastSize, height: Length, leg: Length) -> Bead {
    let length = (inside.length + inside.width) * 2.0 + height * 4.0;
    Bead { length, volume: leg * leg * length * 0.5 }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_bead_runs_round_the_base_and_up_the_corners() {
        let mm = Length::from_mm;
        let inside = CastSize { length: mm(1000.0), width: mm(500.0), thickness: mm(40.0) };
        let bead = bead(&inside, mm(50.0), mm(6.0));
        assert!((bead.length.mm() - 3200.0).abs() < 1e-9);
        assert!((bead.volume.l() * 1e3 - 57.6).abs() < 1e-9);
    }

    #[test]
    fn bare_melamine_grips_and_bare_polyethylene_does_not() {
        assert!(Release::Bare.grips(Sheet::Melamine));
        assert!(!Release::Bare.grips(Sheet::Hdpe) && !Release::Tape.grips(Sheet::Melamine));
        assert!((Release::Wax.wait().h() - 1.0 / 3.0).abs() < 1e-9);
    }
}

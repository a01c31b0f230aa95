//! Timber floats in resin: the force that lifts a board.

use crate::quantities::{Area, Density, Force, Length, Mass};

/// Weight to put on is the lift times this.
pub const HOLD_DOWN_FACTOR: f64 = 2.0;

/// The pull of the resin on one board.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lift {
    /// Mass of the board.
    pub board: Mass,
    /// Mass of the resin that it displaces.
    pub displaced: Mass,
    /// Net upward force; negative where the board stays down by itself.
    pub net: Force,
    /// Mass that holds it down with a factor of 2; nought where it stays down.
    pub hold_down: Mass,
}

/// Lift on a board that resin covers up to its upper face, the worst moment of
/// a pour: `F = g (ρ_resin V − m)` (Archimedes).
#[must_use]
pub fn lift(area: Area, thickness: Length, timber: Density, resin: Density) -> Lift {
    let volume = area * thickness;
    let (board, displaced) = (volume * timber, volume * resin);
    let excess = displaced - board;
    Lift {
        board,
        displaced,
        net: excess.weight(),
        hold_down: (excess * HOLD_DOWN_FACTOR).max(Mass::ZERO),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_cubic_metre_of_650_in_1100_pulls_with_450_kilograms() {
        let cubic_metre = lift(
            Area::from_m2(1.0),
            Length::from_m(1.0),
            Density::from_kg_m3(650.0),
            Density::from_kg_m3(1100.0),
        );
        assert!((cubic_metre.net.n() - 450.0 * 9.806_65).abs() < 1e-6);
        assert!((cubic_metre.hold_down.kg() - 900.0).abs() < 1e-9);
    }

    #[test]
    fn heavy_timber_stays_down() {
        let heavy = lift(
            Area::from_m2(0.1),
            Length::from_mm(40.0),
            Density::from_kg_m3(1200.0),
            Density::from_kg_m3(1100.0),
        );
        assert!(heavy.net < Force::ZERO);
        assert_eq!(heavy.hold_down, Mass::ZERO);
    }
}

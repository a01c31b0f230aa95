//! How much resin: net volume by level, its lines, its uncertainty, and the
//! pull of the resin on the boards.
//!
//! - [`Fill`]: V(z), from which the layers' volumes follow
//! - [`Sizing`]: every line of the volume and how sure it is
//! - [`float`]: the force that lifts a board

pub mod float;
mod sizing;

pub use sizing::{Contribution, Line, LineKind, Sizing, size};

use crate::quantities::{Area, Length, Volume};

/// What the resin fills, from the floor of the form upwards.
///
/// Under the boards lies the base layer over the whole form; the boards stand
/// on it. Where one board is thinner, resin covers it up to the thicker one.
/// The overfill stands over the river only.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fill {
    /// Inside area of the form.
    pub form_area: Area,
    /// Area of the river.
    pub river_area: Area,
    /// Area of the thinner board; nought where both are as thick.
    pub thinner_area: Area,
    /// Depth of the base layer.
    pub base: Length,
    /// Thickness of the thinner board.
    pub thinner: Length,
    /// Thickness of the thicker board.
    pub thicker: Length,
    /// Depth over the thicker board's face.
    pub overfill: Length,
}

impl Fill {
    /// Depth of the resin in the river.
    #[must_use]
    pub fn depth(&self) -> Length {
        self.base + self.thicker + self.overfill
    }

    /// Volume of resin up to a level above the floor of the form; levels below
    /// the floor and above the fill are held to them.
    #[must_use]
    pub fn volume_to(&self, level: Length) -> Volume {
        let part = |from: Length, to: Length| (level.min(to) - from).max(Length::ZERO);
        let top = self.base + self.thicker;
        self.form_area * part(Length::ZERO, self.base)
            + self.river_area * part(self.base, top + self.overfill)
            + self.thinner_area * part(self.base + self.thinner, top)
    }

    /// Volume between two levels.
    #[must_use]
    pub fn volume_between(&self, from: Length, to: Length) -> Volume {
        self.volume_to(to) - self.volume_to(from)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn fill(overfill_mm: f64) -> Fill {
        Fill {
            form_area: Area::from_m2(1.2),
            river_area: Area::from_m2(0.3),
            thinner_area: Area::from_m2(0.5),
            base: Length::from_mm(2.0),
            thinner: Length::from_mm(36.0),
            thicker: Length::from_mm(38.0),
            overfill: Length::from_mm(overfill_mm),
        }
    }

    #[test]
    fn the_whole_is_base_river_thinner_board_and_overfill() {
        let fill = fill(1.0);
        let expected = 1.2 * 2.0 + 0.3 * 38.0 + 0.5 * 2.0 + 0.3 * 1.0;
        assert!((fill.volume_to(fill.depth()).l() - expected).abs() < 1e-9);
        assert!(fill.volume_to(Length::from_mm(-1.0)).l().abs() < 1e-12);
        assert!((fill.volume_to(Length::from_m(1.0)).l() - expected).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn volume_adds_up_and_never_falls(a in 0.0f64..50.0, b in 0.0f64..50.0, overfill in 0.0f64..5.0) {
            let fill = fill(overfill);
            let (low, high) = (Length::from_mm(a.min(b)), Length::from_mm(a.max(b)));
            let between = fill.volume_between(low, high);
            prop_assert!(between.l() >= -1e-12);
            let sum = fill.volume_to(low) + between + fill.volume_between(high, fill.depth().max(high));
            prop_assert!((sum.l() - fill.volume_to(fill.depth().max(high)).l()).abs() < 1e-9);
        }
    }
}

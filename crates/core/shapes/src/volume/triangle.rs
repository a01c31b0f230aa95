//! Mass, volume and density of a board: any two give the third, and where all three are known they
//! seldom agree.

use fondant_quantities::{Density, Mass, Volume};

use super::methods::{DENSITY_RATIO, SCALE_RATIO};

/// The corner that the other two contradict.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Corner {
    /// The outline: mass and density make the board larger than it is drawn.
    Volume,
    /// The density: mass and outline make the board lighter than its timber is said to be.
    Density,
}

/// A board of which all three are known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Triangle {
    /// Volume as it is drawn.
    pub drawn: Volume,
    /// Mass by the scale, taken as right.
    pub weighed: Mass,
    /// Density of its timber.
    pub density: Density,
}

impl Triangle {
    /// Volume by mass and density.
    #[must_use]
    pub fn by_mass(&self) -> Volume {
        self.weighed / self.density
    }

    /// The volume that lifts more: what is held down by too much is held, what is held down by too
    /// little comes up.
    #[must_use]
    pub fn lifting(&self) -> Volume {
        self.drawn.max(self.by_mass())
    }

    /// The corner that cannot be right beside the two others; `None` where they agree within twice
    /// what density and scale are known to.
    #[must_use]
    pub fn contradicted(&self) -> Option<Corner> {
        let ratio = self.by_mass() / self.drawn;
        let doubt = 2.0 * DENSITY_RATIO.hypot(SCALE_RATIO);
        if (ratio - 1.0).abs() <= doubt {
            return None;
        }
        Some(if ratio > 1.0 { Corner::Volume } else { Corner::Density })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::volume::float::lift;

    fn triangle(litres: f64, kg: f64, density: f64) -> Triangle {
        Triangle {
            drawn: Volume::from_l(litres),
            weighed: Mass::from_kg(kg),
            density: Density::from_kg_m3(density),
        }
    }

    #[test]
    fn the_corner_that_contradicts_the_others_is_named() {
        assert_eq!(triangle(2.0, 1.4, 700.0).contradicted(), None);
        assert_eq!(triangle(2.0, 1.53, 700.0).contradicted(), None);
        assert_eq!(triangle(1.5, 2.0, 950.0).contradicted(), Some(Corner::Volume));
        assert_eq!(triangle(3.0, 2.0, 950.0).contradicted(), Some(Corner::Density));
        // A volume that is not there yet is no agreement.
        assert_eq!(triangle(0.0, 2.0, 950.0).contradicted(), Some(Corner::Volume));
    }

    /// "A board of 950 kg/m³ weighed at 2 kg stays down": by an outline of 1.5 L it would, by its
    /// scale and its timber it floats. 2 / 950 = 2.105 L displace 2.316 kg; twice 0.316 kg hold it.
    #[test]
    fn a_board_that_is_drawn_too_small_does_not_stay_down() {
        let heavy = triangle(1.5, 2.0, 950.0);
        let held = lift(heavy.lifting(), heavy.weighed, Density::from_kg_m3(1100.0)).hold_down;
        assert!((held.kg() - 2.0 * (2.0 / 950.0 * 1100.0 - 2.0)).abs() < 1e-12);
        assert!((held.kg() - 0.63).abs() < 0.005, "{held:?}");
    }
}

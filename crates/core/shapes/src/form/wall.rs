//! How far a form's wall bows under liquid resin, and what holds it.
//!
//! The wall is a plate held at its foot and at both ends, free at its top,
//! under the pressure ρ g (h − y). One term of Ritz's method,
//! `w = A (y/h) sin(πx/l)`, with the strain energy of a thin plate (S.
//! Timoshenko and S. Woinowsky-Krieger, *Theory of Plates and Shells*, 2nd
//! edition, articles 80 and 82), gives
//!
//! `A = 2 ρ g h² / (3π) ÷ (D [h/3 (π/l)⁴ + 2 (1 − ν) (π/l)² / h])`,
//! `D = E t³ / 12 (1 − ν²)`.
//!
//! For the uniformly loaded plate the same term is 2–7 % above the book's
//! series, on the safe side. Hinged edges are assumed: screwed butt joints turn.

use fondant_materials::sheet::Sheet;
use fondant_quantities::{Density, Length, STANDARD_GRAVITY_M_S2};

/// Walls that bow farther than this are seen in the finished piece.
pub const MOST_BOW: Length = Length::from_mm(1.0);
/// Most upright battens of one wall (convention).
const MOST_BATTENS: usize = 40;

/// A wall and the resin against it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wall {
    /// Length between its ends.
    pub length: Length,
    /// Depth of the resin against it.
    pub depth: Length,
    /// Thickness of the sheet.
    pub thickness: Length,
    /// What it is made of.
    pub sheet: Sheet,
}

/// How far a wall bows and what would hold it to [`MOST_BOW`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bow {
    /// At the middle of its top.
    pub bow: Length,
    /// Evenly spaced upright battens that hold it; `None` where it holds by itself.
    pub battens: Option<usize>,
    /// The thinnest usual sheet that holds it without battens, where there is one.
    pub thicker: Option<Length>,
}

/// Deflection at the middle of the wall's top.
#[must_use]
pub fn deflection(wall: &Wall, resin: Density) -> Length {
    let (l, h, t) = (wall.length.m(), wall.depth.m(), wall.thickness.m());
    if l <= 0.0 || h <= 0.0 || t <= 0.0 {
        return Length::ZERO;
    }
    let pressure_term =
        2.0 * resin.kg_m3() * STANDARD_GRAVITY_M_S2 * h * h / (3.0 * std::f64::consts::PI);
    Length::from_m(pressure_term / stiffness(l, h, t, wall.sheet))
}

/// `D [h/3 (π/l)⁴ + 2 (1 − ν) (π/l)² / h]`.
fn stiffness(l: f64, h: f64, t: f64, sheet: Sheet) -> f64 {
    let nu = sheet.poisson();
    let d = sheet.modulus_pa() * t.powi(3) / (12.0 * (1.0 - nu * nu));
    let k = (std::f64::consts::PI / l).powi(2);
    d * (h / 3.0 * k * k + 2.0 * (1.0 - nu) * k / h)
}

/// How far the wall bows and what would hold it.
#[must_use]
pub fn bow(wall: &Wall, resin: Density) -> Bow {
    let bow = deflection(wall, resin);
    if bow <= MOST_BOW {
        return Bow { bow, battens: None, thicker: None };
    }
    let holds = |count: usize| {
        let length = wall.length / (count as f64 + 1.0);
        deflection(&Wall { length, ..*wall }, resin) <= MOST_BOW
    };
    let battens = (1..=MOST_BATTENS).find(|n| holds(*n));
    let thicker = wall
        .sheet
        .thicknesses()
        .into_iter()
        .filter(|t| *t > wall.thickness)
        .find(|t| deflection(&Wall { thickness: *t, ..*wall }, resin) <= MOST_BOW);
    Bow { bow, battens, thicker }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const RESIN: Density = Density::from_kg_m3(1100.0);

    /// The same term under a uniform load q: `A = 2 q h / π ÷ stiffness`,
    /// against the series in the book for ν = 0.3 (table 41: three edges
    /// hinged, one free), w = β q l⁴ / D.
    #[test]
    fn the_term_is_close_to_the_series_and_above_it() {
        for (h_over_l, beta) in [(0.5, 0.007_10), (1.0, 0.012_86)] {
            let h: f64 = h_over_l;
            let k = std::f64::consts::PI.powi(2);
            let bracket = h / 3.0 * k * k + 2.0 * 0.7 * k / h;
            let ours = 2.0 * h / std::f64::consts::PI / bracket;
            let over = ours / beta - 1.0;
            assert!((0.0..0.075).contains(&over), "{over} at {h_over_l}");
        }
    }

    #[test]
    fn a_shallow_river_wall_stands_and_a_tall_thin_one_needs_help() {
        let mm = Length::from_mm;
        let river = Wall {
            length: mm(1500.0),
            depth: mm(42.0),
            thickness: mm(18.0),
            sheet: Sheet::Melamine,
        };
        assert_eq!(bow(&river, RESIN).battens, None);
        let deep =
            Wall { length: mm(600.0), depth: mm(300.0), thickness: mm(6.0), sheet: Sheet::Acrylic };
        let bow = bow(&deep, RESIN);
        assert!(bow.bow > MOST_BOW && bow.battens.is_some(), "{bow:?}");
        let held = Wall { length: deep.length / (bow.battens.unwrap() as f64 + 1.0), ..deep };
        assert!(deflection(&held, RESIN) <= MOST_BOW);
    }

    proptest! {
        #[test]
        fn deeper_longer_and_thinner_walls_bow_more(
            l in 0.1f64..3.0, h in 0.01f64..0.5, t in 0.004f64..0.03, more in 1.01f64..2.0,
        ) {
            let wall = |l: f64, h: f64, t: f64| Wall {
                length: Length::from_m(l),
                depth: Length::from_m(h),
                thickness: Length::from_m(t),
                sheet: Sheet::Acrylic,
            };
            let bow = deflection(&wall(l, h, t), RESIN);
            prop_assert!(deflection(&wall(l * more, h, t), RESIN) > bow);
            prop_assert!(deflection(&wall(l, h * more, t), RESIN) > bow);
            prop_assert!(deflection(&wall(l, h, t * more), RESIN) < bow);
        }
    }
}

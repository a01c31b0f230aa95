//! Colour in the bucket: additions that add up to a share of the mixed mass, and recipes that go
//! with it.

use fondant_quantities::{Length, Mass};

/// Share of the mixed mass that colour makes, 0…1. The colour itself is not counted as mixed mass.
#[must_use]
pub fn share(colour: Mass, mixed: Mass) -> f64 {
    if mixed > Mass::ZERO { colour / mixed } else { 0.0 }
}

/// What may still be added below a ceiling, percent of the mixed mass; nothing where it is passed.
#[must_use]
pub fn room(colour: Mass, mixed: Mass, ceiling_percent: f64) -> Mass {
    (mixed * (ceiling_percent / 100.0) - colour).max(Mass::ZERO)
}

/// The share that looks the same in another thickness: what the light meets on its way is share
/// times depth (the absorption law of Beer and Lambert), which holds for dyes and other translucent
/// colours alone.
#[must_use]
pub fn at_depth(share: f64, from: Length, to: Length) -> f64 {
    if to > Length::ZERO { share * (from / to) } else { share }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_recipe_goes_by_mass_and_by_depth() {
        let (mixed, mm) = (Mass::from_kg(1.45), Length::from_mm);
        // 2.9 g in 1450 g are 2 in a thousand; in half the depth it takes twice as much.
        let found = share(Mass::from_kg(0.0029), mixed);
        assert!((found - 0.002).abs() < 1e-12);
        assert!((at_depth(found, mm(40.0), mm(20.0)) - 0.004).abs() < 1e-12);
        // 2 % of 1450 g are 29 g.
        assert!((room(Mass::from_kg(0.0029), mixed, 2.0).kg() - 0.0261).abs() < 1e-12);
        assert_eq!(room(Mass::from_kg(0.1), mixed, 2.0), Mass::ZERO);
    }
}

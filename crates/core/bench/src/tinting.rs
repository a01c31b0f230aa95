//! Colour in the bucket: additions that add up to a share of the mixed mass.

use fondant_quantities::Mass;

/// Share of the mixed mass that colour makes, 0…1. The colour itself is not counted as mixed mass.
#[must_use]
pub fn share(colour: Mass, mixed: Mass) -> f64 {
    if mixed > Mass::ZERO { colour / mixed } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_point_nine_grams_in_a_litre_and_a_half_are_two_in_a_thousand() {
        assert!((share(Mass::from_kg(0.0029), Mass::from_kg(1.45)) - 0.002).abs() < 1e-12);
        assert!(share(Mass::from_kg(0.1), Mass::ZERO).abs() < 1e-12);
    }
}

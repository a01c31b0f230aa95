//! A pour split into batches: how many, how much in each, and what scale they need.

use fondant_materials::resin::Properties;
use fondant_quantities::Mass;

/// A batch may be this share larger than it should be rather than call for one more: hands weigh no
/// closer, and 2 to 4 % stay in buckets anyway (convention).
const ROUND_RATIO: f64 = 0.02;
/// A scale is fine enough where a step of it is at most this share of part B (convention).
const SCALE_RATIO: f64 = 0.01;

/// What is left of a pour, in equal batches.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Split {
    /// Number of batches that are left.
    pub count: u32,
    /// Mixed mass of each.
    pub each: Mass,
}

/// Splits what is left of a pour into as few equal batches as there can be of at most `largest`
/// each. Equal batches have no small last one, which would be hard to weigh.
#[must_use]
pub fn split(left: Mass, largest: Mass) -> Split {
    if left.kg() <= largest.kg() * ROUND_RATIO {
        return Split { count: 0, each: Mass::ZERO };
    }
    let most_kg = largest.kg() * (1.0 + ROUND_RATIO);
    let count = (left.kg() / most_kg).ceil().clamp(1.0, 9999.0) as u32;
    Split { count, each: left / f64::from(count) }
}

/// The coarsest step of a scale, of 1 g, 0.1 g, 0.01 g ..., that weighs part B of a batch to 1 %.
#[must_use]
pub fn scale_step(batch: Mass, resin: &Properties) -> Mass {
    let b_kg = batch.kg() * (1.0 - resin.mix.share_a_by_mass());
    let step = (b_kg * SCALE_RATIO).max(1e-6).log10().floor();
    Mass::from_kg(10f64.powf(step).min(1e-3))
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;
    use proptest::prelude::*;

    #[test]
    fn ten_kilograms_in_buckets_of_four_are_three_of_three_and_a_third() {
        let found = split(Mass::from_kg(10.0), Mass::from_kg(4.0));
        assert_eq!(found.count, 3);
        assert!((found.each.kg() - 10.0 / 3.0).abs() < 1e-12);
        assert_eq!(split(Mass::from_kg(8.0), Mass::from_kg(4.0)).count, 2, "exactly two");
        assert_eq!(
            split(Mass::from_kg(8.003), Mass::from_kg(4.0)).count,
            2,
            "three grams are no batch"
        );
        assert_eq!(split(Mass::ZERO, Mass::from_kg(4.0)).count, 0);
        assert_eq!(
            split(Mass::from_kg(0.05), Mass::from_kg(4.0)).count,
            0,
            "within what stays behind"
        );
    }

    #[test]
    fn a_cup_of_thirty_grams_needs_a_tenth_of_a_gram() {
        // 30 g at 100 : 45 by mass hold 9.3 g of B, a hundredth of it is 0.09 g.
        let slow = &shipped::all()[0];
        assert!((scale_step(Mass::from_kg(0.03), slow).kg() - 1e-5).abs() < 1e-9);
        // 2 kg hold 620 g of B: whole grams do.
        assert!((scale_step(Mass::from_kg(2.0), slow).kg() - 1e-3).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn batches_make_the_whole_and_none_is_too_large(
            left_kg in 0.001..200.0f64, largest_kg in 0.05..20.0f64,
        ) {
            let found = split(Mass::from_kg(left_kg), Mass::from_kg(largest_kg));
            let made_kg = found.each.kg() * f64::from(found.count);
            prop_assert!((made_kg - left_kg).abs() < 1e-9 || left_kg <= 0.02 * largest_kg);
            prop_assert!(found.each.kg() <= 1.02 * largest_kg + 1e-9);
            // One fewer would not do.
            prop_assert!(found.count <= 1 || left_kg / f64::from(found.count - 1) > 1.02 * largest_kg);
        }
    }
}

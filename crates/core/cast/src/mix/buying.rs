//! What to buy: kits and opened stock, rounded up, and how likely it is enough.

use fondant_quantities::{Money, Volume};

/// How a resin is sold, and what of it is there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Buying {
    /// Mixed volume of one kit.
    pub kit: Volume,
    /// Price of one kit.
    pub price: Money,
    /// Mixed volume that is free on the shelf.
    pub opened: Volume,
}

/// An order of a number of kits.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Order {
    /// Kits to buy.
    pub kits: u32,
    /// Volume at hand once the kits are bought, with what is open.
    pub at_hand: Volume,
    /// Left over; negative where it is short.
    pub left: Volume,
    /// Price of the kits.
    pub cost: Money,
    /// Price of what is left over from them.
    pub left_cost: Money,
    /// How likely it is enough, 0…1.
    pub enough: f64,
}

/// Most kits of an order; more is a typing error (convention).
const MOST_KITS: f64 = 9999.0;

/// Standard deviations above the mean by which the proposed kits exceed the need, so that they are
/// enough in nine casts of ten (normal distribution).
const NINE_IN_TEN: f64 = 1.281_551_565_545;

/// The fewest kits that are enough nine times in ten. `uncertainty` as in [`order_of`].
#[must_use]
pub fn order(buying: &Buying, total: Volume, uncertainty: Volume) -> Order {
    let spare = uncertainty * (0.5 * NINE_IN_TEN);
    let missing = (total + spare - buying.opened).max(Volume::ZERO);
    let kits = if buying.kit > Volume::ZERO { (missing / buying.kit - 1e-9).ceil() } else { 0.0 };
    order_of(buying, kits.clamp(0.0, MOST_KITS) as u32, total, uncertainty)
}

/// What a number of kits would do. `uncertainty` is ± for 95 in 100, and the
/// need is taken as normal with half of it as standard deviation.
#[must_use]
pub fn order_of(buying: &Buying, kits: u32, total: Volume, uncertainty: Volume) -> Order {
    let bought = buying.kit * f64::from(kits);
    let at_hand = bought + buying.opened;
    let left = at_hand - total;
    let cost = buying.price * f64::from(kits);
    let left_kits = if buying.kit > Volume::ZERO {
        left.max(Volume::ZERO).min(bought) / buying.kit
    } else {
        0.0
    };
    Order {
        kits,
        at_hand,
        left,
        cost,
        left_cost: buying.price * left_kits,
        enough: chance_below(left.m3(), 0.5 * uncertainty.m3()),
    }
}

/// Chance that a normal deviate of a spread stays below a value.
fn chance_below(value: f64, spread: f64) -> f64 {
    if spread <= 0.0 {
        return if value >= 0.0 { 1.0 } else { 0.0 };
    }
    0.5 * libm::erfc(-value / (spread * std::f64::consts::SQRT_2))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn litres(v: f64) -> Volume {
        Volume::from_l(v)
    }

    fn buying() -> Buying {
        Buying { kit: litres(3.0), price: Money::from_units(60.0), opened: litres(1.2) }
    }

    #[test]
    fn kits_are_rounded_up_after_what_is_open() {
        // 10 L and 1.28 standard deviations of 0.4 L, less what is open, are three kits and a bit.
        assert_eq!(order(&buying(), litres(10.0), litres(0.8)).kits, 4);
        let order = order_of(&buying(), 3, litres(10.0), litres(0.8));
        assert!((order.left.l() - 0.2).abs() < 1e-9);
        assert!(
            (order.cost.units() - 180.0).abs() < 1e-9
                && (order.left_cost.units() - 4.0).abs() < 1e-9
        );
        // Half a standard deviation to spare: Φ(0.5).
        assert!((order.enough - 0.691_462_461).abs() < 1e-6);
        assert!((order_of(&buying(), 4, litres(10.0), litres(0.8)).enough - 1.0).abs() < 1e-9);
    }

    #[test]
    fn a_need_of_whole_kits_takes_no_more() {
        assert_eq!(
            order(&Buying { opened: litres(0.0), ..buying() }, litres(9.0), litres(0.0)).kits,
            3
        );
        assert_eq!(order(&buying(), litres(1.0), litres(0.1)).kits, 0);
    }

    /// "Nine kits, then short of 90 in 100" is no proposal.
    #[test]
    fn what_is_proposed_is_enough_nine_times_in_ten() {
        let (total, uncertainty) = (litres(28.1), litres(2.0));
        let proposed = order(&buying(), total, uncertainty);
        assert!(proposed.enough >= 0.9, "{proposed:?}");
        let fewer = order_of(&buying(), proposed.kits - 1, total, uncertainty);
        assert!(fewer.enough < 0.9, "{fewer:?}");
    }

    proptest! {
        #[test]
        fn one_kit_more_is_never_less_likely_enough(total in 0.1f64..80.0, uncertainty in 0.0f64..5.0) {
            let order = order(&buying(), litres(total), litres(uncertainty));
            prop_assert!(order.left.l() >= -1e-6);
            let more = order_of(&buying(), order.kits + 1, litres(total), litres(uncertainty));
            prop_assert!(more.enough >= order.enough);
            prop_assert!((0.0..=1.0).contains(&order.enough) && order.enough >= 0.9 - 1e-6);
        }
    }
}

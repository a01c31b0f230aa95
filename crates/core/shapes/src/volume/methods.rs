//! Four ways to the same number: what resin fills between boards up to the
//! face of the thickest, the base layer left out, each with its uncertainty.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Mass, Volume};

/// A way of measuring.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// Outlines of the boards.
    Outlines,
    /// Width of the river at stations.
    Stations,
    /// Rice or sand poured in and measured again.
    DryFill,
    /// Boards on a scale, by their density.
    Weighed,
}

/// A dry fill is read to about ± 4 %: its bulk settles as it is poured back.
pub const DRY_FILL_RATIO: f64 = 0.04;
/// A density is known to about ± 5 % where no piece of the board was measured.
pub const DENSITY_RATIO: f64 = 0.05;
/// A shop scale reads to about ± 1 %.
pub const SCALE_RATIO: f64 = 0.01;

/// A volume measured by one method.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reading {
    /// Method of measuring.
    pub method: Method,
    /// Between the boards.
    pub volume: Volume,
    /// About 95 in 100 lie within ± this.
    pub uncertainty: Volume,
}

/// Two ways that cannot both be right.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Disagreement {
    /// The one that says less.
    pub less: Method,
    /// The one that says more.
    pub more: Method,
    /// How far they lie apart.
    pub apart: Volume,
    /// How far their uncertainties would let them.
    pub allowed: Volume,
}

/// Pairs that lie farther apart than their uncertainties together allow
/// (root of the sum of squares), the worst first.
#[must_use]
pub fn disagreements(readings: &[Reading]) -> Vec<Disagreement> {
    let mut found = Vec::new();
    for (index, a) in readings.iter().enumerate() {
        for b in &readings[index + 1..] {
            let allowed = Volume::from_m3(a.uncertainty.m3().hypot(b.uncertainty.m3()));
            let (less, more) = if a.volume < b.volume { (a, b) } else { (b, a) };
            let apart = more.volume - less.volume;
            if apart > allowed {
                found.push(Disagreement { less: less.method, more: more.method, apart, allowed });
            }
        }
    }
    found.sort_by(|a, b| (b.apart / b.allowed).total_cmp(&(a.apart / a.allowed)));
    found
}

/// Kilograms of timber taken for litres: what would be subtracted, and what
/// the timber truly takes up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct KilogramsAsLitres {
    /// The timber by the scale.
    pub mass: Mass,
    /// What it displaces: mass over density.
    pub displaced: Volume,
    /// What taking a kilogram for a litre would have one mix too much, or,
    /// for timber heavier than water, too little (negative).
    pub error: Volume,
}

/// What the mistake would cost for boards of masses and volumes.
#[must_use]
pub fn kilograms_as_litres(mass: Mass, displaced: Volume) -> KilogramsAsLitres {
    let error = displaced - Volume::from_l(mass.kg());
    KilogramsAsLitres { mass, displaced, error }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn reading(method: Method, litres: f64, uncertainty: f64) -> Reading {
        Reading { method, volume: Volume::from_l(litres), uncertainty: Volume::from_l(uncertainty) }
    }

    #[test]
    fn ways_within_their_uncertainty_agree_and_others_are_named_worst_first() {
        let all = [
            reading(Method::Outlines, 10.0, 0.2),
            reading(Method::Stations, 10.3, 0.4),
            reading(Method::DryFill, 10.9, 0.4),
            reading(Method::Weighed, 13.0, 1.0),
        ];
        assert_eq!(disagreements(&all[..2]), []);
        let found = disagreements(&all);
        assert_eq!((found[0].less, found[0].more), (Method::Outlines, Method::Weighed));
        assert_eq!(found.len(), 5);
        assert!((found[0].apart.l() - 3.0).abs() < 1e-9);
    }

    #[test]
    fn kilograms_are_no_litres() {
        let slip = kilograms_as_litres(Mass::from_kg(23.4), Volume::from_l(36.0));
        assert!((slip.error.l() - 12.6).abs() < 1e-9);
        let heavy = kilograms_as_litres(Mass::from_kg(12.0), Volume::from_l(10.0));
        assert!(heavy.error < Volume::ZERO);
    }
}

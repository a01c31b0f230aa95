//! Parts A and B on the scale: what the other part becomes once one is taken, and how far a
//! weighed pair is from its ratio.

use fondant_materials::resin::{Properties, ResinClass};
use fondant_quantities::{Mass, Volume};
use serde::{Deserialize, Serialize};

/// One of the two parts of a resin.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Part {
    /// The resin.
    A,
    /// The hardener or catalyst.
    B,
}

impl Part {
    /// The part to mix with this one.
    #[must_use]
    pub const fn other(self) -> Self {
        match self {
            Self::A => Self::B,
            Self::B => Self::A,
        }
    }
}

/// What a batch needs of each part.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pair {
    /// Part A.
    pub a: Mass,
    /// Part B.
    pub b: Mass,
}

impl Pair {
    /// The parts of a mixed mass.
    #[must_use]
    pub fn of(mixed: Mass, resin: &Properties) -> Self {
        let a = mixed * resin.mix.share_a_by_mass();
        Self { a, b: mixed - a }
    }

    /// The parts where one of them is what it is: the other by the ratio.
    #[must_use]
    pub fn with(part: Part, taken: Mass, resin: &Properties) -> Self {
        let b_per_a = resin.mix.b_by_mass / resin.mix.a_by_mass;
        match part {
            Part::A => Self { a: taken, b: taken * b_per_a },
            Part::B => Self { a: taken / b_per_a, b: taken },
        }
    }

    /// One of the parts.
    #[must_use]
    pub const fn part(&self, part: Part) -> Mass {
        match part {
            Part::A => self.a,
            Part::B => self.b,
        }
    }

    /// Mass of both parts together.
    #[must_use]
    pub fn mixed(&self) -> Mass {
        self.a + self.b
    }

    /// How far B is from what A asks for, as a share of that; positive is too much B.
    #[must_use]
    pub fn ratio_error(&self, resin: &Properties) -> f64 {
        let asked = Self::with(Part::A, self.a, resin).b;
        (self.b - asked) / asked
    }

    /// What is to be added, and of which part, so that the ratio is right again: nothing that is in
    /// the cup can be taken out.
    #[must_use]
    pub fn way_back(&self, resin: &Properties) -> (Part, Mass) {
        if self.ratio_error(resin) > 0.0 {
            (Part::A, Self::with(Part::B, self.b, resin).a - self.a)
        } else {
            (Part::B, Self::with(Part::A, self.a, resin).b - self.b)
        }
    }
}

/// A part that was taken, against what was asked for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Correction {
    /// What was over or, below zero, short.
    pub over: Mass,
    /// Both parts now: the other one follows the ratio.
    pub pair: Pair,
    /// What the batch becomes more, or less, than it was to be.
    pub more: Mass,
}

/// A part that was weighed differently from what was asked for: the other one follows it.
#[must_use]
pub fn corrected(asked: Pair, part: Part, taken: Mass, resin: &Properties) -> Correction {
    let pair = Pair::with(part, taken, resin);
    Correction { over: taken - asked.part(part), pair, more: pair.mixed() - asked.mixed() }
}

/// How a weighed pair is judged by its ratio.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum RatioVerdict {
    /// It cures as it should.
    Good,
    /// It is marked in the record.
    Marked,
    /// It stays soft or becomes brittle.
    Trouble,
}

/// Shares of B that the ratio may be off: marked above the first, trouble above the second
/// (convention; the datasheet may say less). A urethane stays soft at 2 %; a polyester's catalyst
/// may be off by a tenth, since its dose sets the pace and hardly the strength.
#[must_use]
pub const fn ratio_limits(class: ResinClass) -> (f64, f64) {
    match class {
        ResinClass::Urethane => (0.01, 0.02),
        ResinClass::Polyester => (0.05, 0.1),
        _ => (0.02, 0.05),
    }
}

/// Judges the error of a ratio, a share of B.
#[must_use]
pub fn judged(error: f64, class: ResinClass) -> RatioVerdict {
    let (marked, trouble) = ratio_limits(class);
    // A reading at the limit is at the limit, whatever the last bit says.
    let error = error.abs() - 1e-9;
    if error > trouble {
        RatioVerdict::Trouble
    } else if error > marked {
        RatioVerdict::Marked
    } else {
        RatioVerdict::Good
    }
}

/// The mass of a part that was measured by volume.
#[must_use]
pub fn by_volume(part: Part, volume: Volume, resin: &Properties) -> Mass {
    match part {
        Part::A => volume * resin.mix.density_a,
        Part::B => volume * resin.mix.density_b,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;
    use proptest::prelude::*;

    fn kg(kg: f64) -> Mass {
        Mass::from_kg(kg)
    }

    /// 100 : 45 by mass, 1450 g: 1000 g of A and 450 g of B. 1040 g were poured, so B becomes
    /// 1040 · 0.45 = 468 g and the batch 58 g more.
    #[test]
    fn too_much_of_a_takes_more_of_b() {
        let slow = &shipped::all()[0];
        let asked = Pair::of(kg(1.45), slow);
        assert!((asked.a.kg() - 1.0).abs() < 1e-9 && (asked.b.kg() - 0.45).abs() < 1e-9);
        let found = corrected(asked, Part::A, kg(1.04), slow);
        assert!((found.over.kg() - 0.04).abs() < 1e-9);
        assert!((found.pair.b.kg() - 0.468).abs() < 1e-9);
        assert!((found.more.kg() - 0.058).abs() < 1e-9);
        // 9 g of B over: A becomes 459 / 0.45 = 1020 g.
        assert!((corrected(asked, Part::B, kg(0.459), slow).pair.a.kg() - 1.02).abs() < 1e-9);
    }

    #[test]
    fn the_error_is_told_of_b_and_the_way_back_adds() {
        let slow = &shipped::all()[0];
        let weighed = Pair { a: kg(1.0), b: kg(0.468) };
        assert!((weighed.ratio_error(slow) - 0.04).abs() < 1e-9);
        let (part, more) = weighed.way_back(slow);
        assert_eq!(part, Part::A);
        assert!((more.kg() - 0.04).abs() < 1e-9, "0.468 / 0.45 - 1 kg: {more:?}");
        assert_eq!(judged(0.02, slow.class), RatioVerdict::Good);
        assert_eq!(judged(0.04, slow.class), RatioVerdict::Marked);
        assert_eq!(judged(-0.051, slow.class), RatioVerdict::Trouble);
        assert_eq!(judged(0.021, ResinClass::Urethane), RatioVerdict::Trouble);
    }

    proptest! {
        #[test]
        fn a_correction_ends_at_the_exact_ratio_and_takes_nothing_out(
            class in 0usize..7, mixed_kg in 0.01..20.0f64, a in 0.5..1.5f64, b in 0.5..1.5f64,
        ) {
            let resin = &shipped::all()[class];
            let asked = Pair::of(kg(mixed_kg), resin);
            for (part, taken) in [(Part::A, asked.a * a), (Part::B, asked.b * b)] {
                let found = corrected(asked, part, taken, resin);
                prop_assert!(found.pair.ratio_error(resin).abs() < 1e-9);
                prop_assert!(found.pair.a > Mass::ZERO && found.pair.b > Mass::ZERO);
                prop_assert!((found.pair.part(part).kg() - taken.kg()).abs() < 1e-12);
            }
            let weighed = Pair { a: asked.a * a, b: asked.b * b };
            let (part, more) = weighed.way_back(resin);
            prop_assert!(more.kg() >= -1e-12);
            let mended = match part {
                Part::A => Pair { a: weighed.a + more, ..weighed },
                Part::B => Pair { b: weighed.b + more, ..weighed },
            };
            prop_assert!(mended.ratio_error(resin).abs() < 1e-9);
        }

        #[test]
        fn measured_by_volume_the_ratio_is_the_same(class in 0usize..7, litres in 0.01..10.0f64) {
            let resin = &shipped::all()[class];
            let a = Volume::from_l(litres);
            let a_kg = by_volume(Part::A, a, resin);
            let b = Pair::with(Part::A, a_kg, resin).b / resin.mix.density_b;
            let weighed = Pair { a: a_kg, b: by_volume(Part::B, b, resin) };
            prop_assert!(weighed.ratio_error(resin).abs() < 1e-9);
        }
    }
}

//! Two casts, or one against its like: what differs, in units of the shop's own spread.

use std::collections::BTreeMap;

use crate::figures::{Figure, Figures, Unit};

/// Fewest casts of which a spread is known.
pub const FEWEST: usize = 4;

/// The spread of a figure among casts of a kind.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spread {
    /// Mean.
    pub mean: f64,
    /// Standard deviation between casts.
    pub deviation: f64,
    /// Casts in which the figure is known.
    pub count: usize,
}

/// Spreads by figure.
pub type Spreads = BTreeMap<Figure, Spread>;

/// The spreads of a shop, from its casts.
#[must_use]
pub fn spreads<'a>(casts: impl IntoIterator<Item = &'a Figures>) -> Spreads {
    let mut values: BTreeMap<Figure, Vec<f64>> = BTreeMap::new();
    for cast in casts {
        for (figure, value) in cast.known() {
            values.entry(figure).or_default().push(value);
        }
    }
    values.into_iter().map(|(figure, values)| (figure, spread(&values))).collect()
}

fn spread(values: &[f64]) -> Spread {
    let count = values.len() as f64;
    let mean = values.iter().sum::<f64>() / count;
    let squares: f64 = values.iter().map(|value| (value - mean).powi(2)).sum();
    // The unbiased estimate; one value alone has no spread.
    let deviation = if values.len() > 1 { (squares / (count - 1.0)).sqrt() } else { 0.0 };
    Spread { mean, deviation, count: values.len() }
}

/// A figure that two casts have.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Difference {
    /// Figure that differs.
    pub figure: Figure,
    /// In the one.
    pub one: f64,
    /// In the other.
    pub other: f64,
    /// How far apart they lie, in standard deviations of the shop; `None` where the spread is not known.
    pub deviations: Option<f64>,
    /// Casts that the spread is of.
    pub count: usize,
}

/// What differs between two casts, the largest first; what the spread of is not known comes last.
#[must_use]
pub fn compare(one: &Figures, other: &Figures, spreads: &Spreads) -> Vec<Difference> {
    let mut all: Vec<Difference> = one
        .known()
        // What something costs is no cause of anything.
        .filter(|(figure, _)| figure.unit() != Unit::Money)
        .filter_map(|(figure, value)| {
            Some(difference(figure, (value, other.get(figure)?), spreads))
        })
        .collect();
    let size = |difference: &Difference| difference.deviations.unwrap_or(-1.0);
    all.sort_by(|a, b| size(b).total_cmp(&size(a)));
    all
}

/// One cast against the mean of its like.
#[must_use]
pub fn against_like(one: &Figures, spreads: &Spreads) -> Vec<Difference> {
    let mut like = Figures::default();
    for (figure, spread) in spreads {
        like.set(*figure, spread.mean);
    }
    compare(one, &like, spreads)
}

fn difference(figure: Figure, (one, other): (f64, f64), spreads: &Spreads) -> Difference {
    let known = spreads.get(&figure).filter(|spread| spread.count >= FEWEST);
    let apart = (one - other).abs();
    let least = least_deviation(figure.unit());
    let deviations = known.map(|spread| apart / spread.deviation.max(least));
    Difference { figure, one, other, deviations, count: known.map_or(0, |spread| spread.count) }
}

/// What is read off no finer than this: a figure that was the same in every cast is not infinitely far
/// away when it changes once.
const fn least_deviation(unit: Unit) -> f64 {
    match unit {
        // A thermometer's tenths.
        Unit::Temperature | Unit::Kelvin => 0.5,
        Unit::Share | Unit::Ratio => 0.01,
        // Half a millimetre of a tape.
        Unit::Length => 5e-4,
        // 5 mL/m².
        Unit::Absorption => 5e-6,
        Unit::Time => 15.0,
        Unit::Pressure => 2e3,
        Unit::Volume => 1e-5,
        Unit::Mass => 1e-3,
        Unit::Count => 0.5,
        Unit::Money => 0.01,
        Unit::Flag => 0.25,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::seeded::Seeded;

    /// A usual cast: each figure a little off its mean, by what it is read off to.
    fn usual(offsets: &[f64]) -> Figures {
        let mut figures = Figures::default();
        for (figure, offset) in Figure::ALL.into_iter().zip(offsets) {
            if !matches!(figure.unit(), Unit::Flag | Unit::Money) {
                figures.set(figure, 300.0 + 10.0 * offset * least_deviation(figure.unit()));
            }
        }
        figures
    }

    #[test]
    fn a_spread_by_hand() {
        let found = spread(&[1.0, 2.0, 3.0, 4.0]);
        assert!((found.mean - 2.5).abs() < 1e-12);
        assert!((found.deviation - (5.0_f64 / 3.0).sqrt()).abs() < 1e-12);
        assert!(spread(&[7.0]).deviation.abs() < 1e-12);
    }

    #[test]
    fn what_nobody_knows_the_spread_of_comes_last() {
        let (mut one, mut other) = (Figures::default(), Figures::default());
        for (figures, value) in [(&mut one, 1.0), (&mut other, 9.0)] {
            figures.set(Figure::Mass, value);
            figures.set(Figure::Lots, value);
        }
        let mut known = Figures::default();
        known.set(Figure::Lots, 2.0);
        let found = compare(&one, &other, &spreads([&known; FEWEST]));
        assert_eq!(found.len(), 2);
        assert_eq!((found[0].figure, found[1].deviations), (Figure::Lots, None));
    }

    /// Pairs of usual casts with one planted difference of five deviations.
    #[test]
    fn a_planted_difference_comes_first() {
        const PAIRS: usize = 100;
        let mut seeded = Seeded::new(28);
        let mut first = 0;
        for pair in 0..PAIRS {
            let casts: Vec<Figures> = (0..26)
                .map(|_| {
                    // The sum of three even shares is nearly normal.
                    let share = |_| (0..3).map(|_| seeded.share()).sum::<f64>() - 1.5;
                    usual(&Figure::ALL.map(share))
                })
                .collect();
            let spreads = spreads(&casts[2..]);
            let planted =
                [Figure::Bucket, Figure::Mixing, Figure::Humidity, Figure::Mass][pair % 4];
            let (mut one, other) = (casts[0].clone(), &casts[1]);
            let apart = 5.0 * spreads[&planted].deviation;
            one.set(planted, other.get(planted).unwrap() + apart);
            first += usize::from(compare(&one, other, &spreads)[0].figure == planted);
        }
        assert!(first * 100 >= PAIRS * 90, "first in {first} of {PAIRS}");
    }
}

//! What instruments read while a cast came about. It belongs to the shop, and goes with a cast that leaves
//! it for another.

use fondant_bench::reading::{Place, Quantity, is_in_range};
use fondant_quantities::Span;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// Longest time after the first pour for which readings are kept.
pub const LONGEST: SignedDuration = SignedDuration::from_hours(60 * 24);
/// Points of a curve of readings: one for every few pixels of a drawing.
pub const SLOTS: u32 = 160;
/// Points of the curve of one bucket.
pub const BUCKET_SLOTS: u32 = 40;
/// Most points of a place: more buckets are read in no cast.
const MOST_POINTS: usize = 20_000;

/// What instruments read at a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ReadCurve {
    /// Place of the instrument.
    pub place: Place,
    /// Quantity that it reads.
    pub quantity: Quantity,
    /// When, from the first pour on, negative before it, and how much, in the unit that is kept.
    pub points: Vec<(Span, f64)>,
}

/// What instruments read while a cast came about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct CourseReadings {
    /// The first pour, UTC: the points are counted from it.
    pub begun: Timestamp,
    /// One curve for each place and quantity.
    pub curves: Vec<ReadCurve>,
}

impl CourseReadings {
    /// The curves counted from another moment.
    #[must_use]
    pub fn since(self, begun: Timestamp) -> Vec<ReadCurve> {
        let later = Span::from_s(self.begun.duration_since(begun).as_secs_f64());
        let mut curves = self.curves;
        for (at, _) in curves.iter_mut().flat_map(|curve| &mut curve.points) {
            *at = *at + later;
        }
        curves
    }

    /// Whether instruments can have read this: each place once, in the order of time, and nothing that is
    /// read in no shop.
    #[must_use]
    pub fn can_be(&self) -> bool {
        let is_once = |(place, curve): (usize, &ReadCurve)| {
            let same =
                |other: &ReadCurve| (other.place, other.quantity) == (curve.place, curve.quantity);
            !self.curves[..place].iter().any(same)
        };
        self.curves.iter().enumerate().all(is_once)
            && self.curves.iter().all(|curve| {
                let within = |(at, value): &(Span, f64)| {
                    at.s().abs() <= LONGEST.as_secs_f64()
                        && is_in_range((curve.place, curve.quantity), *value)
                };
                curve.place.reads(curve.quantity)
                    && curve.points.len() <= MOST_POINTS
                    && curve.points.iter().all(within)
                    && curve.points.is_sorted_by(|a, b| a.0 <= b.0)
            })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn curve(place: Place, points: &[(f64, f64)]) -> ReadCurve {
        let quantity =
            if place == Place::Gauge { Quantity::Pressure } else { Quantity::Temperature };
        let points = points.iter().map(|(h, value)| (Span::from_h(*h), *value)).collect();
        ReadCurve { place, quantity, points }
    }

    fn readings(curves: Vec<ReadCurve>) -> CourseReadings {
        CourseReadings { begun: "2026-11-20T09:00:00Z".parse().unwrap(), curves }
    }

    #[test]
    fn curves_are_counted_from_the_moment_that_is_asked_for() {
        let kept = readings(vec![curve(Place::Surface, &[(0.5, 293.15), (1.0, 295.0)])]);
        assert_eq!(kept.clone().since(kept.begun), kept.curves);
        for (hours, expected) in [(2, [2.5, 3.0]), (-2, [-1.5, -1.0])] {
            let shifted = kept.clone().since(kept.begun - SignedDuration::from_hours(hours));
            let at: Vec<f64> = shifted[0].points.iter().map(|(at, _)| at.h()).collect();
            assert_eq!(at, expected);
        }
    }

    #[test]
    fn what_no_instrument_can_have_read_is_told_from_what_it_can() {
        let surface = || curve(Place::Surface, &[(0.0, 293.15), (2.0, 320.0)]);
        assert!(readings(vec![surface(), curve(Place::Gauge, &[(1.0, 2.8)])]).can_be());
        assert!(readings(Vec::new()).can_be());
        let cannot = [
            vec![surface(), surface()],
            vec![curve(Place::Surface, &[(2.0, 293.15), (1.0, 293.15)])],
            vec![curve(Place::Surface, &[(1.0, 20.0)])],
            vec![curve(Place::Gauge, &[(1.0, 1e30)])],
            vec![curve(Place::Surface, &[(1.0, f64::NAN)])],
            vec![curve(Place::Surface, &[(f64::NAN, 293.15)])],
            vec![curve(Place::Surface, &[(1e9, 293.15)])],
            vec![ReadCurve { quantity: Quantity::Mass, ..surface() }],
            vec![curve(Place::Surface, &vec![(1.0, 293.15); MOST_POINTS + 1])],
        ];
        for (number, curves) in cannot.into_iter().enumerate() {
            assert!(!readings(curves).can_be(), "{number}");
        }
    }
}

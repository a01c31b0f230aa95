//! What a pour leads to, whatever lies below: brackets of delays.

use crate::simulate::course::Course;
use crate::simulate::error::ScheduleError;

/// Sampling interval of delays, s.
pub(super) const STEP_S: i64 = 7200;
/// Between two such hours the clock of an event moves on by a share of the step
/// within these, where it moves evenly. Where it hardly moves, or leaps, it is
/// the evening's fall of the air that closes a window or hardens a layer.
const EVEN: std::ops::RangeInclusive<f64> = 0.3..=1.6;
/// Margin of the opening, s.
const OPENS_MARGIN_S: f64 = 300.0;
/// Margin of the closing, s.
const CLOSES_MARGIN_S: f64 = 600.0;
/// Margin of hardness, s.
const HARD_MARGIN_S: f64 = 240.0;
/// Margin on the spread between the twins, s.
const SPREAD_MARGIN_S: f64 = 180.0;
/// Margin on a peak, K.
const MARGIN_K: f64 = 0.5;

/// A delay from the pour, s: no less and no more, and how much it depends on
/// what lies below.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Bracket {
    pub(super) least: f64,
    pub(super) most: f64,
    pub(super) spread: f64,
}

impl Bracket {
    /// Of one course, on which nothing below has a say, or of two twins.
    fn of(delays: &[f64]) -> Self {
        let least = delays.iter().copied().fold(f64::INFINITY, f64::min);
        let most = delays.iter().copied().fold(0.0, f64::max);
        let spread = if delays.len() > 1 { most - least + SPREAD_MARGIN_S } else { 0.0 };
        Self { least, most, spread }
    }

    /// Whether the clock of the event moves on evenly between two hours
    /// [`STEP_S`] apart.
    fn is_even(a: &Self, b: &Self) -> bool {
        let step = STEP_S as f64;
        let advance = |x: f64, y: f64| (step + y - x) / step;
        EVEN.contains(&advance(a.least, b.least)) && EVEN.contains(&advance(a.most, b.most))
    }

    /// Between two hours, a share of the way: on the straight line where the
    /// clock moves evenly. Where it does not, what is poured later still comes
    /// no earlier by the clock, and the two hours are all that is known.
    fn between(a: Self, b: Self, share: f64) -> Self {
        if share <= 0.0 {
            return a;
        }
        if Self::is_even(&a, &b) {
            let mix = |x: f64, y: f64| x + (y - x) * share;
            return Self {
                least: mix(a.least, b.least),
                most: mix(a.most, b.most),
                spread: a.spread.max(b.spread),
            };
        }
        let step = STEP_S as f64;
        let has_twin = a.spread > 0.0 || b.spread > 0.0;
        let advance = step + b.most - a.least;
        Self {
            least: a.least - share * step,
            most: b.most + (1.0 - share) * step,
            spread: if has_twin { advance + SPREAD_MARGIN_S } else { 0.0 },
        }
    }

    fn widened(self, margin_s: f64, factor: f64) -> Self {
        Self {
            least: self.least - factor * margin_s,
            most: self.most + factor * margin_s,
            spread: factor * self.spread,
        }
    }
}

/// What a pour leads to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Reach {
    pub(super) opens: Bracket,
    pub(super) closes: Bracket,
    pub(super) hard: Bracket,
    /// How far the layer that is worst off is over its limit at least, K.
    pub(super) over_at_least_k: f64,
}

impl Reach {
    pub(super) fn of(courses: &[Course], at: i64) -> Result<Self, ScheduleError> {
        let delays = |when: &dyn Fn(&Course) -> i64| -> Vec<f64> {
            courses.iter().map(|course| (when(course) - at) as f64).collect()
        };
        let hard: Result<Vec<f64>, ScheduleError> =
            courses.iter().map(|course| Ok((course.hard()?.0 - at) as f64)).collect();
        Ok(Self {
            opens: Bracket::of(&delays(&|course| course.opens)),
            closes: Bracket::of(&delays(&|course| course.closes)),
            hard: Bracket::of(&hard?),
            over_at_least_k: courses.iter().map(|c| c.over_k).fold(f64::INFINITY, f64::min),
        })
    }

    /// Whether lines may join what happens at two hours [`STEP_S`] apart.
    pub(super) fn is_even(a: &Self, b: &Self) -> bool {
        Bracket::is_even(&a.opens, &b.opens)
            && Bracket::is_even(&a.closes, &b.closes)
            && Bracket::is_even(&a.hard, &b.hard)
    }

    /// Between two hours, a share of the way, widened by the margins times a
    /// factor.
    pub(super) fn between(a: Self, b: Self, share: f64, factor: f64) -> Self {
        let bracket = |pick: fn(&Self) -> Bracket, margin_s| {
            Bracket::between(pick(&a), pick(&b), share).widened(margin_s, factor)
        };
        let over_k = a.over_at_least_k + (b.over_at_least_k - a.over_at_least_k) * share;
        Self {
            opens: bracket(|reach| reach.opens, OPENS_MARGIN_S),
            closes: bracket(|reach| reach.closes, CLOSES_MARGIN_S),
            hard: bracket(|reach| reach.hard, HARD_MARGIN_S),
            over_at_least_k: over_k - factor * MARGIN_K,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn twins(least: f64, most: f64) -> Bracket {
        Bracket::of(&[least, most])
    }

    #[test]
    fn what_moves_evenly_is_joined_by_lines() {
        let (first, second) = (twins(40_000.0, 41_000.0), twins(41_000.0, 42_000.0));
        assert!(Bracket::is_even(&first, &second));
        let half = Bracket::between(first, second, 0.5);
        assert!((half.least - 40_500.0).abs() < 1e-9 && (half.most - 41_500.0).abs() < 1e-9);
        assert!((half.spread - 1180.0).abs() < 1e-9);
    }

    #[test]
    fn a_leap_and_an_evening_that_closes_all_alike_are_uneven() {
        let step = STEP_S as f64;
        // An evening closes the first; the second lasts until the next.
        let (first, second) = (twins(40_000.0, 40_000.0), twins(70_000.0, 70_000.0));
        assert!(!Bracket::is_even(&first, &second));
        let half = Bracket::between(first, second, 0.5);
        assert!((half.least - (40_000.0 - 0.5 * step)).abs() < 1e-9);
        assert!((half.most - (70_000.0 + 0.5 * step)).abs() < 1e-9);
        assert!(half.spread >= 30_000.0 + step);
        // The same evening closes both.
        let evening = 40_000.0;
        assert!(!Bracket::is_even(
            &twins(evening, evening),
            &twins(evening - step, evening - step)
        ));
        // One twin leaps, the other does not.
        assert!(!Bracket::is_even(&twins(40_000.0, 40_000.0), &twins(40_000.0, 70_000.0)));
    }

    #[test]
    fn what_nothing_lies_under_depends_on_nothing() {
        assert!(Bracket::of(&[40_000.0]).spread.abs() < 1e-9);
    }
}

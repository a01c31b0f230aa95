//! A series of temperatures by fewer lines.

use jiff::Timestamp;

use crate::air::along;

/// The sketch of a series keeps so close to it, K: fewer kinks, at each of which a step of the model
/// has to end.
const SKETCH_K: f64 = 0.1;

/// As few lines as keep within [`SKETCH_K`] of a series. A search asks some ten thousand times for a
/// stretch of it, so that times are counted in seconds here.
#[derive(Debug)]
pub(super) struct Sketch {
    /// The series' first moment.
    begin: Timestamp,
    /// (Seconds from then, K), in order; one or more.
    ends: Box<[(f64, f64)]>,
}

impl Sketch {
    /// Drawn through (moment, K), one or more in order: each line goes on to the last moment that it can reach
    /// without leaving one between by more (after C. M. Williams, *Computer Graphics and Image Processing*
    /// 8 (1978) 286–293).
    pub(super) fn of(moments: impl Iterator<Item = (Timestamp, f64)>) -> Self {
        let dated: Vec<(Timestamp, f64)> = moments.collect();
        let begin = dated[0].0;
        let all: Vec<(f64, f64)> =
            dated.iter().map(|(at, k)| (at.duration_since(begin).as_secs_f64(), *k)).collect();
        let mut ends = vec![all[0]];
        let mut from = 0;
        while from + 1 < all.len() {
            from += reached(&all[from..]);
            ends.push(all[from]);
        }
        Self { begin, ends: ends.into() }
    }

    /// (Seconds from `from`, K) up to `to`, at least a second later, both included. Before its first
    /// moment and after its last it stays as it is there.
    pub(super) fn since(&self, from: Timestamp, to: Timestamp) -> Vec<(f64, f64)> {
        let second = |at: Timestamp| at.duration_since(self.begin).as_secs_f64();
        let from_s = second(from);
        let to_s = second(to).max(from_s + 1.0);
        let ahead = &self.ends[self.ends.partition_point(|end| end.0 <= from_s)..];
        let within = ahead.iter().take_while(|end| end.0 < to_s);
        let mut stretch = vec![(0.0, along(&self.ends, from_s))];
        stretch.extend(within.map(|(at_s, k)| (at_s - from_s, *k)));
        stretch.push((to_s - from_s, along(&self.ends, to_s)));
        stretch
    }
}

/// How many points ahead the line from the first may end, one at least: all between are within
/// [`SKETCH_K`] of it.
fn reached(all: &[(f64, f64)]) -> usize {
    let (from_s, from_k) = all[0];
    let (mut flattest, mut steepest) = (f64::NEG_INFINITY, f64::INFINITY);
    let mut reached = 1;
    for (at, (at_s, k)) in all.iter().enumerate().skip(1) {
        let slope = (k - from_k) / (at_s - from_s);
        if (flattest..=steepest).contains(&slope) {
            reached = at;
        }
        let off = SKETCH_K / (at_s - from_s);
        flattest = flattest.max(slope - off);
        steepest = steepest.min(slope + off);
        if flattest > steepest {
            break;
        }
    }
    reached
}

#[cfg(test)]
mod tests {
    use super::super::series::{AirAt, AirSeries};
    use fondant_quantities::Temperature;
    use jiff::{SignedDuration, Timestamp};

    /// Eight days of hours, from cold at night to warm by day.
    fn week() -> Vec<AirAt> {
        let wave = |h: i64| 20.0 + 4.0 * (h as f64 * std::f64::consts::TAU / 24.0).sin();
        let at = |h| AirAt {
            at: Timestamp::UNIX_EPOCH + SignedDuration::from_hours(h),
            temperature: Temperature::from_celsius(wave(h)),
            humidity_percent: 50.0,
        };
        (0..24 * 8).map(at).collect()
    }

    /// From any hour of a day on: never a tenth of a kelvin off, by fewer moments.
    #[test]
    fn a_sketch_keeps_close_by_few_lines() {
        let moments = week();
        let air = AirSeries::new(&moments).unwrap();
        for (hour, begin) in moments.iter().take(24).enumerate() {
            let from = begin.at + SignedDuration::from_mins(20);
            let to = from + SignedDuration::from_hours(24 * 7);
            let sketch = crate::Air::through(&air.sketched(from, to)).unwrap();
            let all = air.since(from, to);
            for (t_s, k) in &all {
                assert!((sketch.at(*t_s) - k).abs() < 0.1 + 1e-9, "{hour} h: {t_s}");
            }
            assert!(air.sketched(from, to).len() < all.len());
        }
    }

    #[test]
    fn a_sketch_is_held_before_its_first_moment_and_after_its_last() {
        let air = AirSeries::new(&week()).unwrap();
        let day = SignedDuration::from_hours(24);
        let early = air.sketched(Timestamp::UNIX_EPOCH - day, Timestamp::UNIX_EPOCH);
        assert_eq!(early, [(0.0, 293.15), (86_400.0, 293.15)]);
        let end = *air.moments().last().unwrap();
        let late = air.sketched(end.at + day, end.at + day);
        assert_eq!(late, [(0.0, end.temperature.k()), (1.0, end.temperature.k())]);
    }
}

//! Pressure on a cast while it gels: what leaks, and what is left at the gel.

use fondant_heat::bubbles::shrunk_ratio;
use jiff::Timestamp;

/// Less of the first pressure than this at the gel lets bubbles grow again (convention).
pub const ENOUGH_RATIO: f64 = 0.8;
/// A gauge is read to about this share of its pressure; less fall than that is no leak (convention).
const GAUGE_RATIO: f64 = 0.01;

/// A gauge that was read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GaugeReading {
    /// Time of the reading, UTC.
    pub at: Timestamp,
    /// Over the air's pressure, bar.
    pub over_bar: f64,
}

/// A pot by its gauge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pressure {
    /// The first reading.
    pub first: GaugeReading,
    /// What leaks, as a share of the pressure an hour; 0 where nothing can be seen to.
    pub leak_per_h: f64,
}

impl Pressure {
    /// By the readings since it was closed, in order; `None` without any.
    #[must_use]
    pub fn of(readings: &[GaugeReading]) -> Option<Self> {
        let (first, last) = (*readings.first()?, *readings.last()?);
        let hours = last.at.duration_since(first.at).as_secs_f64() / 3600.0;
        let left = last.over_bar / first.over_bar.max(1e-9);
        let leak_per_h = if hours <= 0.0 || left >= 1.0 - GAUGE_RATIO {
            0.0
        } else {
            // What flows out of a small hole goes with the pressure: p = p₀ exp(−t/τ).
            -left.max(1e-6).ln() / hours
        };
        Some(Self { first, leak_per_h })
    }

    /// Pressure over the air's at a time, bar, if it goes on leaking like that.
    #[must_use]
    pub fn at(&self, at: Timestamp) -> f64 {
        let hours = at.duration_since(self.first.at).as_secs_f64() / 3600.0;
        self.first.over_bar * (-self.leak_per_h * hours.max(0.0)).exp()
    }

    /// Share of the first pressure that is left at a time.
    #[must_use]
    pub fn left_ratio(&self, at: Timestamp) -> f64 {
        self.at(at) / self.first.over_bar.max(1e-9)
    }

    /// Whether enough is left at the gel.
    #[must_use]
    pub fn holds_until(&self, gel: Timestamp) -> bool {
        self.left_ratio(gel) >= ENOUGH_RATIO
    }

    /// Diameter of a bubble at a time as a share of its diameter in the open.
    #[must_use]
    pub fn bubble_ratio(&self, at: Timestamp) -> f64 {
        shrunk_ratio(self.at(at))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::SignedDuration;

    /// 3 bar that are 2.7 after two hours lose ln(10/9)/2 = 5.27 % an hour; after six hours from the
    /// start 3 · 0.9³ = 2.187 bar are left, 73 %: too little. After four, 81 %.
    #[test]
    fn a_leak_goes_on_with_the_pressure() {
        let closed = Timestamp::UNIX_EPOCH;
        let after = |hours| closed + SignedDuration::from_hours(hours);
        let read = |hours, over_bar| GaugeReading { at: after(hours), over_bar };
        let pot = Pressure::of(&[read(0, 3.0), read(1, 2.85), read(2, 2.7)]).unwrap();
        assert!((pot.leak_per_h - 0.052_680).abs() < 1e-5, "{}", pot.leak_per_h);
        assert!((pot.at(after(6)) - 2.187).abs() < 1e-9);
        assert!(pot.holds_until(after(4)) && !pot.holds_until(after(6)));
        // 2.187 bar over 1.013 25: (1.013 25 / 3.200 25)^⅓ = 0.6816.
        assert!((pot.bubble_ratio(after(6)) - 0.6816).abs() < 1e-4);
    }

    #[test]
    fn what_a_gauge_cannot_show_is_no_leak() {
        let read = |s, over_bar| GaugeReading { at: Timestamp::from_second(s).unwrap(), over_bar };
        assert!(Pressure::of(&[read(0, 3.0), read(60, 2.98)]).unwrap().leak_per_h.abs() < 1e-12);
        assert!(Pressure::of(&[read(0, 3.0)]).unwrap().leak_per_h.abs() < 1e-12);
        assert!(Pressure::of(&[]).is_none());
        assert!(
            Pressure::of(&[read(0, 3.0), read(60, 3.1)]).unwrap().leak_per_h.abs() < 1e-12,
            "warmer"
        );
    }
}

//! Instruments of a bench: each reads what is true with its own noise, and can be told to misbehave in
//! the ways that real ones do.

use fondant_bench::reading::{Place, Quantity};
use jiff::Timestamp;
use serde::Serialize;

/// How an instrument misbehaves.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Misbehaviour {
    /// It moves away from the truth, a hundredth of its span a minute.
    Drift,
    /// It sends nothing half of the time.
    DropOut,
    /// One reading in ten is of something else.
    Jump,
    /// It says what it said first for good.
    Stick,
    /// It sends each line twice.
    Repeat,
    /// It is off by a tenth of its span from the beginning.
    Lie,
}

impl Misbehaviour {
    /// By its name on a command line.
    #[must_use]
    pub fn named(name: &str) -> Option<Self> {
        Some(match name {
            "drift" => Self::Drift,
            "drop-out" => Self::DropOut,
            "jump" => Self::Jump,
            "stick" => Self::Stick,
            "repeat" => Self::Repeat,
            "lie" => Self::Lie,
            _ => return None,
        })
    }
}

/// A simulated instrument.
#[derive(Debug, Clone)]
pub struct Instrument {
    /// Its name, as it sends it.
    pub name: String,
    /// Where it reads.
    pub place: Place,
    /// How it misbehaves; `None` for one that does as it should.
    pub misbehaves: Option<Misbehaviour>,
    quantity: Quantity,
    seq: i64,
    chance: u64,
    first: Option<f64>,
    begun: Option<Timestamp>,
}

/// One line as a device sends it.
#[derive(Serialize)]
struct Line<'a> {
    device: &'a str,
    seq: i64,
    at: Timestamp,
    quantity: Quantity,
    value: f64,
    unit: &'static str,
}

impl Instrument {
    /// An instrument whose numbers go on from `seq`. The seed makes its noise its own.
    #[must_use]
    pub fn new(name: &str, (place, quantity): (Place, Quantity), seq: i64, seed: u64) -> Self {
        Self {
            name: name.to_owned(),
            place,
            misbehaves: None,
            quantity,
            seq,
            chance: seed.max(1),
            first: None,
            begun: None,
        }
    }

    /// What it reads.
    #[must_use]
    pub const fn quantity(&self) -> Quantity {
        self.quantity
    }

    /// What it sends of a true value, in °C, %, g or bar: a line of JSON, none where it drops out, two
    /// where it repeats itself.
    pub fn read(&mut self, truth: f64, at: Timestamp) -> String {
        let begun = *self.begun.get_or_insert(at);
        let minutes = at.duration_since(begun).as_secs_f64() / 60.0;
        let (span, noise, digits) = self.span();
        let mut value = truth + noise * self.deviate();
        let chance = self.random();
        match self.misbehaves {
            Some(Misbehaviour::Drift) => value += 0.01 * span * minutes,
            Some(Misbehaviour::Lie) => value += 0.1 * span,
            Some(Misbehaviour::Jump) if chance.is_multiple_of(10) => value += 0.6 * span,
            Some(Misbehaviour::Stick) => value = *self.first.get_or_insert(value),
            Some(Misbehaviour::DropOut) if chance.is_multiple_of(2) => return String::new(),
            _ => {}
        }
        self.seq += 1;
        let scale = 10f64.powi(digits);
        let line = Line {
            device: &self.name,
            seq: self.seq,
            at,
            quantity: self.quantity,
            value: (value * scale).round() / scale,
            unit: self.unit(),
        };
        let mut text = serde_json::to_string(&line).unwrap_or_default();
        text.push('\n');
        if self.misbehaves == Some(Misbehaviour::Repeat) {
            text.push_str(&text.clone());
        }
        text
    }

    /// Span of what it reads, spread of its noise, and digits that it shows.
    const fn span(&self) -> (f64, f64, i32) {
        match self.quantity {
            Quantity::Temperature => (100.0, 0.15, 1),
            Quantity::Humidity => (100.0, 0.6, 0),
            Quantity::Mass => (5000.0, 0.25, 0),
            Quantity::Pressure => (6.0, 0.006, 2),
        }
    }

    const fn unit(&self) -> &'static str {
        match self.quantity {
            Quantity::Temperature => "C",
            Quantity::Humidity => "%",
            Quantity::Mass => "g",
            Quantity::Pressure => "bar",
        }
    }

    /// A number by xorshift (G. Marsaglia, 2003): good enough for repeatable noise.
    fn random(&mut self) -> u64 {
        self.chance ^= self.chance << 13;
        self.chance ^= self.chance >> 7;
        self.chance ^= self.chance << 17;
        self.chance >> 11
    }

    /// About a standard normal deviate: the sum of twelve uniform ones less six.
    fn deviate(&mut self) -> f64 {
        let sum: f64 = (0..12).map(|_| self.random() as f64 / (1u64 << 53) as f64).sum();
        sum - 6.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn readings(misbehaves: Option<Misbehaviour>, truth: f64, count: i64) -> Vec<(i64, f64)> {
        let mut probe = Instrument::new("Probe", (Place::Bucket, Quantity::Temperature), 0, 7);
        probe.misbehaves = misbehaves;
        let at = |s| Timestamp::from_second(s).unwrap();
        let lines: String = (0..count).map(|s| probe.read(truth, at(s * 10))).collect();
        let value = |line: &str| serde_json::from_str::<serde_json::Value>(line).unwrap();
        let pair = |line| {
            let line = value(line);
            (line["seq"].as_i64().unwrap(), line["value"].as_f64().unwrap())
        };
        lines.lines().map(pair).collect()
    }

    #[test]
    fn one_that_does_as_it_should_is_near_the_truth_and_counts() {
        let all = readings(None, 24.0, 200);
        let mean = all.iter().map(|(_, value)| value).sum::<f64>() / 200.0;
        assert!((mean - 24.0).abs() < 0.05, "{mean}");
        assert!(all.iter().all(|(_, value)| (value - 24.0).abs() < 1.0));
        assert_eq!(
            all.iter().map(|(seq, _)| *seq).collect::<Vec<_>>(),
            (1..=200).collect::<Vec<_>>()
        );
    }

    #[test]
    fn each_misbehaves_as_it_is_told() {
        let of = |misbehaves| readings(Some(misbehaves), 24.0, 100);
        let last = |all: &[(i64, f64)]| all.last().unwrap().1;
        // A hundredth of 100 K a minute over 990 s.
        assert!((last(&of(Misbehaviour::Drift)) - 24.0 - 16.5).abs() < 1.0);
        assert!((last(&of(Misbehaviour::Lie)) - 34.0).abs() < 1.0);
        let jumps = of(Misbehaviour::Jump).iter().filter(|(_, value)| *value > 60.0).count();
        assert!((3..25).contains(&jumps), "{jumps}");
        let stuck = of(Misbehaviour::Stick);
        assert!(stuck.iter().all(|(_, value)| (value - stuck[0].1).abs() < 1e-12));
        let silent = of(Misbehaviour::DropOut).len();
        assert!((30..70).contains(&silent), "{silent}");
        let twice = of(Misbehaviour::Repeat);
        assert_eq!((twice.len(), twice[0].0, twice[1].0), (200, 1, 1));
        assert_eq!(Misbehaviour::named("drop-out"), Some(Misbehaviour::DropOut));
        assert_eq!(Misbehaviour::named("sulk"), None);
    }
}

//! Who mixes and pours, and how long that takes.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Density, Mass, Span, Volume};

/// Nothing is measured out, mixed and poured in less.
const QUICKEST: Span = Span::from_s(900.0);

/// Hands, buckets and the time that each bucket takes.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Crew {
    /// People who mix and pour at the same time.
    pub hands: u32,
    /// What is mixed in one bucket.
    #[serde(rename = "bucket_kg")]
    pub bucket: Mass,
    /// To measure out and mix one bucket.
    #[serde(rename = "mixing_s")]
    pub mixing: Span,
    /// To pour it.
    #[serde(rename = "pouring_s")]
    pub pouring: Span,
}

impl Default for Crew {
    /// One pair of hands, buckets of 5 kg, ten minutes each.
    fn default() -> Self {
        Self {
            hands: 1,
            bucket: Mass::from_kg(5.0),
            mixing: Span::from_s(360.0),
            pouring: Span::from_s(240.0),
        }
    }
}

impl Crew {
    /// Buckets that a layer takes.
    #[must_use]
    pub fn batches(&self, volume: Volume, density: Density) -> u32 {
        let whole = (volume * density).kg() / self.bucket.kg();
        (whole - 1e-9).ceil().clamp(1.0, 9999.0) as u32
    }

    /// From the first bucket measured out to the last one poured: each pair of
    /// hands takes a bucket at a time.
    #[must_use]
    pub fn work(&self, volume: Volume, density: Density) -> Span {
        let rounds = self.batches(volume, density).div_ceil(self.hands.max(1));
        ((self.mixing + self.pouring) * f64::from(rounds)).max(QUICKEST)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hands_share_the_buckets() {
        let (litres, dense) = (Volume::from_l(20.0), Density::from_kg_m3(1100.0));
        let one = Crew::default();
        assert_eq!(one.batches(litres, dense), 5);
        assert!((one.work(litres, dense).s() - 3000.0).abs() < 1e-9);
        let two = Crew { hands: 2, ..one };
        assert!((two.work(litres, dense).s() - 1800.0).abs() < 1e-9);
        assert_eq!(one.work(Volume::from_l(0.1), dense), QUICKEST);
    }
}

//! Who mixes and pours, and how long that takes.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Density, Mass, Span, Volume};

use crate::layers::{Layer, LayerKind, Purpose};

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
    /// Time to pour one bucket.
    #[serde(rename = "pouring_s")]
    pub pouring: Span,
    /// What is mixed for what is to be in the form.
    #[serde(default)]
    pub mixed: MixedRatio,
}

/// What is mixed for a layer over what the layer takes: some stays on buckets, soaks in or leaks.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct MixedRatio {
    /// Of a layer that is poured.
    pub poured: f64,
    /// Of a coat that is brushed on, or poured over a finished face.
    pub brushed: f64,
}

impl Default for MixedRatio {
    fn default() -> Self {
        Self::NOTHING_LOST
    }
}

impl MixedRatio {
    /// As much as goes in.
    pub const NOTHING_LOST: Self = Self { poured: 1.0, brushed: 1.0 };

    /// What is mixed for a layer.
    #[must_use]
    pub fn of(&self, layer: &Layer) -> Volume {
        let ratio = match layer.kind {
            // What soaks in or leaks is of the form.
            LayerKind::Seal | LayerKind::Stage(Purpose::Flood | Purpose::Cracks, _) => self.brushed,
            LayerKind::Base | LayerKind::Main(_) | LayerKind::Stage(..) => self.poured,
        };
        layer.volume * ratio + layer.brushed * self.brushed
    }
}

impl Default for Crew {
    /// One pair of hands, buckets of 5 kg, ten minutes each.
    fn default() -> Self {
        Self {
            hands: 1,
            bucket: Mass::from_kg(5.0),
            mixing: Span::from_s(360.0),
            pouring: Span::from_s(240.0),
            mixed: MixedRatio::NOTHING_LOST,
        }
    }
}

impl Crew {
    /// Buckets that a layer takes.
    #[must_use]
    pub fn batches(&self, layer: &Layer, density: Density) -> u32 {
        let whole = (self.mixed.of(layer) * density).kg() / self.bucket.kg();
        (whole - 1e-9).ceil().clamp(1.0, 9999.0) as u32
    }

    /// Mass of each of the equal batches of a layer.
    #[must_use]
    pub fn batch(&self, layer: &Layer, density: Density) -> Mass {
        self.mixed.of(layer) * density / f64::from(self.batches(layer, density))
    }

    /// From the first bucket measured out to the last one poured: each pair of
    /// hands takes a bucket at a time.
    #[must_use]
    pub fn work(&self, layer: &Layer, density: Density) -> Span {
        let rounds = self.batches(layer, density).div_ceil(self.hands.max(1));
        ((self.mixing + self.pouring) * f64::from(rounds)).max(QUICKEST)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::Length;

    #[test]
    fn hands_share_the_buckets() {
        let dense = Density::from_kg_m3(1100.0);
        let one = Crew::default();
        assert_eq!(one.batches(&layer(20.0), dense), 5);
        assert!((one.work(&layer(20.0), dense).s() - 3000.0).abs() < 1e-9);
        let two = Crew { hands: 2, ..one };
        assert!((two.work(&layer(20.0), dense).s() - 1800.0).abs() < 1e-9);
        assert_eq!(one.work(&layer(0.1), dense), QUICKEST);
    }

    fn layer(litres: f64) -> Layer {
        let (floor, top) = (Length::ZERO, Length::from_mm(20.0));
        Layer::new(LayerKind::Main(1), floor, top, Volume::from_l(litres))
    }

    /// Batches and work time left losses out: 20 L in buckets of 5.5 kg are four buckets, and five
    /// with a twentieth that stays on them.
    #[test]
    fn what_is_lost_is_mixed_too() {
        let dense = Density::from_kg_m3(1100.0);
        let bare = Crew { bucket: Mass::from_kg(5.5), ..Crew::default() };
        let lossy = Crew { mixed: MixedRatio { poured: 1.05, brushed: 1.0 }, ..bare };
        assert_eq!((bare.batches(&layer(20.0), dense), lossy.batches(&layer(20.0), dense)), (4, 5));
        assert!(lossy.work(&layer(20.0), dense) > bare.work(&layer(20.0), dense));
        let seal = Layer { kind: LayerKind::Seal, ..layer(0.2) };
        assert_eq!(lossy.mixed.of(&seal), seal.volume);
    }
}

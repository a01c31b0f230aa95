//! A face flattened with a sled: passes, lanes, path, time, chips.

use fondant_quantities::{Length, Span, Volume};

/// A router on a sled.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sled {
    /// Diameter of the bit.
    pub bit: Length,
    /// Depth of a pass.
    pub pass: Length,
    /// How far a lane lies over the one before, share of the bit.
    pub overlap: f64,
    /// Feed, m/s.
    pub feed_m_s: f64,
}

impl Default for Sled {
    /// A surfacing bit of 40 mm, 1 mm a pass as resin wants it, 30 % overlap, 2 m/min (conventions).
    fn default() -> Self {
        Self {
            bit: Length::from_mm(40.0),
            pass: Length::from_mm(1.0),
            overlap: 0.3,
            feed_m_s: 2.0 / 60.0,
        }
    }
}

/// A face flattened.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flattened {
    /// Passes over the whole face.
    pub passes: u32,
    /// Lanes of a pass.
    pub lanes: u32,
    /// Way of the bit, all passes together.
    pub path: Length,
    /// Time at the feed, without setting up.
    pub takes: Span,
    /// What is taken off, as a solid; loose chips take several times the room.
    pub chips: Volume,
}

/// What taking `removal` off a face of a length and a width comes to. The bit leaves the face at both
/// ends of a lane.
#[must_use]
pub fn flatten(length: Length, width: Length, removal: Length, sled: &Sled) -> Flattened {
    let passes = whole(removal.m() / sled.pass.m());
    let beside = (width - sled.bit).max(Length::ZERO);
    let lanes = whole(beside.m() / (sled.bit.m() * (1.0 - sled.overlap))) + 1;
    let lane = length + sled.bit * 2.0;
    let path = lane * (f64::from(passes) * f64::from(lanes));
    Flattened {
        passes,
        lanes: if passes == 0 { 0 } else { lanes },
        path,
        takes: Span::from_s(path.m() / sled.feed_m_s),
        chips: Volume::from_m3(length.m() * width.m() * removal.m()),
    }
}

/// Whole passes or lanes; a hair over a whole one is that one.
fn whole(share: f64) -> u32 {
    const HAIR: f64 = 1e-9;
    (share - HAIR).ceil().clamp(0.0, 1e6) as u32
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    /// By hand: ⌈3 ÷ 1⌉ = 3; ⌈560 ÷ 28⌉ + 1 = 21; 3 × 21 × 1.28 m = 80.64 m; at 2 m/min 40.3 min.
    #[test]
    fn a_table_top_by_hand() {
        let mm = Length::from_mm;
        let found = flatten(mm(1200.0), mm(600.0), mm(3.0), &Sled::default());
        assert!((found.path.m() - 80.64).abs() < 1e-9);
        assert!((found.takes.s() / 60.0 - 40.32).abs() < 1e-9);
        assert!((found.chips.m3() * 1e3 - 2.16).abs() < 1e-9);
        let none = flatten(mm(1200.0), mm(600.0), Length::ZERO, &Sled::default());
        assert_eq!((none.passes, none.lanes), (0, 0));
        assert!(none.takes.s() < 1e-9);
    }

    proptest! {
        /// All of a face is passed over, and no lane more than is needed.
        #[test]
        fn lanes_cover_the_width(width in 10.0..2500.0_f64, overlap in 0.0..0.8_f64) {
            let sled = Sled { overlap, ..Sled::default() };
            let mm = Length::from_mm;
            let found = flatten(mm(500.0), mm(width), mm(1.0), &sled);
            let reach = |lanes: u32| 40.0 + f64::from(lanes - 1) * 40.0 * (1.0 - overlap);
            prop_assert!(reach(found.lanes) + 1e-3 >= width);
            prop_assert!(found.lanes == 1 || reach(found.lanes - 1) < width + 1e-3);
        }
    }
}

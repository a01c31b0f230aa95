//! A casting sawn to size along its four sides: passes, way, time, and what the kerf takes.

use fondant_quantities::{Length, Span, TemperatureDelta, Volume};
use fondant_shapes::form::{CastSize, Piece};

/// Kerf of a table or track saw's blade (convention).
pub const KERF: Length = Length::from_m(3.0e-3);
/// Depth that one light pass takes, so that the resin does not melt into the kerf (convention).
const PASS: Length = Length::from_m(35.0e-3);
/// Feed, m/s: 1.5 m/min (convention).
const FEED_M_S: f64 = 1.5 / 60.0;
/// Setting up a side: marking, clamping, a look at the blade (convention).
const SETTING_UP: Span = Span::from_s(240.0);
/// Resin closer to its glass transition than this smears and closes the kerf behind the blade.
pub const COOL: TemperatureDelta = TemperatureDelta::from_k(20.0);

/// A casting sawn to size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Squared {
    /// Passes for each of the four sides.
    pub passes: u32,
    /// Way of the blade, all passes together.
    pub path: Length,
    /// Work.
    pub takes: Span,
    /// What the kerf takes of resin and timber.
    pub kerf: Volume,
}

/// What sawing a piece out of its casting comes to; `None` where the casting is as large as the piece.
#[must_use]
pub fn square(piece: &Piece) -> Option<Squared> {
    let cast = CastSize::of(piece);
    let (length, width) = (cast.length - piece.length, cast.width - piece.width);
    let is_larger = length > Length::ZERO || width > Length::ZERO;
    is_larger.then(|| {
        let around = (cast.length + cast.width) * 2.0;
        let passes = (cast.thickness.m() / PASS.m()).ceil().clamp(1.0, 100.0) as u32;
        let path = around * f64::from(passes);
        Squared {
            passes,
            path,
            takes: Span::from_s(path.m() / FEED_M_S + 4.0 * SETTING_UP.s()),
            kerf: Volume::from_m3(around.m() * cast.thickness.m() * KERF.m()),
        }
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A block of 220 × 120 mm for one of 200 × 100, 110 mm thick: 0.68 m around, 4 passes,
    /// 2.72 m at 1.5 m/min is 108.8 s, and 16 min for the sides; 0.68 × 0.11 × 0.003 m³ of kerf.
    #[test]
    fn a_deep_block_by_hand() {
        let mm = Length::from_mm;
        let mut piece = Piece::slab(mm(200.0), mm(100.0), mm(110.0), mm(10.0));
        piece.flattening = Length::ZERO;
        let found = square(&piece).unwrap();
        assert_eq!(found.passes, 4);
        assert!((found.path.m() - 2.72).abs() < 1e-9, "{:?}", found.path);
        assert!((found.takes.s() - (2.72 / 0.025 + 960.0)).abs() < 1e-6);
        assert!((found.kerf.m3() - 0.68 * 0.11 * 0.003).abs() < 1e-12);
        let exact = Piece::slab(mm(200.0), mm(100.0), mm(110.0), Length::ZERO);
        assert_eq!(square(&exact), None);
    }
}

//! Blanks from a block: how many, at what pitch, what is left over.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Length, Volume};

/// What is sawn from the block.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Cutting {
    /// Length of a blank.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// Its section, one side.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Its section, the other side.
    #[serde(rename = "height_m")]
    pub height: Length,
    /// Width of the saw cut.
    #[serde(rename = "kerf_m")]
    pub kerf: Length,
    /// Sawn off each face of the block first, to square it.
    #[serde(rename = "squaring_m")]
    pub squaring: Length,
}

impl Default for Cutting {
    fn default() -> Self {
        let mm = Length::from_mm;
        Self {
            length: mm(130.0),
            width: mm(20.0),
            height: mm(20.0),
            kerf: mm(2.0),
            squaring: mm(2.0),
        }
    }
}

/// Blanks along one axis of the block.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Row {
    /// Size of a blank along the axis.
    pub size: Length,
    /// Number of equal pieces.
    pub count: usize,
    /// From cut to cut: size and kerf.
    pub pitch: Length,
    /// As many equal pieces could be so large that nothing is left over.
    pub largest: Length,
    /// What is left at the end.
    pub offcut: Length,
}

/// The best way to saw a block.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Layout {
    /// Along the block's length, width and height.
    pub rows: [Row; 3],
    /// Block inside its squaring cuts.
    pub usable: [Length; 3],
    /// Share of the block that becomes blanks, 0…1.
    pub used_ratio: f64,
    /// What a millimetre less on the blank's section or length would yield,
    /// where that is more.
    pub one_mm_less: Option<OneLess>,
}

/// One millimetre less.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OneLess {
    /// Which of the blank's sides.
    pub side: Side,
    /// Blanks then.
    pub count: usize,
}

/// A side of the blank.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// Length of a blank.
    Length,
    /// One side of its section.
    Width,
    /// The other side of its section.
    Height,
}

impl Layout {
    /// Blanks in all.
    #[must_use]
    pub fn count(&self) -> usize {
        self.rows.iter().map(|r| r.count).product()
    }
}

/// The way round in which most blanks come out of a block; of several, the one
/// with the longest rest in one piece.
#[must_use]
pub fn lay_out(block: [Length; 3], cutting: &Cutting) -> Layout {
    let mut best = best_of(block, cutting);
    let now = best.count();
    let mm = Length::from_mm(1.0);
    best.one_mm_less = [
        (Side::Width, Cutting { width: cutting.width - mm, ..*cutting }),
        (Side::Height, Cutting { height: cutting.height - mm, ..*cutting }),
        (Side::Length, Cutting { length: cutting.length - mm, ..*cutting }),
    ]
    .into_iter()
    .filter(|(_, less)| less.length.min(less.width).min(less.height) > Length::ZERO)
    .map(|(side, less)| OneLess { side, count: best_of(block, &less).count() })
    .filter(|less| less.count > now)
    .max_by_key(|less| less.count);
    best
}

fn best_of(block: [Length; 3], cutting: &Cutting) -> Layout {
    let usable = block.map(|side| (side - cutting.squaring * 2.0).max(Length::ZERO));
    let blank = [cutting.length, cutting.width, cutting.height];
    let orders = [[0, 1, 2], [0, 2, 1], [1, 0, 2], [1, 2, 0], [2, 0, 1], [2, 1, 0]];
    let volume = |sides: &[Length; 3]| sides[0] * sides[1] * sides[2];
    let whole = volume(&block);
    orders
        .map(|order| {
            let rows = [0, 1, 2].map(|axis| row(usable[axis], blank[order[axis]], cutting.kerf));
            let count: usize = rows.iter().map(|r| r.count).product();
            let used = volume(&blank) * count as f64;
            let used_ratio = if whole > Volume::ZERO { used / whole } else { 0.0 };
            Layout { rows, usable, used_ratio, one_mm_less: None }
        })
        .into_iter()
        .fold(None, |best: Option<Layout>, next| match best {
            Some(best) if key(&best) >= key(&next) => Some(best),
            _ => Some(next),
        })
        .unwrap_or(Layout {
            rows: [Row {
                size: Length::ZERO,
                count: 0,
                pitch: Length::ZERO,
                largest: Length::ZERO,
                offcut: Length::ZERO,
            }; 3],
            usable,
            used_ratio: 0.0,
            one_mm_less: None,
        })
}

/// More blanks first, then a longer offcut, in whole tenths of a millimetre.
fn key(layout: &Layout) -> (usize, i64) {
    let longest = layout.rows.iter().map(|r| r.offcut.mm()).fold(0.0, f64::max);
    (layout.count(), (longest * 10.0).round() as i64)
}

fn row(usable: Length, size: Length, kerf: Length) -> Row {
    // The last blank needs no cut behind it; a hair for rounding.
    let count = ((usable + kerf) / (size + kerf) + 1e-9).floor().max(0.0);
    let largest = if count > 0.0 { (usable + kerf) / count - kerf } else { Length::ZERO };
    let used = if count > 0.0 { size * count + kerf * (count - 1.0) } else { Length::ZERO };
    let offcut = (usable - used).max(Length::ZERO);
    Row { size, count: count as usize, pitch: size + kerf, largest, offcut }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn mm(v: f64) -> Length {
        Length::from_mm(v)
    }

    fn cutting(section: f64) -> Cutting {
        Cutting {
            length: mm(130.0),
            width: mm(section),
            height: mm(section),
            kerf: mm(2.0),
            squaring: mm(2.0),
        }
    }

    #[test]
    fn a_millimetre_less_saves_a_row() {
        // 104 mm less two squaring cuts leave 100: four of 23.5 need 100 exactly.
        let block = [mm(134.0), mm(104.0), mm(27.0)];
        assert_eq!(lay_out(block, &cutting(23.0)).count(), 4);
        let tight = lay_out(block, &cutting(24.0));
        assert_eq!(tight.count(), 0, "23 mm of height do not hold 24");
        let block = [mm(134.0), mm(104.0), mm(30.0)];
        let three = lay_out(block, &cutting(24.0));
        assert_eq!(three.count(), 3);
        assert_eq!(three.one_mm_less, Some(OneLess { side: Side::Height, count: 4 }));
    }

    /// "5 of 23 mm, 31.2 mm from cut to cut" saws 28.7 mm: a cut at each pitch leaves the size.
    #[test]
    fn cuts_at_the_pitch_leave_blanks_of_their_size() {
        let layout = lay_out([mm(134.0), mm(104.0), mm(27.0)], &cutting(22.0));
        let row = layout.rows.iter().find(|r| r.count == 4).unwrap();
        assert!((row.pitch.mm() - 24.0).abs() < 1e-9);
        assert!((row.offcut.mm() - 6.0).abs() < 1e-9);
        // 100 mm and one more kerf are four times 23.5 mm and a kerf.
        assert!((row.largest.mm() - 23.5).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn blanks_never_take_more_than_there_is(
            l in 20.0f64..600.0, w in 20.0f64..300.0, h in 20.0f64..150.0,
            section in 10.0f64..40.0, kerf in 0.5f64..5.0,
        ) {
            let cutting = Cutting { kerf: mm(kerf), ..cutting(section) };
            let block = [mm(l), mm(w), mm(h)];
            let layout = lay_out(block, &cutting);
            prop_assert!(layout.used_ratio <= 1.0 + 1e-12);
            for (row, usable) in layout.rows.iter().zip(layout.usable) {
                if row.count > 0 {
                    let used = row.size * row.count as f64 + mm(kerf) * (row.count as f64 - 1.0);
                    prop_assert!(used.mm() <= usable.mm() + 1e-6);
                    prop_assert!(((used + row.offcut) - usable).mm().abs() < 1e-6);
                    let all = row.largest * row.count as f64 + mm(kerf) * (row.count as f64 - 1.0);
                    prop_assert!((all - usable).mm().abs() < 1e-6 && row.largest.mm() >= row.size.mm() - 1e-9);
                }
            }
            if let Some(less) = layout.one_mm_less {
                prop_assert!(less.count > layout.count());
            }
        }
    }
}

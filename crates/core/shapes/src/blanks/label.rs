//! The printed label that is wrapped on a tube before it is cast in.

use serde::{Deserialize, Serialize};

use crate::form::nesting::{Item, Nest, nest};
use fondant_quantities::Length;

/// A label as it is cut out.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Label {
    /// Tube across, outside, bare.
    #[serde(rename = "tube_m")]
    pub tube: Length,
    /// Tube's length.
    #[serde(rename = "tube_length_m")]
    pub tube_length: Length,
    /// Thickness of the paper with its glue.
    #[serde(rename = "paper_m")]
    pub paper: Length,
    /// How far the end lies over the beginning.
    #[serde(rename = "overlap_m")]
    pub overlap: Length,
    /// Beyond the tube at each end, trimmed off with it.
    #[serde(rename = "trim_m")]
    pub trim: Length,
}

/// The sheet it is printed on.
pub const SHEET: (Length, Length) = (Length::from_mm(210.0), Length::from_mm(297.0));
/// Border that a printer does not reach, and room for the check line.
pub const BORDER: Length = Length::from_mm(12.0);
/// Between labels, for scissors.
pub const GAP: Length = Length::from_mm(3.0);
/// The line to lay a rule on: a print that is not at 1:1 shows it.
pub const CHECK_LINE: Length = Length::from_mm(50.0);

impl Label {
    /// Once round the middle of the paper, without the overlap.
    #[must_use]
    pub fn circumference(&self) -> Length {
        (self.tube + self.paper) * std::f64::consts::PI
    }

    /// Width as cut: round the tube and over itself. The overlap lies on
    /// paper, one thickness farther out.
    #[must_use]
    pub fn width(&self) -> Length {
        self.circumference() + self.overlap
    }

    /// Height as cut: the tube and the trim at both ends.
    #[must_use]
    pub fn height(&self) -> Length {
        self.tube_length + self.trim * 2.0
    }

    /// Labels laid out on sheets inside their border; the check line
    /// takes a strip of its own at the foot.
    #[must_use]
    pub fn on_sheets(&self, count: usize) -> Nest {
        let item = Item { name: String::new(), length: self.width(), width: self.height() };
        let (length, width) = (SHEET.0 - BORDER * 2.0, SHEET.1 - BORDER * 3.0);
        nest(&vec![item; count], length, width, GAP)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn label() -> Label {
        let mm = Length::from_mm;
        Label {
            tube: mm(10.0),
            tube_length: mm(60.0),
            paper: mm(0.2),
            overlap: mm(3.0),
            trim: mm(2.0),
        }
    }

    #[test]
    fn once_round_the_middle_of_the_paper_and_over_itself() {
        assert!((label().width().mm() - (10.2 * std::f64::consts::PI + 3.0)).abs() < 1e-9);
        assert!((label().height().mm() - 64.0).abs() < 1e-9);
    }

    #[test]
    fn labels_lie_on_as_few_sheets_as_their_size_allows() {
        // 35 × 64 mm on 186 × 261 mm: four by four with three millimetres between.
        assert_eq!(label().on_sheets(12).sheets, 1);
        assert!(label().on_sheets(30).sheets <= 3);
        assert_eq!(label().on_sheets(30).placed.len(), 30);
    }
}

//! The printed label that is wrapped on a tube before it is cast in.

use serde::{Deserialize, Serialize};

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

/// The paper it is printed on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Paper {
    /// 210 × 297 mm.
    A4,
    /// 8 1/2 × 11 in.
    Letter,
}

impl Paper {
    /// Width and height.
    #[must_use]
    pub const fn size(self) -> (Length, Length) {
        match self {
            Self::A4 => (Length::from_mm(210.0), Length::from_mm(297.0)),
            Self::Letter => (Length::from_mm(215.9), Length::from_mm(279.4)),
        }
    }
}

/// Border that a printer does not reach, and room for the check line.
pub const BORDER: Length = Length::from_mm(12.0);
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

    /// Labels laid out on sheets inside their border, all one way up and edge to edge, so that one
    /// cut parts two; the check line and what the sheet is take strips of their own. They lie across
    /// the sheet unless more of them stand upright on it. `None` where none goes on a sheet.
    #[must_use]
    pub fn on_sheets(&self, count: usize, paper: Paper) -> Option<Grid> {
        let (across, up) = paper.size();
        let (across, up) = (across - BORDER * 2.0, up - BORDER * 3.0);
        let fit = |room: Length, one: Length| (room / one + 1e-9).floor().max(0.0) as usize;
        let grid = |is_turned: bool| {
            let (w, h) = if is_turned {
                (self.height(), self.width())
            } else {
                (self.width(), self.height())
            };
            Grid { columns: fit(across, w), rows: fit(up, h), cell: (w, h), is_turned, count }
        };
        let best = [grid(false), grid(true)].into_iter().rev().max_by_key(Grid::on_one)?;
        (best.on_one() > 0).then_some(best)
    }
}

/// Labels edge to edge on sheets.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grid {
    /// Beside each other.
    pub columns: usize,
    /// Above each other.
    pub rows: usize,
    /// Width and height of one on the sheet.
    pub cell: (Length, Length),
    /// The labels lie on their side, all of them.
    pub is_turned: bool,
    /// Labels on all sheets.
    pub count: usize,
}

impl Grid {
    /// Labels on a full sheet.
    #[must_use]
    pub const fn on_one(&self) -> usize {
        self.columns * self.rows
    }

    /// Sheets that they take.
    #[must_use]
    pub const fn sheets(&self) -> usize {
        self.count.div_ceil(self.on_one())
    }

    /// Labels on a sheet, from 0.
    #[must_use]
    pub fn on_sheet(&self, sheet: usize) -> usize {
        self.count.saturating_sub(sheet * self.on_one()).min(self.on_one())
    }

    /// The corner of each label on a sheet, from the corner of the grid: row by row.
    pub fn corners(&self, sheet: usize) -> impl Iterator<Item = (Length, Length)> + '_ {
        (0..self.on_sheet(sheet)).map(|n| {
            (self.cell.0 * (n % self.columns) as f64, self.cell.1 * (n / self.columns) as f64)
        })
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

    /// "Nested with turns, which no printed artwork survives."
    #[test]
    fn labels_are_all_one_way_up_and_share_their_cuts() {
        // 35 × 64 mm on 186 × 261 mm: five beside each other and four above.
        let grid = label().on_sheets(30, Paper::A4).unwrap();
        assert_eq!((grid.columns, grid.rows, grid.is_turned), (5, 4, false));
        assert_eq!((grid.sheets(), grid.on_sheet(0), grid.on_sheet(1)), (2, 20, 10));
        let corners: Vec<_> = grid.corners(0).collect();
        assert!((corners[1].0 - label().width()).mm().abs() < 1e-9);
        assert!((corners[5].1 - label().height()).mm().abs() < 1e-9);
        assert_eq!(label().on_sheets(30, Paper::Letter).unwrap().rows, 3);
    }

    #[test]
    fn a_label_larger_than_the_sheet_is_on_none() {
        let large = Label { tube_length: Length::from_mm(300.0), ..label() };
        assert_eq!(large.on_sheets(1, Paper::A4), None);
        // One that is too wide to stand lies on its side, and so do all.
        let wide = Label { tube: Length::from_mm(62.0), ..label() };
        assert!(wide.on_sheets(3, Paper::A4).unwrap().is_turned);
    }

    proptest::proptest! {
        #[test]
        fn every_label_is_once_on_a_sheet_and_inside_its_border(
            tube in 3.0f64..60.0, length in 10.0f64..250.0, count in 1usize..200,
        ) {
            let mm = Length::from_mm;
            let label = Label { tube: mm(tube), tube_length: mm(length), ..label() };
            if let Some(grid) = label.on_sheets(count, Paper::Letter) {
                let all: usize = (0..grid.sheets()).map(|sheet| grid.corners(sheet).count()).sum();
                proptest::prop_assert_eq!(all, count);
                let (w, h) = Paper::Letter.size();
                for (x, y) in grid.corners(0) {
                    proptest::prop_assert!((x + grid.cell.0).mm() <= (w - BORDER * 2.0).mm() + 1e-6);
                    proptest::prop_assert!((y + grid.cell.1).mm() <= (h - BORDER * 3.0).mm() + 1e-6);
                }
            }
        }
    }
}

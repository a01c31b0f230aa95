//! Labels on sheets, 1:1, in millimetres: a grid with cut lines from border to border.

use std::fmt::Write;

use askama::Template;
use fondant_quantities::units::trimmed;
use fondant_shapes::blanks::label::{BORDER, CHECK_LINE, Grid, Label, Paper};

use crate::svg::Markup;

#[derive(Template)]
#[template(path = "drawings/label_sheet.html")]
struct Sheet {
    width: String,
    height: String,
    labels: Vec<Drawn>,
    /// Lines to cut along, each of which parts all labels on its two sides.
    cuts: String,
    title: String,
    title_x: String,
    title_y: String,
    /// The first sheet has the line to lay a rule on.
    has_check: bool,
    check: CheckLine,
}

/// A label and the line at which its end comes to lie.
struct Drawn {
    x: String,
    y: String,
    width: String,
    height: String,
    overlap: String,
}

/// A line to lay a rule on.
struct CheckLine {
    path: String,
    length: String,
    text_x: String,
    text_y: String,
}

/// Labels to be printed.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Labels<'a> {
    pub(crate) label: &'a Label,
    pub(crate) grid: &'a Grid,
    pub(crate) paper: Paper,
    /// Name of the cast.
    pub(crate) of: &'a str,
}

impl Labels<'_> {
    /// All sheets in one drawing of their true size, below each other.
    pub(crate) fn all_sheets(&self) -> askama::Result<String> {
        let count = self.grid.sheets();
        let (width, height) = self.paper.size();
        let whole = height.mm() * count as f64;
        let mut out = format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" viewBox=\"0 0 {0} {1}\">",
            mm(width.mm()),
            mm(whole)
        );
        for number in 0..count {
            let sheet = self.sheet(number)?.into_string();
            let at = format!("<svg y=\"{}\" ", mm(height.mm() * number as f64));
            out.push_str(&sheet.replacen("<svg ", &at, 1).replacen("mm\"", "\"", 2));
        }
        out.push_str("</svg>");
        Ok(out)
    }

    /// One sheet as an SVG of its true size.
    pub(crate) fn sheet(&self, number: usize) -> askama::Result<Markup> {
        let (width, height) = self.paper.size();
        Markup::of(&Sheet {
            width: mm(width.mm()),
            height: mm(height.mm()),
            labels: self.grid.corners(number).map(|(x, y)| self.drawn(x.mm(), y.mm())).collect(),
            cuts: self.cuts(number),
            title: format!(
                "{}: labels of {} × {} mm, sheet {} of {}",
                self.of,
                trimmed(self.label.width().mm(), 1),
                trimmed(self.label.height().mm(), 1),
                number + 1,
                self.grid.sheets()
            ),
            title_x: mm(BORDER.mm()),
            title_y: mm(BORDER.mm() - 3.0),
            has_check: number == 0,
            check: self.check_line(),
        })
    }

    fn drawn(&self, x: f64, y: f64) -> Drawn {
        let (x, y) = (BORDER.mm() + x, BORDER.mm() + y);
        let (width, height) = (self.grid.cell.0.mm(), self.grid.cell.1.mm());
        // Where the end comes to lie: the overlap, across the label's width.
        let at = self.label.circumference().mm();
        let (x1, y1, x2, y2) = if self.grid.is_turned {
            (x, y + at, x + width, y + at)
        } else {
            (x + at, y, x + at, y + height)
        };
        Drawn {
            x: mm(x),
            y: mm(y),
            width: mm(width),
            height: mm(height),
            overlap: format!("M{} {}L{} {}", mm(x1), mm(y1), mm(x2), mm(y2)),
        }
    }

    fn cuts(&self, number: usize) -> String {
        let Grid { columns, cell, .. } = *self.grid;
        let on_it = self.grid.on_sheet(number);
        let (used_columns, used_rows) = (on_it.min(columns), on_it.div_ceil(columns));
        let (left, top) = (BORDER.mm(), BORDER.mm());
        let right = left + cell.0.mm() * used_columns as f64;
        let bottom = top + cell.1.mm() * used_rows as f64;
        let mut path = String::new();
        for column in 0..=used_columns {
            let x = mm(left + cell.0.mm() * column as f64);
            let _ = write!(path, "M{x} {}V{}", mm(top), mm(bottom));
        }
        for row in 0..=used_rows {
            let y = mm(top + cell.1.mm() * row as f64);
            let _ = write!(path, "M{} {y}H{}", mm(left), mm(right));
        }
        path
    }

    fn check_line(&self) -> CheckLine {
        let (x, length) = (BORDER.mm(), CHECK_LINE.mm());
        let y = self.paper.size().1.mm() - x;
        let (end, above, below) = (mm(x + length), mm(y - 2.0), mm(y + 2.0));
        CheckLine {
            path: format!("M{0} {above}V{below}M{0} {1}H{end}M{end} {above}V{below}", mm(x), mm(y)),
            length: mm(length),
            text_x: mm(x + length + 3.0),
            text_y: mm(y + 1.0),
        }
    }
}

fn mm(value: f64) -> String {
    trimmed(value, 3)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::Length;

    #[test]
    fn a_sheet_is_its_true_size_and_carries_its_check_line() {
        let mm = Length::from_mm;
        let label = Label {
            tube: mm(10.0),
            tube_length: mm(60.0),
            paper: mm(0.2),
            overlap: mm(2.0),
            trim: mm(1.0),
        };
        let paper = Paper::A4;
        let grid = label.on_sheets(64, paper).unwrap();
        let labels = Labels { label: &label, grid: &grid, paper, of: "Pens & pins" };
        let svg = labels.sheet(0).unwrap().into_string();
        assert!(svg.contains("width=\"210mm\" height=\"297mm\" viewBox=\"0 0 210 297\""));
        assert_eq!(svg.matches("class=\"label\"").count(), grid.on_one());
        assert!(svg.contains("M12 285H62"), "fifty millimetres: {svg}");
        assert!(svg.contains("Pens &#38; pins: labels of 34 × 62 mm, sheet 1 of"), "{svg}");
        // One line parts the labels on its two sides: one more of them than of columns.
        let cuts = svg.split("cut-lines\" d=\"").nth(1).unwrap().split('"').next().unwrap();
        assert_eq!(cuts.matches('V').count(), grid.columns + 1);
        assert_eq!(cuts.matches('H').count(), grid.rows + 1);
        // However many sheets they take, all of them go out.
        assert!(grid.sheets() > 1);
        let all = labels.all_sheets().unwrap();
        assert_eq!(all.matches("class=\"label\"").count(), 64);
        let whole = format!("height=\"{}mm\"", 297 * grid.sheets());
        assert!(all.starts_with("<svg ") && all.contains(&whole), "{all}");
        assert!(all.contains("<svg y=\"297\" "), "{all}");
    }
}

//! Labels on a sheet, 1:1, in millimetres.

use askama::Template;
use fondant_quantities::units::trimmed;
use fondant_shapes::blanks::label::{BORDER, CHECK_LINE, Label, SHEET};
use fondant_shapes::form::nesting::{Nest, Placed};

use crate::svg::Markup;

#[derive(Template)]
#[template(path = "drawings/label_sheet.html")]
struct Sheet {
    width: String,
    height: String,
    labels: Vec<Drawn>,
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

/// All sheets of labels in one drawing of their true size, below each other.
pub(crate) fn all_sheets(label: &Label, nest: &Nest) -> askama::Result<String> {
    let count = nest.sheets.max(1);
    let (width, height) = (SHEET.0.mm(), SHEET.1.mm());
    let whole = height * count as f64;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" viewBox=\"0 0 {0} {1}\">",
        mm(width),
        mm(whole)
    );
    for number in 0..count {
        let sheet = sheet(label, nest, number)?.into_string();
        let top = mm(height * number as f64);
        let at = format!("<svg y=\"{top}\" ");
        out.push_str(&sheet.replacen("<svg ", &at, 1).replacen("mm\"", "\"", 2));
    }
    out.push_str("</svg>");
    Ok(out)
}

/// One sheet of labels as an SVG of its true size.
pub(crate) fn sheet(label: &Label, nest: &Nest, number: usize) -> askama::Result<Markup> {
    let on_it = nest.placed.iter().filter(|placed| placed.sheet == number);
    Markup::of(&Sheet {
        width: mm(SHEET.0.mm()),
        height: mm(SHEET.1.mm()),
        labels: on_it.map(|placed| drawn(label, placed)).collect(),
        check: check_line(),
    })
}

fn mm(value: f64) -> String {
    trimmed(value, 3)
}

fn drawn(label: &Label, placed: &Placed) -> Drawn {
    let border = BORDER.mm();
    let (x, y) = (border + placed.x.mm(), border + placed.y.mm());
    let (width, height) = (placed.length.mm(), placed.width.mm());
    // Where the end comes to lie: the overlap, across the label's width.
    let is_turned = (width - label.width().mm()).abs() > 1e-6;
    let at = label.circumference().mm();
    let (x1, y1, x2, y2) =
        if is_turned { (x, y + at, x + width, y + at) } else { (x + at, y, x + at, y + height) };
    Drawn {
        x: mm(x),
        y: mm(y),
        width: mm(width),
        height: mm(height),
        overlap: format!("M{} {}L{} {}", mm(x1), mm(y1), mm(x2), mm(y2)),
    }
}

fn check_line() -> CheckLine {
    let (x, length) = (BORDER.mm(), CHECK_LINE.mm());
    let y = SHEET.1.mm() - x;
    let (end, above, below) = (mm(x + length), mm(y - 2.0), mm(y + 2.0));
    CheckLine {
        path: format!("M{0} {above}V{below}M{0} {1}H{end}M{end} {above}V{below}", mm(x), mm(y)),
        length: mm(length),
        text_x: mm(x + length + 3.0),
        text_y: mm(y + 1.0),
    }
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
        let svg = sheet(&label, &label.on_sheets(5), 0).unwrap().into_string();
        assert!(svg.contains("width=\"210mm\" height=\"297mm\" viewBox=\"0 0 210 297\""));
        assert_eq!(svg.matches("class=\"label\"").count(), 5);
        assert!(svg.contains("M12 285H62"), "fifty millimetres: {svg}");
        // However many sheets they take, all of them go out.
        let nest = label.on_sheets(64);
        assert!(nest.sheets > 1);
        let all = all_sheets(&label, &nest).unwrap();
        assert_eq!(all.matches("class=\"label\"").count(), 64);
        let whole = format!("height=\"{}mm\"", 297 * nest.sheets);
        assert!(all.starts_with("<svg ") && all.contains(&whole), "{all}");
        assert!(all.contains("<svg y=\"297\" "), "{all}");
    }
}

//! Labels on a sheet, 1:1, in millimetres.

use fondant_quantities::units::trimmed;
use fondant_shapes::blanks::label::{BORDER, CHECK_LINE, Label, SHEET};
use fondant_shapes::form::nesting::Nest;

/// One sheet of labels as an SVG of its true size.
#[must_use]
pub fn sheet(label: &Label, nest: &Nest, number: usize) -> String {
    let mm = |v: f64| trimmed(v, 3);
    let (w, h) = (SHEET.0.mm(), SHEET.1.mm());
    let border = BORDER.mm();
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" class=\"label-sheet\" width=\"{w}mm\" \
         height=\"{h}mm\" viewBox=\"0 0 {w} {h}\" role=\"img\" aria-label=\"Labels at 1:1\">"
    );
    for placed in nest.placed.iter().filter(|p| p.sheet == number) {
        let (x, y) = (border + placed.x.mm(), border + placed.y.mm());
        let (pw, ph) = (placed.length.mm(), placed.width.mm());
        out += &format!(
            "<rect class=\"label\" x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"none\" \
             stroke=\"#000\" stroke-width=\"0.2\"/>",
            mm(x),
            mm(y),
            mm(pw),
            mm(ph)
        );
        // Where the end comes to lie: the overlap, across the label's width.
        let is_turned = (pw - label.width().mm()).abs() > 1e-6;
        let at = label.circumference().mm();
        let (x1, y1, x2, y2) =
            if is_turned { (x, y + at, x + pw, y + at) } else { (x + at, y, x + at, y + ph) };
        out += &format!(
            "<path d=\"M{} {}L{} {}\" stroke=\"#000\" stroke-width=\"0.2\" stroke-dasharray=\"1 1\"/>",
            mm(x1),
            mm(y1),
            mm(x2),
            mm(y2)
        );
    }
    let (x, y, length) = (border, h - border, CHECK_LINE.mm());
    out += &format!(
        "<path class=\"check-line\" d=\"M{} {}V{}M{} {}H{}M{} {}V{}\" fill=\"none\" stroke=\"#000\" \
         stroke-width=\"0.3\"/>",
        mm(x),
        mm(y - 2.0),
        mm(y + 2.0),
        mm(x),
        mm(y),
        mm(x + length),
        mm(x + length),
        mm(y - 2.0),
        mm(y + 2.0)
    );
    out += &format!(
        "<text x=\"{}\" y=\"{}\" font-size=\"3.2\" font-family=\"sans-serif\">{} mm: lay a rule on it; print at 100 %</text></svg>",
        mm(x + length + 3.0),
        mm(y + 1.0),
        mm(length)
    );
    out
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
        let svg = sheet(&label, &label.on_sheets(5), 0);
        assert!(svg.contains("width=\"210mm\" height=\"297mm\" viewBox=\"0 0 210 297\""));
        assert_eq!(svg.matches("class=\"label\"").count(), 5);
        assert!(svg.contains("M12 285H62"), "fifty millimetres: {svg}");
    }
}

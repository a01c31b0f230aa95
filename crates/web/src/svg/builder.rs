//! Writing SVG.

use std::fmt::Write;

use super::markup::Markup;

/// A layer's row of the time axis, where what happened is written down.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Row {
    /// Index of the row, from 0.
    pub(crate) index: usize,
    /// The id of its pour.
    pub(crate) id: i64,
    /// Whether the layer has been poured.
    pub(crate) is_poured: bool,
    /// Nothing can have happened after this second.
    pub(crate) latest: i64,
}

/// An SVG document in the making. Coordinates are rounded to a hundredth.
#[derive(Debug)]
pub(crate) struct Svg {
    out: String,
    /// Where the role stands in it.
    role_at: usize,
}

impl Svg {
    /// A drawing of a size with a description for those who cannot see it.
    #[must_use]
    pub(crate) fn new(class: &str, width: f64, height: f64, description: &str) -> Self {
        let mut svg = Self { out: String::with_capacity(8192), role_at: 0 };
        svg.write(format_args!(
            "<svg class=\"drawing {class}\" viewBox=\"0 0 {} {}\" role=\"",
            short(width),
            short(height)
        ));
        svg.role_at = svg.out.len();
        svg.write(format_args!("\" aria-label=\"{}\">", escaped(description)));
        svg
    }

    fn write(&mut self, text: std::fmt::Arguments<'_>) {
        // Writing to a String cannot fail.
        let _ = self.out.write_fmt(text);
    }

    /// A straight line.
    pub(crate) fn line(&mut self, class: &str, x1: f64, y1: f64, x2: f64, y2: f64) {
        self.write(format_args!(
            "<path class=\"{class}\" d=\"M{} {}L{} {}\"/>",
            short(x1),
            short(y1),
            short(x2),
            short(y2)
        ));
    }

    /// An upright line with figures for a script that moves it.
    pub(crate) fn marked_line(
        &mut self,
        class: &str,
        x: f64,
        top: f64,
        bottom: f64,
        figures: &[(&str, f64)],
    ) {
        self.write(format_args!("<path class=\"{class}\""));
        self.figures(figures);
        let (x, top, bottom) = (short(x), short(top), short(bottom));
        self.write(format_args!(" d=\"M{x} {top}V{bottom}\"/>"));
    }

    /// Something on a curve that can be taken hold of and moved along.
    pub(crate) fn grip(
        &mut self,
        class: &str,
        (x, y, bottom): (f64, f64, f64),
        label: &str,
        figures: &[(&str, f64)],
    ) {
        self.write(format_args!(
            "<g class=\"{class}\" tabindex=\"0\" role=\"slider\" aria-label=\"{}\"",
            escaped(label)
        ));
        self.figures(figures);
        let (x, y, bottom) = (short(x), short(y), short(bottom));
        self.write(format_args!(
            "><path d=\"M{x} {y}V{bottom}\"/><circle cx=\"{x}\" cy=\"{bottom}\" r=\"15\" \
             class=\"grip-reach\"/><circle cx=\"{x}\" cy=\"{bottom}\" r=\"7\"/>\
             <text class=\"bold halo s12\" x=\"{x}\" y=\"{y}\"></text></g>"
        ));
    }

    /// A fault by its number.
    pub(crate) fn fault(&mut self, number: usize, x: f64, y: f64) {
        // A number of two digits fits.
        self.circle("fault-mark", x, y, 11.0);
        self.text("fault-number", x, y + 4.5, &number.to_string());
    }

    /// An unseen plane that tells scripts what it spans: left, right, top and
    /// bottom in the drawing, and from and to in seconds.
    pub(crate) fn plane(
        &mut self,
        class: &str,
        (left, right, top, bottom): (f64, f64, f64, f64),
        seconds: [f64; 2],
    ) {
        self.write(format_args!(
            "<rect class=\"{class}\" x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" data-from=\"{}\" \
             data-to=\"{}\"/>",
            short(left),
            short(top),
            short(right - left),
            short(bottom - top),
            seconds[0],
            seconds[1]
        ));
    }

    /// Where on a layer's row something can be written down, up to a second.
    pub(crate) fn row_reach(&mut self, row: Row, (left, right, top, bottom): (f64, f64, f64, f64)) {
        let Row { index, id, is_poured, latest } = row;
        let poured = if is_poured { " data-poured=\"1\"" } else { "" };
        self.write(format_args!(
            "<rect class=\"row-reach\" data-row=\"{index}\" data-id=\"{id}\"{poured} data-latest=\"{latest}\" x=\"{}\" \
             y=\"{}\" width=\"{}\" height=\"{}\"><title>Write down what happened here</title></rect>",
            short(left),
            short(top),
            short(right - left),
            short(bottom - top)
        ));
    }

    /// A boundary of layers that can be dragged up and down between two levels, mm.
    pub(crate) fn boundary(
        &mut self,
        index: usize,
        (level_mm, least, most): (f64, f64, f64),
        (left, right, y): (f64, f64, f64),
        (label, says): (&str, &str),
    ) {
        self.write(format_args!(
            "<g class=\"layer-grip\" tabindex=\"0\" role=\"slider\" data-index=\"{index}\" \
             data-mm=\"{level_mm:.3}\" aria-valuemin=\"{least:.1}\" aria-valuemax=\"{most:.1}\" \
             aria-valuenow=\"{level_mm:.1}\" aria-valuetext=\"{}\" aria-label=\"{}\"><path d=\"M{} {y:.2}H{}\"/>\
             <circle class=\"grip-reach\" cx=\"{}\" cy=\"{y:.2}\" r=\"15\"/><circle cx=\"{}\" cy=\"{y:.2}\" \
             r=\"6\"/></g>",
            escaped(says),
            escaped(label),
            short(left),
            short(right),
            short(left),
            short(left)
        ));
    }

    /// The edge of a stage towards the main fill, which sets its depth in the field of that name:
    /// its level, that of its other edge, and the depth of all, mm.
    pub(crate) fn stage_edge(
        &mut self,
        name: &str,
        (level_mm, other_mm, depth_mm): (f64, f64, f64),
        (left, right, y): (f64, f64, f64),
        (label, says): (&str, &str),
    ) {
        self.write(format_args!(
            "<g class=\"layer-grip\" tabindex=\"0\" role=\"slider\" data-index=\"{0}\" \
             data-stage=\"{0}\" data-other=\"{other_mm:.3}\" data-mm=\"{level_mm:.3}\" \
             aria-valuemin=\"0.5\" aria-valuemax=\"{depth_mm:.1}\" aria-valuenow=\"{1:.1}\" \
             aria-valuetext=\"{5}\" aria-label=\"{2}\"><path d=\"M{3} {y:.2}H{4}\"/>\
             <circle class=\"grip-reach\" cx=\"{4}\" cy=\"{y:.2}\" r=\"15\"/>\
             <circle cx=\"{4}\" cy=\"{y:.2}\" r=\"6\"/></g>",
            escaped(name),
            (level_mm - other_mm).abs(),
            escaped(label),
            short(left),
            short(right),
            escaped(says)
        ));
    }

    /// A flag; one that can be moved is a slider for keys and screen readers.
    /// `at` is when it stands and between what it can be moved, seconds; it is told in words.
    pub(crate) fn begin_flag(
        &mut self,
        can_move: bool,
        index: usize,
        (at, from, to): (i64, i64, i64),
        (label, says): (&str, &str),
    ) {
        if can_move {
            self.write(format_args!(
                "<g class=\"pour-flag\" tabindex=\"0\" role=\"slider\" data-pour=\"{index}\" \
                 data-at=\"{at}\" aria-valuemin=\"{from}\" aria-valuemax=\"{to}\" \
                 aria-valuenow=\"{at}\" aria-valuetext=\"{}\" aria-label=\"{}\">",
                escaped(says),
                escaped(label)
            ));
        } else {
            self.write(format_args!("<g class=\"pour-flag is-poured\">"));
        }
    }

    /// Ends what [`Svg::begin_flag`] began.
    pub(crate) fn end_flag(&mut self) {
        self.write(format_args!("</g>"));
    }

    fn figures(&mut self, figures: &[(&str, f64)]) {
        for (name, value) in figures {
            self.write(format_args!(" {name}=\"{}\"", short(*value)));
        }
    }

    /// A rectangle.
    pub(crate) fn rect(&mut self, class: &str, x: f64, y: f64, width: f64, height: f64) {
        self.write(format_args!(
            "<rect class=\"{class}\" x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\"/>",
            short(x),
            short(y),
            short(width.max(0.0)),
            short(height.max(0.0))
        ));
    }

    /// A closed shape.
    pub(crate) fn polygon(&mut self, class: &str, points: &[(f64, f64)]) {
        self.path(class, points, true);
    }

    /// A closed line of a drawing, by its place in it.
    pub(crate) fn drawn(&mut self, class: &str, index: usize, points: &[(f64, f64)]) {
        self.write(format_args!("<g data-line=\"{index}\" class=\"{class}\">"));
        self.path("line", points, true);
        self.write(format_args!("</g>"));
    }

    /// An open line through points.
    pub(crate) fn polyline(&mut self, class: &str, points: &[(f64, f64)]) {
        self.path(class, points, false);
    }

    /// Closed shapes in one, so that a shape inside another is a hole in it.
    pub(crate) fn shape(&mut self, class: &str, rings: &[Vec<(f64, f64)>]) {
        self.write(format_args!("<path class=\"{class}\" fill-rule=\"evenodd\" d=\""));
        for ring in rings {
            for (index, (x, y)) in ring.iter().enumerate() {
                let verb = if index == 0 { 'M' } else { 'L' };
                self.write(format_args!("{verb}{} {}", short(*x), short(*y)));
            }
            self.write(format_args!("Z"));
        }
        self.write(format_args!("\"/>"));
    }

    fn path(&mut self, class: &str, points: &[(f64, f64)], closed: bool) {
        self.write(format_args!("<path class=\"{class}\" d=\""));
        for (index, (x, y)) in points.iter().enumerate() {
            let verb = if index == 0 { 'M' } else { 'L' };
            self.write(format_args!("{verb}{} {}", short(*x), short(*y)));
        }
        self.write(format_args!("{}\"/>", if closed { "Z" } else { "" }));
    }

    /// A circle.
    pub(crate) fn circle(&mut self, class: &str, x: f64, y: f64, radius: f64) {
        self.write(format_args!(
            "<circle class=\"{class}\" cx=\"{}\" cy=\"{}\" r=\"{}\"/>",
            short(x),
            short(y),
            short(radius)
        ));
    }

    /// A line of text; `class` may hold `mid` or `end` for its anchor.
    pub(crate) fn text(&mut self, class: &str, x: f64, y: f64, text: &str) {
        self.write(format_args!(
            "<text class=\"{class}\" x=\"{}\" y=\"{}\">{}</text>",
            short(x),
            short(y),
            escaped(text)
        ));
    }

    /// Text that reads upwards.
    pub(crate) fn text_upwards(&mut self, class: &str, x: f64, y: f64, text: &str) {
        self.write(format_args!(
            "<text class=\"{class}\" transform=\"translate({} {}) rotate(-90)\">{}</text>",
            short(x),
            short(y),
            escaped(text)
        ));
    }

    /// Begins a link; [`Svg::end_link`] ends it.
    pub(crate) fn begin_link(&mut self, href: &str, name: &str) {
        self.write(format_args!("<a href=\"{}\" aria-label=\"{}\">", escaped(href), escaped(name)));
    }

    /// Ends a link.
    pub(crate) fn end_link(&mut self) {
        self.out.push_str("</a>");
    }

    /// A dimension along x: a line with ticks at its ends and the figure in a gap.
    pub(crate) fn dimension_x(&mut self, x1: f64, x2: f64, y: f64, figure: &str) {
        let half = 3.6 * figure.chars().count() as f64 + 8.0;
        let middle = 0.5 * (x1 + x2);
        self.line("dim", x1, y - 5.0, x1, y + 5.0);
        self.line("dim", x2, y - 5.0, x2, y + 5.0);
        if x2 - x1 > 2.0 * half {
            self.line("dim", x1, y, middle - half, y);
            self.line("dim", middle + half, y, x2, y);
        }
        self.text("mid s12 bold", middle, y + 4.2, figure);
    }

    /// A dimension along y, with the figure reading upwards.
    pub(crate) fn dimension_y(&mut self, x: f64, y1: f64, y2: f64, figure: &str) {
        let half = 3.6 * figure.chars().count() as f64 + 8.0;
        let middle = 0.5 * (y1 + y2);
        self.line("dim", x - 5.0, y1, x + 5.0, y1);
        self.line("dim", x - 5.0, y2, x + 5.0, y2);
        if y2 - y1 > 2.0 * half {
            self.line("dim", x, y1, x, middle - half);
            self.line("dim", x, middle + half, x, y2);
            self.text_upwards("mid s12 bold", x + 4.2, middle, figure);
        } else {
            // Too short for the figure: it stands beside the line.
            self.line("dim", x, y1, x, y2);
            self.text("end s12 bold", x - 8.0, middle + 4.2, figure);
        }
    }

    /// The finished document.
    #[must_use]
    pub(crate) fn finish(mut self) -> Markup {
        self.out.push_str("</svg>");
        // A picture would hide what can be reached in it from a screen reader.
        let is_reached = self.out.contains("tabindex=") || self.out.contains("<a ");
        self.out.insert_str(self.role_at, if is_reached { "group" } else { "img" });
        Markup::of_svg(self.out)
    }
}

/// A coordinate with at most two decimals.
fn short(value: f64) -> String {
    fondant_quantities::units::trimmed(value, 2)
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn text_is_escaped_and_coordinates_are_short() {
        let mut svg = Svg::new("wide", 100.0, 50.0, "a \"plan\"");
        svg.text("mono", 1.0 / 3.0, 2.0, "<b> & co");
        let text = svg.finish().into_string();
        assert!(text.contains("aria-label=\"a &quot;plan&quot;\""));
        assert!(text.contains("x=\"0.33\" y=\"2\">&lt;b&gt; &amp; co</text>"));
        assert!(text.ends_with("</svg>"));
    }
}

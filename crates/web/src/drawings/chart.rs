//! Line charts with axes, a limit and labels at the lines.

use crate::svg::{Frame, Markup, Svg};
use crate::ui::numbers::with_minus;

/// The two axes of a chart.
#[derive(Debug, Clone)]
pub(crate) struct Axes {
    /// What is shown, for those who cannot see it.
    pub(crate) description: String,
    /// Range of x.
    pub(crate) x: (f64, f64),
    /// Range of y.
    pub(crate) y: (f64, f64),
    /// Written after the last figure of x; hours are divided as a clock is.
    pub(crate) x_unit: &'static str,
    /// Height of the drawing, px.
    pub(crate) height: f64,
}

/// The side of a chart at which a name stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Side {
    /// At the axis.
    Left,
    /// At the far end.
    Right,
}

/// A chart in the making.
#[derive(Debug)]
pub(crate) struct Chart {
    svg: Svg,
    axes: Axes,
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
}

impl Chart {
    /// Axes with their grid.
    #[must_use]
    pub(crate) fn new(frame: Frame, axes: Axes) -> Self {
        let svg = Svg::new(frame.class, frame.width, axes.height, &axes.description);
        let (left, right) = (34.0, frame.width - 14.0);
        let (top, bottom) = (10.0, axes.height - 24.0);
        let mut chart = Self { svg, axes, left, right, top, bottom };
        chart.grid();
        chart
    }

    fn grid(&mut self) {
        let rows = ((self.bottom - self.top) / 38.0).floor().max(2.0);
        let step = round_step((self.axes.y.1 - self.axes.y.0) / rows, &TENS);
        let mut value = (self.axes.y.0 / step).ceil() * step;
        while value <= self.axes.y.1 + 1e-9 {
            let y = self.y(value);
            self.svg.line("gridline", self.left, y, self.right, y);
            self.svg.text("end s12 soft", self.left - 7.0, y + 4.0, &figure(value));
            value += step;
        }
        let columns = ((self.right - self.left) / 62.0).floor().max(2.0);
        let clock = self.axes.x_unit == "h";
        let steps = if clock { &HOURS } else { &TENS };
        let step = round_step((self.axes.x.1 - self.axes.x.0) / columns, steps);
        let mut value = (self.axes.x.0 / step).ceil() * step;
        self.svg.line("axis", self.left, self.bottom, self.right, self.bottom);
        while value <= self.axes.x.1 + 1e-9 {
            let x = self.x(value);
            let last = value + step > self.axes.x.1 + 1e-9;
            let text = if last {
                format!("{}\u{202f}{}", figure(value), self.axes.x_unit)
            } else {
                figure(value)
            };
            let at_edge = last && x > self.right - 14.0;
            let class = if at_edge { "end s12 soft" } else { "mid s12 soft" };
            self.svg.line("axis", x, self.bottom, x, self.bottom + 4.0);
            self.svg.text(
                class,
                if at_edge { self.right + 8.0 } else { x },
                self.bottom + 18.0,
                &text,
            );
            value += step;
        }
    }

    fn x(&self, value: f64) -> f64 {
        let (low, high) = self.axes.x;
        self.left + (value - low) / (high - low) * (self.right - self.left)
    }

    fn y(&self, value: f64) -> f64 {
        let (low, high) = self.axes.y;
        self.bottom - (value.clamp(low, high) - low) / (high - low) * (self.bottom - self.top)
    }

    /// A line through points, thinned to what can be seen.
    pub(crate) fn curve(&mut self, class: &str, points: impl IntoIterator<Item = (f64, f64)>) {
        let mut drawn: Vec<(f64, f64)> = Vec::new();
        for (x, y) in points {
            let next = (self.x(x), self.y(y));
            let far =
                drawn.last().is_none_or(|p| (p.0 - next.0).abs() + (p.1 - next.1).abs() > 1.2);
            if far {
                drawn.push(next);
            }
        }
        self.svg.polyline(class, &drawn);
    }

    /// Single readings.
    pub(crate) fn dots(&mut self, class: &str, points: impl IntoIterator<Item = (f64, f64)>) {
        for (x, y) in points {
            let (cx, cy) = (self.x(x), self.y(y));
            self.svg.circle(class, cx, cy, 1.9);
        }
    }

    /// A dashed line across, with its name at the side where no curve runs.
    pub(crate) fn limit(&mut self, value: f64, name: &str, side: Side) {
        let y = self.y(value);
        self.svg.line("limit", self.left, y, self.right, y);
        match side {
            Side::Left => self.svg.text("s12 hot bold halo", self.left + 6.0, y - 6.0, name),
            Side::Right => self.svg.text("end s12 hot bold halo", self.right, y - 6.0, name),
        }
    }

    /// A ring at a point with its name above, for the hottest moment.
    pub(crate) fn ring(&mut self, x: f64, y: f64, name: &str) {
        let (cx, cy) = (self.x(x), self.y(y));
        self.svg.circle("hot-ring", cx, cy, 5.0);
        let left = cx > 0.5 * (self.left + self.right);
        let (class, at) =
            if left { ("end bold halo", cx - 10.0) } else { ("bold halo", cx + 10.0) };
        self.svg.text(class, at, (cy - 7.0).max(self.top + 12.0), name);
    }

    /// A mark on the x axis with a line up to a value.
    pub(crate) fn mark(&mut self, class: &str, x: f64, y: f64) {
        let at = self.x(x);
        let top = self.y(y);
        self.svg.line(class, at, self.bottom, at, top);
    }

    /// A line at a moment, which a script moves: its range stands with it.
    pub(crate) fn cursor(&mut self) {
        let attributes =
            [("data-left", self.left), ("data-right", self.right), ("data-hours", self.axes.x.1)];
        self.svg.marked_line("moment", self.left, self.top, self.bottom, &attributes);
    }

    /// A grip on the curve at a place, which a script moves along the x axis.
    pub(crate) fn grip(&mut self, x: f64, y: f64, label: &str) {
        let (at, top) = (self.x(x), self.y(y));
        let attributes = [
            ("data-left", self.left),
            ("data-right", self.right),
            ("data-top", self.top),
            ("data-bottom", self.bottom),
            ("data-low", self.axes.y.0),
            ("data-high", self.axes.y.1),
            ("data-most", self.axes.x.1),
            ("data-depth", x),
        ];
        self.svg.grip("grip", (at, top, self.bottom), label, &attributes);
    }

    /// The finished drawing.
    #[must_use]
    pub(crate) fn finish(self) -> Markup {
        self.svg.finish()
    }
}

/// Steps of a decimal scale and of a clock.
const TENS: [f64; 9] = [0.1, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 25.0, 50.0];
const HOURS: [f64; 9] = [1.0, 2.0, 4.0, 6.0, 12.0, 24.0, 48.0, 96.0, 168.0];

/// The smallest of the steps that is no smaller than `rough`, or the largest.
fn round_step(rough: f64, steps: &[f64; 9]) -> f64 {
    steps.iter().copied().find(|step| *step >= rough * (1.0 - 1e-9)).unwrap_or(steps[8])
}

fn figure(value: f64) -> String {
    with_minus(&fondant_quantities::units::trimmed(value, 1))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn steps_are_round_on_their_scale() {
        for (rough, expected) in [(0.7, 1.0), (3.1, 5.0), (11.0, 20.0), (500.0, 50.0)] {
            assert!((round_step(rough, &TENS) - expected).abs() < 1e-9, "{rough}");
        }
        for (rough, expected) in [(3.1, 4.0), (11.0, 12.0), (13.0, 24.0)] {
            assert!((round_step(rough, &HOURS) - expected).abs() < 1e-9, "{rough}");
        }
    }

    #[test]
    fn a_curve_is_thinned_and_held_inside_the_axes() {
        let axes = Axes {
            description: "test".into(),
            x: (0.0, 10.0),
            y: (0.0, 100.0),
            x_unit: "h",
            height: 200.0,
        };
        let mut chart = Chart::new(crate::svg::HALF, axes);
        chart.curve("curve-hot", (0..=10_000).map(|i| (f64::from(i) / 1e3, 500.0)));
        let svg = chart.finish().into_string();
        let path = svg.split("curve-hot").nth(1).unwrap().split("\"/>").next().unwrap();
        let points = path.matches('L').count();
        assert!(points > 100 && points < 400, "{points} points");
        assert!(path.contains(" 10L"), "held at the top: {path}");
    }
}

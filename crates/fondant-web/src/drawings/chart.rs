//! Line charts with axes, a limit and labels at the lines.

use super::{Frame, Svg};

/// The two axes of a chart.
#[derive(Debug, Clone)]
pub struct Axes {
    /// What is shown, for those who cannot see it.
    pub description: String,
    /// Range of x.
    pub x: (f64, f64),
    /// Range of y.
    pub y: (f64, f64),
    /// Written after the last figure of x.
    pub x_unit: &'static str,
    /// Height of the drawing, px.
    pub height: f64,
}

/// A chart in the making.
#[derive(Debug)]
pub struct Chart {
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
    pub fn new(frame: Frame, axes: Axes) -> Self {
        let svg = Svg::new(frame.class, frame.width, axes.height, &axes.description);
        let (left, right) = (34.0, frame.width - 14.0);
        let (top, bottom) = (10.0, axes.height - 24.0);
        let mut chart = Self { svg, axes, left, right, top, bottom };
        chart.grid();
        chart
    }

    fn grid(&mut self) {
        let rows = ((self.bottom - self.top) / 38.0).floor().max(2.0);
        let step = round_step((self.axes.y.1 - self.axes.y.0) / rows);
        let mut value = (self.axes.y.0 / step).ceil() * step;
        while value <= self.axes.y.1 + 1e-9 {
            let y = self.y(value);
            self.svg.line("grid", self.left, y, self.right, y);
            self.svg.text("end s12 soft", self.left - 7.0, y + 4.0, &figure(value));
            value += step;
        }
        let columns = ((self.right - self.left) / 62.0).floor().max(2.0);
        let step = round_step((self.axes.x.1 - self.axes.x.0) / columns);
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
            self.svg.text(class, if at_edge { self.right + 8.0 } else { x }, self.bottom + 18.0, &text);
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
    pub fn curve(&mut self, class: &str, points: impl IntoIterator<Item = (f64, f64)>) {
        let mut drawn: Vec<(f64, f64)> = Vec::new();
        for (x, y) in points {
            let next = (self.x(x), self.y(y));
            let far = drawn.last().is_none_or(|p| (p.0 - next.0).abs() + (p.1 - next.1).abs() > 1.2);
            if far {
                drawn.push(next);
            }
        }
        self.svg.polyline(class, &drawn);
    }

    /// A dashed line across, with its name.
    pub fn limit(&mut self, value: f64, name: &str) {
        let y = self.y(value);
        self.svg.line("limit", self.left, y, self.right, y);
        self.svg.text("end s12 hot bold halo", self.right, y - 6.0, name);
    }

    /// A name beside a line.
    pub fn name(&mut self, class: &str, x: f64, y: f64, name: &str) {
        let at = self.x(x);
        let (class, at) = if at > self.right - 90.0 {
            (format!("end s12 halo {class}"), at - 6.0)
        } else {
            (format!("s12 halo {class}"), at + 6.0)
        };
        self.svg.text(&class, at, self.y(y) - 5.0, name);
    }

    /// A ring at a point with its name above, for the hottest moment.
    pub fn ring(&mut self, x: f64, y: f64, name: &str) {
        let (cx, cy) = (self.x(x), self.y(y));
        self.svg.circle("ring", cx, cy, 5.0);
        let left = cx > 0.5 * (self.left + self.right);
        let (class, at) = if left { ("end bold halo", cx - 10.0) } else { ("bold halo", cx + 10.0) };
        self.svg.text(class, at, (cy - 7.0).max(self.top + 12.0), name);
    }

    /// A mark on the x axis with a line up to a value.
    pub fn mark(&mut self, class: &str, x: f64, y: f64) {
        let at = self.x(x);
        let top = self.y(y);
        self.svg.line(class, at, self.bottom, at, top);
    }

    /// The finished drawing.
    #[must_use]
    pub fn finish(self) -> String {
        self.svg.finish()
    }
}

/// The next of 1, 2, 5, 10, 20… and for hours 6, 12, 24 that is no smaller.
fn round_step(rough: f64) -> f64 {
    let rough = rough.max(1e-9);
    if (3.0..=48.0).contains(&rough) {
        for step in [4.0, 5.0, 6.0, 10.0, 12.0, 20.0, 24.0, 48.0] {
            if step >= rough {
                return step;
            }
        }
    }
    let magnitude = 10f64.powf(rough.log10().floor());
    [1.0, 2.0, 5.0, 10.0]
        .into_iter()
        .map(|m| m * magnitude)
        .find(|step| *step >= rough * (1.0 - 1e-9))
        .unwrap_or(10.0 * magnitude)
}

fn figure(value: f64) -> String {
    fondant_core::quantities::units::trimmed(value, 1)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn steps_are_round() {
        for (rough, expected) in [(0.7, 1.0), (1.3, 2.0), (3.1, 4.0), (11.0, 12.0), (60.0, 100.0)] {
            assert!((round_step(rough) - expected).abs() < 1e-9, "{rough}");
        }
    }
}

//! The cast cut across, to scale: form, boards, base layer and layers of resin.

use fondant_core::layers::Layer;
use fondant_core::quantities::Length;
use fondant_core::timber::{River, Station};
use fondant_core::volume::Fill;

use super::{Frame, Svg};
use crate::views::format::Shown;

/// What is cut.
#[derive(Debug)]
pub struct Section<'a> {
    /// The river in its form.
    pub river: &'a River,
    /// Levels of the resin.
    pub fill: &'a Fill,
    /// Thickness of the near and the far board.
    pub boards: [Length; 2],
    /// Where it is cut.
    pub station: &'a Station,
    /// The layers, where they are known.
    pub layers: &'a [Layer],
    /// Units.
    pub shown: Shown,
}

/// How much of the section is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Extent {
    /// Wall to wall, with the inside width.
    Whole,
    /// Wall to wall without figures, for the strip.
    Mini,
    /// The river and the edges of its boards, enlarged, with levels.
    River,
}

/// Draws the section.
#[must_use]
pub fn draw(section: &Section<'_>, extent: Extent, frame: Frame) -> String {
    let near = section.river.near_edge(section.station);
    let far = near + section.station.width;
    let form = section.river.form_width();
    let (from, to) = match extent {
        Extent::Whole | Extent::Mini => (Length::ZERO, form),
        Extent::River => {
            let margin = (section.station.width * 0.35).max(Length::from_mm(40.0));
            ((near - margin).max(Length::ZERO), (far + margin).min(form))
        }
    };
    let margins = match extent {
        Extent::Mini => Margins { left: 6.0, right: 6.0, top: 6.0, bottom: 6.0 },
        Extent::Whole => Margins { left: 78.0, right: 14.0, top: 8.0, bottom: 8.0 },
        Extent::River if frame.is_narrow() => {
            Margins { left: 10.0, right: 74.0, top: 34.0, bottom: 12.0 }
        }
        Extent::River => Margins { left: 48.0, right: 150.0, top: 34.0, bottom: 14.0 },
    };
    let scale = (frame.width - margins.left - margins.right) / (to - from).mm();
    let deep = section.fill.depth();
    let freeboard = if extent == Extent::Mini { 4.0 } else { 8.0_f64.max(3.0 * scale) };
    let height = deep.mm() * scale + freeboard;
    let canvas = Canvas {
        x: margins.left,
        floor: margins.top + height,
        scale,
        from,
        to,
        wall_top: margins.top,
    };
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        margins.top + height + margins.bottom,
        "Section through form, boards and resin, to scale",
    );
    resin(&mut svg, section, &canvas, near, far);
    for (index, (a, b)) in [(Length::ZERO, near), (far, form)].into_iter().enumerate() {
        board(&mut svg, section, &canvas, (a, b), section.boards[index]);
    }
    walls(&mut svg, &canvas, form, extent);
    match extent {
        Extent::Mini => {}
        Extent::Whole => {
            svg.dimension_y(
                margins.left - 12.0,
                canvas.y(deep),
                canvas.floor,
                &section.shown.length(deep),
            );
        }
        Extent::River => {
            let width = section.shown.length(section.station.width);
            svg.dimension_x(canvas.x(near), canvas.x(far), margins.top - 16.0, &width);
            levels(&mut svg, section, &canvas, frame);
        }
    }
    svg.finish()
}

struct Margins {
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
}

struct Canvas {
    x: f64,
    floor: f64,
    scale: f64,
    from: Length,
    to: Length,
    wall_top: f64,
}

impl Canvas {
    fn x(&self, across: Length) -> f64 {
        self.x + (across.max(self.from).min(self.to) - self.from).mm() * self.scale
    }
    fn y(&self, level: Length) -> f64 {
        self.floor - level.mm() * self.scale
    }
}

fn resin(svg: &mut Svg, section: &Section<'_>, canvas: &Canvas, near: Length, far: Length) {
    let fill = section.fill;
    let (left, right) = (canvas.x(canvas.from), canvas.x(canvas.to));
    let top_of_thicker = fill.base + fill.thicker;
    svg.rect("resin2", left, canvas.y(fill.base), right - left, canvas.floor - canvas.y(fill.base));
    // Beside and over the boards; they are drawn on top of it.
    svg.rect(
        "resin",
        left,
        canvas.y(top_of_thicker),
        right - left,
        canvas.y(fill.base) - canvas.y(top_of_thicker),
    );
    let (x1, x2) = (canvas.x(near), canvas.x(far));
    svg.rect(
        "resin",
        x1,
        canvas.y(fill.depth()),
        x2 - x1,
        canvas.y(top_of_thicker) - canvas.y(fill.depth()),
    );
    for (index, layer) in section.layers.iter().enumerate() {
        if index % 2 == 1 {
            let (y1, y2) = (canvas.y(layer.to), canvas.y(layer.from));
            svg.rect("resin2", x1, y1, x2 - x1, y2 - y1);
        }
    }
}

fn board(
    svg: &mut Svg,
    section: &Section<'_>,
    canvas: &Canvas,
    (from, to): (Length, Length),
    thickness: Length,
) {
    let (x1, x2) = (canvas.x(from), canvas.x(to));
    if x2 - x1 < 0.5 {
        return;
    }
    let (bottom, top) = (section.fill.base, section.fill.base + thickness);
    let (y1, y2) = (canvas.y(top), canvas.y(bottom));
    svg.rect("timber", x1, y1, x2 - x1, y2 - y1);
    // End grain: shallow arcs of the rings.
    let lines = (((y2 - y1) / 7.0).floor() as usize).clamp(1, 9);
    for line in 1..=lines {
        let y = y1 + (y2 - y1) * line as f64 / (lines as f64 + 1.0);
        let bow = ((y2 - y1) / 7.0).min(4.0);
        let points: Vec<_> = (0..=12)
            .map(|step| {
                let s = f64::from(step) / 12.0;
                (x1 + (x2 - x1) * s, y - bow * (std::f64::consts::PI * s).sin())
            })
            .collect();
        svg.polyline("grain", &points);
    }
    svg.polygon("edge", &[(x1, y1), (x2, y1), (x2, y2), (x1, y2)]);
}

fn walls(svg: &mut Svg, canvas: &Canvas, form: Length, extent: Extent) {
    let (left, right) = (canvas.x(canvas.from), canvas.x(canvas.to));
    let floor = canvas.floor + 1.5;
    let mut points = Vec::new();
    if canvas.from <= Length::ZERO {
        points.push((left - 1.5, canvas.wall_top));
    }
    points.push((left - 1.5, floor));
    points.push((right + 1.5, floor));
    if canvas.to >= form {
        points.push((right + 1.5, canvas.wall_top));
    }
    svg.polyline("wall", &points);
    // A board that goes on beyond the picture ends in a break line.
    if extent == Extent::River {
        for (cut, x) in [(canvas.from > Length::ZERO, left), (canvas.to < form, right)] {
            if cut {
                let ys = [0.0, 0.4, 0.47, 0.53, 0.6, 1.0];
                let offsets = [0.0, 0.0, -4.0, 4.0, 0.0, 0.0];
                let points: Vec<_> = ys
                    .iter()
                    .zip(offsets)
                    .map(|(s, dx)| (x + dx, canvas.wall_top + (floor - canvas.wall_top) * s))
                    .collect();
                svg.polyline("dim", &points);
            }
        }
    }
}

/// Leaders at the right to each level of the resin.
fn levels(svg: &mut Svg, section: &Section<'_>, canvas: &Canvas, frame: Frame) {
    let right = canvas.x(canvas.to) + 8.0;
    let mut lowest_free = f64::INFINITY;
    let name = |index: usize, layer: &Layer| {
        let depth = section.shown.length(layer.depth());
        let base = layer.kind == fondant_core::layers::LayerKind::Base;
        match (base, frame.is_narrow()) {
            (_, true) => depth,
            (true, _) => format!("base, {depth}"),
            (false, _) => {
                let first_main = usize::from(section.fill.base > Length::ZERO);
                format!("layer {}, {depth}", index + 1 - first_main)
            }
        }
    };
    for (index, layer) in section.layers.iter().enumerate() {
        let y = 0.5 * (canvas.y(layer.from) + canvas.y(layer.to));
        let text_y = y.min(lowest_free);
        lowest_free = text_y - 16.0;
        svg.polyline("dim", &[(right - 6.0, y), (right + 6.0, text_y), (right + 14.0, text_y)]);
        svg.text("s12", right + 18.0, text_y + 4.0, &name(index, layer));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::drawings::{NARROW, WIDE};
    use crate::sample::{METRIC, attribute, evaluated, plan};

    fn drawn(extent: Extent, frame: Frame) -> String {
        let plan = plan();
        let evaluation = evaluated(&plan);
        let schedule = evaluation.pours.as_ref().unwrap();
        let layers: Vec<Layer> = schedule.pours.iter().map(|pour| pour.layer).collect();
        let section = Section {
            river: &evaluation.river,
            fill: &evaluation.fill,
            boards: [plan.timber.near.thickness, plan.timber.far.thickness],
            station: &evaluation.river.stations()[1],
            layers: &layers,
            shown: METRIC,
        };
        draw(&section, extent, frame)
    }

    #[test]
    fn boards_are_drawn_to_scale() {
        for extent in [Extent::Whole, Extent::Mini] {
            let svg = drawn(extent, WIDE);
            // The near board is 100 mm wide at this station and 40 mm thick.
            let ratio = attribute(&svg, "timber", "width") / attribute(&svg, "timber", "height");
            assert!((ratio - 2.5).abs() < 0.02, "{extent:?}: {ratio}");
        }
    }

    #[test]
    fn the_enlarged_river_names_its_layers_from_the_base_up() {
        let svg = drawn(Extent::River, WIDE);
        assert!(svg.contains("300\u{202f}mm"), "the width of the river");
        assert!(svg.contains("base, 2\u{202f}mm"));
        assert!(svg.contains("layer 1, 42\u{202f}mm") || svg.contains("layer 1, 21\u{202f}mm"));
        let phone = drawn(Extent::River, NARROW);
        assert!(!phone.contains("base, "), "a phone has room for depths alone");
    }

    #[test]
    fn the_small_one_has_no_text() {
        assert!(!drawn(Extent::Mini, WIDE).contains("<text"));
    }
}

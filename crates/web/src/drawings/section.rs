//! The cast cut across, to scale: bed, boards, inserts, cavities and layers.

use fondant_pours::layers::Layer;
use fondant_quantities::Length;
use fondant_shapes::volume::Fill;
use fondant_shapes::volume::layout::{Bed, CutThing, Layout, What};

use crate::svg::{Frame, Markup, Svg};
use crate::ui::units::Shown;
use crate::words::layers;

/// Data of the drawing of a section.
#[derive(Debug)]
pub(crate) struct Section<'a> {
    /// Boards, objects and hollows with their places.
    pub(crate) layout: &'a Layout,
    /// Levels of the resin.
    pub(crate) fill: &'a Fill,
    /// Where it is cut, from the left end.
    pub(crate) at: Length,
    /// The layers, where they are known.
    pub(crate) layers: &'a [Layer],
    /// Faults by their numbers: from the near wall, and above the floor.
    pub(crate) marks: &'a [(usize, Length, Length)],
    /// Units.
    pub(crate) shown: Shown,
}

/// How much of the section is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Extent {
    /// Side to side, with the depth of the resin.
    Whole,
    /// Side to side without figures, for the strip.
    Mini,
    /// The widest gap and the edges beside it, enlarged, with levels.
    Gap,
}

/// Tallest section, px.
const TALLEST_PX: f64 = 300.0;
/// Tallest section in the strip, px.
const TALLEST_MINI_PX: f64 = 58.0;

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

impl Extent {
    /// What is shown of a section with a widest gap.
    fn across(self, (from, to): (Length, Length), width: Length) -> (Length, Length) {
        match self {
            Self::Whole | Self::Mini => (Length::ZERO, width),
            Self::Gap => {
                let margin = ((to - from) * 0.35).max(Length::from_mm(40.0));
                ((from - margin).max(Length::ZERO), (to + margin).min(width))
            }
        }
    }

    fn margins(self, frame: Frame) -> Margins {
        let (left, right, top, bottom) = match self {
            Self::Mini => (6.0, 6.0, 6.0, 6.0),
            Self::Whole => (78.0, 14.0, 8.0, 8.0),
            Self::Gap if frame.is_narrow() => (10.0, 74.0, 34.0, 12.0),
            Self::Gap => (48.0, 150.0, 34.0, 14.0),
        };
        Margins { left, right, top, bottom }
    }
}

/// Draws the section.
#[must_use]
pub(crate) fn draw(section: &Section<'_>, extent: Extent, frame: Frame) -> Markup {
    let layout = section.layout;
    let cut = layout.cut_at(section.at);
    let gap = widest_gap(&cut, layout.width);
    let (gap_from, gap_to) = gap;
    let (from, to) = extent.across(gap, layout.width);
    let margins = extent.margins(frame);
    let top = section.top();
    let tallest = if extent == Extent::Mini { TALLEST_MINI_PX } else { TALLEST_PX };
    let room = frame.width - margins.left - margins.right;
    let scale = (room / (to - from).mm()).min(tallest / top.mm());
    let freeboard = if extent == Extent::Mini { 4.0 } else { 8.0_f64.max(3.0 * scale) };
    let height = top.mm() * scale + freeboard;
    // What is narrow and tall stands in the middle of its frame.
    let spare = if extent == Extent::Gap { 0.0 } else { 0.5 * (room - (to - from).mm() * scale) };
    let canvas = Canvas {
        x: margins.left + spare,
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
        "Section through the cast, to scale",
    );
    bed(&mut svg, section, &canvas, &cut);
    for thing in &cut {
        solid(&mut svg, thing, &canvas);
    }
    if layout.bed == Bed::Form {
        walls(&mut svg, &canvas, layout.width, extent);
    }
    let depth = section.fill.depth();
    match extent {
        Extent::Mini => {}
        Extent::Whole => {
            let span = (canvas.x(from), canvas.x(to), canvas.y(top), canvas.y(Length::ZERO));
            svg.plane("section-plane", span, [0.0, top.mm()]);
            let foot = section.foot();
            svg.dimension_y(
                canvas.x - 12.0,
                canvas.y(foot + depth),
                canvas.y(foot),
                &section.shown.length(depth),
            );
        }
        Extent::Gap => {
            let width = section.shown.length(gap_to - gap_from);
            svg.dimension_x(canvas.x(gap_from), canvas.x(gap_to), margins.top - 16.0, &width);
            levels(&mut svg, section, &canvas, frame);
        }
    }
    marked(&mut svg, section, &canvas);
    svg.finish()
}

fn marked(svg: &mut Svg, section: &Section<'_>, canvas: &Canvas) {
    for (number, across, above) in section.marks {
        svg.fault(*number, canvas.x(*across), canvas.y(*above));
    }
}

impl Section<'_> {
    /// Level of the highest thing that is drawn.
    fn top(&self) -> Length {
        match self.layout.bed {
            Bed::Form => self.fill.depth(),
            Bed::Board => self.layout.height + self.overfill(),
            Bed::Mould => self.layout.height,
            Bed::Face => self.layout.height + self.fill.depth(),
        }
    }

    /// Level at which the resin is deepest.
    fn foot(&self) -> Length {
        match self.layout.bed {
            Bed::Form => Length::ZERO,
            Bed::Face => self.layout.height,
            Bed::Board => {
                (self.layout.height + self.overfill() - self.fill.depth()).max(Length::ZERO)
            }
            Bed::Mould => (self.layout.height - self.fill.depth()).max(Length::ZERO),
        }
    }

    /// Resin proud of the things that it stands between.
    fn overfill(&self) -> Length {
        let deepest = self
            .layout
            .laid
            .iter()
            .filter(|laid| matches!(laid.what, What::Hollow(_)))
            .map(|laid| laid.to - laid.from)
            .fold(Length::ZERO, Length::max);
        (self.fill.depth() - deepest).max(Length::ZERO)
    }
}

/// The widest stretch without timber; the whole width where there is none.
fn widest_gap(cut: &[CutThing], width: Length) -> (Length, Length) {
    let mut taken: Vec<(Length, Length)> = cut
        .iter()
        .filter(|thing| matches!(thing.what, What::Board(_)))
        .map(|thing| {
            let across = thing.corners.map(|c| c.0);
            let low = across.into_iter().fold(width, Length::min);
            (low, across.into_iter().fold(Length::ZERO, Length::max))
        })
        .collect();
    taken.sort_by(|a, b| a.0.m().total_cmp(&b.0.m()));
    let mut best = (Length::ZERO, Length::ZERO);
    let mut from = Length::ZERO;
    for (low, high) in taken.into_iter().chain([(width, width)]) {
        if low - from > best.1 - best.0 {
            best = (from, low);
        }
        from = from.max(high);
    }
    if best.1 > best.0 { best } else { (Length::ZERO, width) }
}

/// What everything lies in, and the resin around it.
fn bed(svg: &mut Svg, section: &Section<'_>, canvas: &Canvas, cut: &[CutThing]) {
    let (left, right) = (canvas.x(canvas.from), canvas.x(canvas.to));
    let layout = section.layout;
    let rect = |svg: &mut Svg, class: &str, low: Length, high: Length| {
        svg.rect(class, left, canvas.y(high), right - left, canvas.y(low) - canvas.y(high));
    };
    match layout.bed {
        Bed::Form => form(svg, section, canvas, cut),
        Bed::Board => rect(svg, "timber", Length::ZERO, layout.height),
        Bed::Mould => rect(svg, "mould", Length::ZERO, layout.height),
        Bed::Face => {
            rect(svg, "timber", Length::ZERO, layout.height);
            let top = layout.height + section.fill.depth();
            rect(svg, "resin2", layout.height, top);
        }
    }
    if layout.bed == Bed::Board {
        let proud = section.overfill();
        for thing in cut {
            let [_, _, (b, top), (a, _)] = thing.corners;
            let (x1, x2) = (canvas.x(a), canvas.x(b));
            svg.rect(
                "resin",
                x1,
                canvas.y(top + proud),
                x2 - x1,
                canvas.y(top) - canvas.y(top + proud),
            );
        }
    }
}

fn form(svg: &mut Svg, section: &Section<'_>, canvas: &Canvas, cut: &[CutThing]) {
    let (left, right) = (canvas.x(canvas.from), canvas.x(canvas.to));
    let fill = section.fill;
    // Boards stand up to here; what is above is overfill, beside them alone.
    let boards = cut.iter().filter(|thing| matches!(thing.what, What::Board(_)));
    let top = boards.map(|b| b.corners[2].1).fold(Length::ZERO, Length::max);
    let top = if top > Length::ZERO { top } else { fill.depth() };
    let across = |svg: &mut Svg, class: &str, low: Length, high: Length| {
        svg.rect(class, left, canvas.y(high), right - left, canvas.y(low) - canvas.y(high));
    };
    across(svg, "resin2", Length::ZERO, fill.base());
    across(svg, "resin", fill.base(), top);
    let mut from = canvas.from;
    let mut uppers: Vec<(Length, Length)> = cut
        .iter()
        .filter(|thing| matches!(thing.what, What::Board(_)))
        .map(|thing| (thing.corners[3].0, thing.corners[2].0))
        .collect();
    uppers.sort_by(|a, b| a.0.m().total_cmp(&b.0.m()));
    for (a, b) in uppers.into_iter().chain([(canvas.to, canvas.to)]) {
        let (x1, x2) = (canvas.x(from), canvas.x(a));
        if x2 - x1 > 0.3 && fill.depth() > top {
            svg.rect(
                "resin",
                x1,
                canvas.y(fill.depth()),
                x2 - x1,
                canvas.y(top) - canvas.y(fill.depth()),
            );
        }
        from = from.max(b);
    }
    for (index, layer) in section.layers.iter().enumerate() {
        if index % 2 == 1 {
            across(svg, "resin2", layer.from, layer.to.min(top));
        }
    }
}

fn solid(svg: &mut Svg, thing: &CutThing, canvas: &Canvas) {
    let points: Vec<_> = thing.corners.iter().map(|(x, z)| (canvas.x(*x), canvas.y(*z))).collect();
    let (x1, x2) = points.iter().fold((f64::MAX, f64::MIN), |(a, b), p| (a.min(p.0), b.max(p.0)));
    if x2 - x1 < 0.5 {
        return;
    }
    let class = match thing.what {
        What::Board(_) => "timber",
        What::Insert(_) => "insert",
        What::Hollow(_) => "resin",
    };
    svg.polygon(class, &points);
    if let What::Board(_) = thing.what {
        end_grain(svg, &points);
    }
    svg.polygon("edge", &points);
}

/// End grain: shallow arcs of the rings between the sides.
fn end_grain(svg: &mut Svg, corners: &[(f64, f64)]) {
    let (bottom, top) = (corners[0].1, corners[2].1);
    let lines = (((bottom - top) / 7.0).floor() as usize).clamp(1, 9);
    for line in 1..=lines {
        let share = line as f64 / (lines as f64 + 1.0);
        let between = |a: f64, b: f64| a + (b - a) * share;
        let (x1, x2) = (between(corners[3].0, corners[0].0), between(corners[2].0, corners[1].0));
        let y = between(top, bottom);
        let bow = ((bottom - top) / 7.0).min(4.0);
        let points: Vec<_> = (0..=12)
            .map(|step| {
                let s = f64::from(step) / 12.0;
                (x1 + (x2 - x1) * s, y - bow * (std::f64::consts::PI * s).sin())
            })
            .collect();
        svg.polyline("grain", &points);
    }
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
    if extent == Extent::Gap {
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
    let foot = section.foot();
    let mut lowest_free = f64::INFINITY;
    let name = |layer: &Layer| {
        let depth = section.shown.length(layer.depth());
        if frame.is_narrow() {
            return depth;
        }
        let name = layers::name(layer.kind);
        format!("{}, {depth}", name.trim_start_matches("the "))
    };
    for layer in section.layers {
        let y = 0.5 * (canvas.y(foot + layer.from) + canvas.y(foot + layer.to));
        let text_y = y.min(lowest_free);
        lowest_free = text_y - 16.0;
        svg.polyline("dim", &[(right - 6.0, y), (right + 6.0, text_y), (right + 14.0, text_y)]);
        svg.text("s12", right + 18.0, text_y + 4.0, &name(layer));
    }
}

#[cfg(test)]
mod tests;

//! The cast from above, to scale: what it lies in, what lies in it, stations
//! with their widths, where to hold boards down and where to saw them.

use fondant_quantities::Length;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::River;
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What};

use crate::svg::{Frame, Markup, Svg};
use crate::ui::units::Shown;

/// What is drawn from above.
#[derive(Debug)]
pub(crate) struct PlanView<'a> {
    /// Boards, objects and hollows with their places.
    pub(crate) layout: &'a Layout,
    /// The river, where it is known by stations.
    pub(crate) river: Option<&'a River>,
    /// What is written on each board.
    pub(crate) boards: Vec<String>,
    /// The station whose section is shown.
    pub(crate) here: usize,
    /// Where a click on a station leads, without its number.
    pub(crate) link: &'a str,
    /// Where boards are held down.
    pub(crate) places: Vec<Point>,
    /// Where boards are sawn off at the wall.
    pub(crate) trims: Vec<Point>,
    /// Units.
    pub(crate) shown: Shown,
}

/// Distance between lines of grain, px.
const GRAIN_PX: f64 = 13.0;
/// Tallest drawing, px; longer than wide ones are limited by width.
const TALLEST_PX: f64 = 400.0;

/// From the bench to the drawing.
struct Canvas {
    left: f64,
    top: f64,
    scale: f64,
}

impl Canvas {
    fn at(&self, p: Point) -> (f64, f64) {
        (self.left + p.x_m * 1e3 * self.scale, self.top + p.y_m * 1e3 * self.scale)
    }
}

/// Draws the cast from above.
#[must_use]
pub(crate) fn draw(view: &PlanView<'_>, frame: Frame) -> Markup {
    let layout = view.layout;
    let (length, width) = (layout.length, layout.width);
    let (left, top, right) = if frame.is_narrow() { (28.0, 30.0, 8.0) } else { (44.0, 34.0, 14.0) };
    let scale = ((frame.width - left - right) / length.mm()).min(TALLEST_PX / width.mm());
    let (w, h) = (length.mm() * scale, width.mm() * scale);
    let canvas = Canvas { left, top, scale };
    let mut svg =
        Svg::new(frame.class, frame.width, top + h + 12.0, "The cast from above, to scale");
    match layout.bed {
        Bed::Form => svg.rect("resin", left, top, w, h),
        Bed::Board | Bed::Face => {
            svg.rect("timber", left, top, w, h);
            let whole = Outline::rectangle(length, width);
            grain(&mut svg, &whole, &canvas);
        }
        Bed::Mould => svg.rect("mould", left, top, w, h),
    }
    if layout.bed == Bed::Face {
        svg.rect("coat", left, top, w, h);
    }
    for laid in &layout.laid {
        thing(&mut svg, laid, &canvas);
    }
    match layout.bed {
        Bed::Form => svg.rect("wall", left - 4.5, top - 4.5, w + 9.0, h + 9.0),
        _ => svg.rect("rim", left, top, w, h),
    }
    marks(&mut svg, view, &canvas);
    stations(&mut svg, view, &canvas);
    svg.dimension_x(left, left + w, top - 18.0, &view.shown.length(length));
    svg.dimension_y(left - 18.0, top, top + h, &view.shown.length(width));
    if !frame.is_narrow() {
        names(&mut svg, view, &canvas, (top, h));
    }
    svg.finish()
}

fn rings(outline: &Outline, canvas: &Canvas) -> Vec<Vec<(f64, f64)>> {
    outline.rings().map(|r| r.iter().map(|p| canvas.at(*p)).collect()).collect()
}

fn thing(svg: &mut Svg, laid: &Laid, canvas: &Canvas) {
    let class = match laid.what {
        What::Board(_) => "timber",
        What::Insert(_) => "insert",
        What::Hollow(_) => "resin",
    };
    svg.shape(class, &rings(&laid.shape.upper, canvas));
    if matches!(laid.what, What::Board(_)) {
        grain(svg, &laid.shape.upper, canvas);
        if !laid.shape.is_prism() {
            svg.shape("underside", &rings(&laid.shape.lower, canvas));
        }
    }
    svg.shape("edge", &rings(&laid.shape.upper, canvas));
}

/// Lines of grain along the longer side of a piece of timber, with a waver
/// that the eye reads as grown.
fn grain(svg: &mut Svg, outline: &Outline, canvas: &Canvas) {
    let bounds = outline.bounds();
    let (dx, dy) = (bounds.max.x_m - bounds.min.x_m, bounds.max.y_m - bounds.min.y_m);
    let stands = dy > dx;
    let turned = |p: Point| Point { x_m: p.y_m, y_m: p.x_m };
    // Cuts run across x: what lies is turned for them.
    let upright = if stands { outline.clone() } else { outline.map(turned) };
    let (from, across) = if stands { (bounds.min.x_m, dx) } else { (bounds.min.y_m, dy) };
    let lines = (across * 1e3 * canvas.scale / GRAIN_PX).floor().clamp(0.0, 60.0) as usize;
    for line in 1..=lines {
        let at = from + across * line as f64 / (lines as f64 + 1.0);
        for (a, b) in upright.cut_at(Length::from_m(at)) {
            let points: Vec<_> = (0..=16)
                .map(|step| {
                    let along = (a + (b - a) * (f64::from(step) / 16.0)).m();
                    let point = Point { x_m: at, y_m: along };
                    let (x, y) = canvas.at(if stands { point } else { turned(point) });
                    let waver = 1.4 * (along * 14.0 + line as f64 * 1.7).sin();
                    if stands { (x + waver, y) } else { (x, y + waver) }
                })
                .collect();
            svg.polyline("grain", &points);
        }
    }
}

/// A cross in a ring where a board is held, a saw's notch where it is cut.
fn marks(svg: &mut Svg, view: &PlanView<'_>, canvas: &Canvas) {
    for place in &view.places {
        let (x, y) = canvas.at(*place);
        svg.circle("hold", x, y, 7.0);
        svg.line("hold", x - 4.0, y, x + 4.0, y);
        svg.line("hold", x, y - 4.0, x, y + 4.0);
    }
    for trim in &view.trims {
        let (x, y) = canvas.at(*trim);
        svg.polygon("trim", &[(x - 6.0, y - 6.0), (x + 6.0, y - 6.0), (x, y + 2.0)]);
    }
}

fn names(svg: &mut Svg, view: &PlanView<'_>, canvas: &Canvas, (top, h): (f64, f64)) {
    if view.river.is_some() {
        for (text, y) in view.boards.iter().zip([top + 21.0, top + h - 12.0]) {
            svg.text("bold on-timber", canvas.left + 14.0, y, text);
        }
        return;
    }
    for laid in &view.layout.laid {
        let What::Board(index) = laid.what else { continue };
        let (x, y) = canvas.at(laid.shape.upper.centroid());
        if let Some(text) = view.boards.get(index) {
            svg.text("mid bold on-timber", x, y + 4.0, text);
        }
    }
}

fn stations(svg: &mut Svg, view: &PlanView<'_>, canvas: &Canvas) {
    let Some(river) = view.river else { return };
    let at = |x: Length, y: Length| canvas.at(Point { x_m: x.m(), y_m: y.m() });
    let all = river.stations();
    let count = all.len();
    let figures: Vec<String> = all.iter().map(|s| view.shown.length_figure(s.width)).collect();
    let places: Vec<f64> = all.iter().map(|s| at(s.at, Length::ZERO).0).collect();
    let across = figures_fit(&figures, &places);
    for (index, station) in all.iter().enumerate() {
        let near = river.near_edge(station);
        let (x, y1) = at(station.at, near);
        let (_, y2) = at(station.at, near + station.width);
        let name =
            format!("Station {} of {count}: {} wide", index + 1, view.shown.length(station.width));
        svg.begin_link(&format!("{}{}", view.link, index + 1), &name);
        let class = if index == view.here { "dim-mark here" } else { "dim-mark" };
        svg.line(class, x, y1, x, y2);
        for (y, tip) in [(y1, 5.0), (y2, -5.0)] {
            svg.polyline(class, &[(x - 3.5, y + tip), (x, y), (x + 3.5, y + tip)]);
        }
        // A generous invisible target for fingers.
        svg.rect("target", x - 12.0, y1, 24.0, y2 - y1);
        let (figure, y) = (&figures[index], 0.5 * (y1 + y2));
        if !across {
            // Left of its line, but for the first, which stands at the wall.
            let beside = if index == 0 { x + 13.0 } else { x - 4.0 };
            svg.text_upwards("mid s12 halo-resin", beside, y, figure);
        } else if index + 1 == count {
            svg.text("end halo-resin", x - 6.0, y + 4.5, figure);
        } else {
            svg.text("halo-resin", x + 6.0, y + 4.5, figure);
        }
        svg.end_link();
    }
}

/// Whether figures can stand across: each right of its line, the last one,
/// at the wall, left of it.
fn figures_fit(figures: &[String], places: &[f64]) -> bool {
    let width = |figure: &String| 7.6 * figure.chars().count() as f64 + 14.0;
    let last = figures.len().saturating_sub(2);
    places.windows(2).enumerate().all(|(index, pair)| {
        let beside_last = if index == last { width(&figures[index + 1]) } else { 0.0 };
        pair[1] - pair[0] >= width(&figures[index]) + beside_last
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, attribute, evaluated, of_kind, river_top};
    use crate::svg::{NARROW, WIDE};
    use fondant_cast::{Evaluation, Kind};

    fn view(evaluation: &Evaluation) -> PlanView<'_> {
        PlanView {
            layout: &evaluation.measured.layout,
            river: evaluation.measured.river.as_ref(),
            boards: vec!["near <oak>".into(), "far".into()],
            here: 1,
            link: "/casts/7/timber?section=",
            places: Vec::new(),
            trims: Vec::new(),
            shown: METRIC,
        }
    }

    fn drawn(frame: Frame) -> String {
        let evaluation = evaluated(&river_top());
        draw(&view(&evaluation), frame).into_string()
    }

    #[test]
    fn the_form_is_drawn_to_scale() {
        for frame in [WIDE, NARROW] {
            let svg = drawn(frame);
            let (w, h) = (attribute(&svg, "resin", "width"), attribute(&svg, "resin", "height"));
            assert!((w / h - 2.0).abs() < 0.01, "1000 × 500 mm as {w} × {h} px");
            assert!(w <= frame.width);
        }
    }

    #[test]
    fn every_station_has_its_figure_and_its_link_and_the_one_cut_is_marked() {
        let svg = drawn(WIDE);
        for number in 1..=3 {
            assert!(svg.contains(&format!("href=\"/casts/7/timber?section={number}\"")));
        }
        assert_eq!(svg.matches(">200<").count(), 2);
        assert_eq!(svg.matches(">300<").count(), 1);
        assert_eq!(svg.matches("dim-mark here").count(), 3, "one line and its two tips");
        assert!(svg.contains("1000\u{202f}mm") && svg.contains("500\u{202f}mm"));
        assert!(svg.contains("near &lt;oak&gt;"), "what a maker typed is escaped");
    }

    #[test]
    fn figures_that_would_run_into_each_other_are_turned() {
        let texts = |all: &[&str]| all.iter().map(|t| (*t).to_owned()).collect::<Vec<_>>();
        assert!(figures_fit(&texts(&["217", "281", "186"]), &[0.0, 100.0, 200.0]));
        assert!(!figures_fit(&texts(&["8 17/32", "11 1/16", "7 5/16"]), &[0.0, 90.0, 180.0]));
        assert!(!figures_fit(&texts(&["217", "281", "186"]), &[0.0, 30.0, 200.0]));
    }

    #[test]
    fn a_phone_gets_no_names_on_the_boards() {
        assert!(!drawn(NARROW).contains("near &lt;oak&gt;"));
    }

    #[test]
    fn every_kind_is_drawn_in_its_bed() {
        for kind in Kind::ALL {
            let evaluation = evaluated(&of_kind(kind));
            let svg = draw(&view(&evaluation), WIDE).into_string();
            let bed = match kind {
                Kind::River | Kind::Block | Kind::Embed => "class=\"wall\"",
                Kind::Tubes | Kind::Moulds => "class=\"mould\"",
                Kind::Inlay | Kind::Coat => "class=\"rim\"",
            };
            assert!(svg.contains(bed), "{kind:?}");
            let things = svg.matches("class=\"insert\"").count();
            assert_eq!(things > 0, matches!(kind, Kind::Embed | Kind::Tubes), "{kind:?}");
        }
    }

    #[test]
    fn holds_and_saw_marks_stand_where_they_belong() {
        let evaluation = evaluated(&river_top());
        let mut view = view(&evaluation);
        view.places = vec![Point::from_mm(500.0, 50.0); 3];
        view.trims = vec![Point::from_mm(0.0, 100.0)];
        let svg = draw(&view, WIDE).into_string();
        assert_eq!(svg.matches("class=\"hold\"").count(), 9);
        assert_eq!(svg.matches("class=\"trim\"").count(), 1);
    }
}

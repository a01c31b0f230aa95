//! The form from above, to scale: boards, river, stations with their widths.

use fondant_core::quantities::Length;
use fondant_core::timber::River;

use super::{Frame, Svg};
use crate::views::format::Shown;

/// What is drawn from above.
#[derive(Debug)]
pub struct PlanView<'a> {
    /// The river in its form.
    pub river: &'a River,
    /// What is written on the near and the far board.
    pub boards: [String; 2],
    /// The station whose section is shown.
    pub here: usize,
    /// Where a click on a station leads, without its number.
    pub link: &'a str,
    /// Units.
    pub shown: Shown,
}

/// Distance between lines of grain, px.
const GRAIN_PX: f64 = 13.0;
/// Tallest drawing of a form, px; longer than wide forms are limited by width.
const TALLEST_PX: f64 = 400.0;

/// Draws the form from above.
#[must_use]
pub fn draw(view: &PlanView<'_>, frame: Frame) -> String {
    let river = view.river;
    let (length, width) = (river.form_length(), river.form_width());
    let (left, top, right) = if frame.is_narrow() { (28.0, 30.0, 8.0) } else { (44.0, 34.0, 14.0) };
    let scale = ((frame.width - left - right) / length.mm()).min(TALLEST_PX / width.mm());
    let (w, h) = (length.mm() * scale, width.mm() * scale);
    let at = |along: Length, across: Length| (left + along.mm() * scale, top + across.mm() * scale);
    let mut svg =
        Svg::with_links(frame.class, frame.width, top + h + 12.0, "The form from above, to scale");

    let edges = outline(river);
    let near: Vec<_> = edges.iter().map(|e| at(e.along, e.near)).collect();
    let far: Vec<_> = edges.iter().map(|e| at(e.along, e.far)).collect();
    svg.rect("timber", left, top, w, h);
    grain(&mut svg, &near, (left, top), (w, 0.0));
    grain(&mut svg, &far, (left, top), (w, h));
    let mut water = near.clone();
    water.extend(far.iter().rev());
    svg.polygon("resin", &water);
    svg.polyline("edge", &near);
    svg.polyline("edge", &far);
    svg.rect("wall", left - 4.5, top - 4.5, w + 9.0, h + 9.0);

    stations(&mut svg, view, &at);
    svg.dimension_x(left, left + w, top - 18.0, &view.shown.length(length));
    svg.dimension_y(left - 18.0, top, top + h, &view.shown.length(width));
    if !frame.is_narrow() {
        for (text, y) in [(&view.boards[0], top + 21.0), (&view.boards[1], top + h - 12.0)] {
            svg.text("bold on-timber", left + 14.0, y, text);
        }
    }
    svg.finish()
}

struct Edge {
    along: Length,
    near: Length,
    far: Length,
}

/// The river's edges at its stations and at both ends of the form.
fn outline(river: &River) -> Vec<Edge> {
    let inner = river.stations().iter().map(|s| s.at);
    let mut places: Vec<Length> = std::iter::once(Length::ZERO).chain(inner).collect();
    places.push(river.form_length());
    places.dedup_by(|a, b| (*a - *b).mm().abs() < 1e-6);
    places
        .into_iter()
        .map(|along| {
            let near = river.near_edge_at(along);
            Edge { along, near, far: near + river.width_at(along) }
        })
        .collect()
}

/// Lines of grain that follow the live edge less and less towards the wall.
fn grain(svg: &mut Svg, edge: &[(f64, f64)], (left, top): (f64, f64), (width, wall): (f64, f64)) {
    let wall_y = top + wall;
    let deepest = edge.iter().map(|p| (p.1 - wall_y).abs()).fold(0.0, f64::max);
    let lines = (deepest / GRAIN_PX).floor() as usize;
    for line in 1..lines {
        let share = line as f64 / lines as f64;
        let points: Vec<_> = (0..=24)
            .map(|step| {
                let x = left + width * f64::from(step) / 24.0;
                let y = edge_at(edge, x);
                // The eye reads a slight waver as grown, not drawn.
                let waver = 1.6 * ((x * 0.021 + line as f64 * 1.7).sin());
                (x, wall_y + (y - wall_y) * share + waver * (1.0 - share))
            })
            .collect();
        svg.polyline("grain", &points);
    }
}

fn edge_at(edge: &[(f64, f64)], x: f64) -> f64 {
    let after = edge.partition_point(|p| p.0 < x).clamp(1, edge.len() - 1);
    let ((x0, y0), (x1, y1)) = (edge[after - 1], edge[after]);
    if x1 > x0 { y0 + (y1 - y0) * ((x - x0) / (x1 - x0)).clamp(0.0, 1.0) } else { y0 }
}

fn stations(svg: &mut Svg, view: &PlanView<'_>, at: &impl Fn(Length, Length) -> (f64, f64)) {
    let count = view.river.stations().len();
    let all = view.river.stations();
    let figures: Vec<String> = all.iter().map(|s| view.shown.length_figure(s.width)).collect();
    let places: Vec<f64> = all.iter().map(|s| at(s.at, Length::ZERO).0).collect();
    let across = figures_fit(&figures, &places);
    for (index, station) in view.river.stations().iter().enumerate() {
        let near = view.river.near_edge(station);
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
    use crate::drawings::{NARROW, WIDE};
    use crate::sample::{METRIC, attribute, evaluated, plan};

    fn drawn(frame: Frame) -> String {
        let evaluation = evaluated(&plan());
        let view = PlanView {
            river: &evaluation.river,
            boards: ["near <oak>".into(), "far".into()],
            here: 1,
            link: "/casts/7/timber?section=",
            shown: METRIC,
        };
        draw(&view, frame)
    }

    #[test]
    fn the_form_is_drawn_to_scale() {
        for frame in [WIDE, NARROW] {
            let svg = drawn(frame);
            let (w, h) = (attribute(&svg, "timber", "width"), attribute(&svg, "timber", "height"));
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
}

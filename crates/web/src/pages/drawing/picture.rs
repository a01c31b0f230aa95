//! The drawing as it was read: what each line is, what stays open, what is wrong and where.

use fondant_cast::document::Role;
use fondant_files::drawing::Drawing;
use fondant_shapes::geometry::{Bounds, Outline, Point};

use crate::svg::{Frame, Markup, Svg};

/// Tallest picture, px.
const TALLEST_PX: f64 = 520.0;
/// Space around the drawing, px.
const MARGIN_PX: f64 = 14.0;
/// Points closer than this are not drawn one by one, px.
const FINEST_PX: f64 = 0.4;
/// An outline narrower than this has no room for its number, px.
const NUMBERED_PX: f64 = 14.0;

/// From the drawing to the picture.
struct Canvas {
    min: Point,
    scale: f64,
}

impl Canvas {
    fn at(&self, p: Point) -> (f64, f64) {
        let p = p.minus(self.min).times(self.scale);
        (MARGIN_PX + p.x_m, MARGIN_PX + p.y_m)
    }

    fn line(&self, points: &[Point]) -> Vec<(f64, f64)> {
        let mut line: Vec<(f64, f64)> = Vec::new();
        let last = points.len().saturating_sub(1);
        for (index, p) in points.iter().enumerate() {
            let (x, y) = self.at(*p);
            let is_apart =
                |(a, b): &(f64, f64)| (a - x).abs() > FINEST_PX || (b - y).abs() > FINEST_PX;
            if index == last || line.last().is_none_or(is_apart) {
                line.push((x, y));
            }
        }
        line
    }
}

/// Draws a drawing. `faults` are the places where something of it is wrong.
pub(super) fn draw(drawing: &Drawing, roles: &[Role], faults: &[Point], frame: Frame) -> Markup {
    let Bounds { min, max } = drawing.bounds();
    let size = max.minus(min);
    let wide = frame.width - 2.0 * MARGIN_PX;
    let scale = (wide / size.x_m.max(1e-6)).min(TALLEST_PX / size.y_m.max(1e-6));
    let canvas = Canvas { min, scale };
    let height = size.y_m * scale + 2.0 * MARGIN_PX;
    let mut svg = Svg::new(frame.class, frame.width, height, "The drawing as it was read");
    for (index, (closed, role)) in drawing.rings.iter().zip(roles).enumerate() {
        let class = format!("drawn {}", class_of(*role));
        svg.drawn(&class, index, &canvas.line(&closed.ring));
    }
    for open in &drawing.open {
        svg.polyline("open-line", &canvas.line(&open.line));
        let (x, y) = canvas.at(open.at);
        svg.circle("fault", x, y, 6.0);
    }
    for (index, (closed, role)) in drawing.rings.iter().zip(roles).enumerate() {
        let outline = Outline::new(closed.ring.clone());
        let wide = outline.bounds().max.minus(outline.bounds().min).times(scale);
        if *role != Role::LeftOut && wide.x_m.min(wide.y_m) > NUMBERED_PX {
            let (x, y) = canvas.at(outline.centroid());
            svg.text("mid number", x, y + 5.0, &(index + 1).to_string());
        }
    }
    for place in faults {
        let (x, y) = canvas.at(*place);
        svg.circle("fault", x, y, 9.0);
    }
    svg.finish()
}

/// The class of a line by what it is; the page's script changes it as another is chosen.
fn class_of(role: Role) -> &'static str {
    match role {
        Role::Board => "is-board",
        Role::Hole => "is-hole",
        Role::Underside => "is-underside",
        Role::Form => "is-form",
        Role::LeftOut => "is-out",
    }
}

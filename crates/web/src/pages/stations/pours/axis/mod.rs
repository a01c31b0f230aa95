//! Pours on one time axis: the air by day and night and the trouble it makes, shop hours, each
//! layer's window, when it is covered, when it is hard.

mod background;
mod row;
mod scale;
#[cfg(test)]
mod tests;

use jiff::SignedDuration;

use crate::svg::{Frame, Markup, Svg};

pub(crate) use scale::HoursAxis;
use scale::{AIR_TOP, Axis, ROW_PX, TOP_PX};

/// Shown before the first pour and after the form can be opened.
const MARGIN: SignedDuration = SignedDuration::from_hours(6);

/// Draws the axis.
#[must_use]
pub(crate) fn draw(view: &HoursAxis<'_>, frame: Frame) -> Markup {
    let pours = &view.schedule.pours;
    let (Some(first), Some(last)) = (pours.first(), pours.last()) else { return Markup::default() };
    let from = first.at - MARGIN;
    let to = view.schedule.hard.max(last.closes) + MARGIN * 2;
    let left = if frame.is_narrow() { 8.0 } else { 74.0 };
    let bottom = TOP_PX + ROW_PX * pours.len() as f64 + 8.0;
    let axis = Axis { left, right: frame.width - 10.0, bottom, from, to };
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        bottom + 30.0,
        "Air, pours, windows and shop hours on one time axis",
    );
    background::nights(&mut svg, view, &axis, frame);
    let seconds = [from.as_second() as f64, to.as_second() as f64];
    svg.plane("axis-plane", (axis.left, axis.right, TOP_PX, axis.bottom), seconds);
    background::air(&mut svg, view, &axis, frame);
    for index in 0..pours.len() {
        row::row(&mut svg, view, &axis, frame, index);
    }
    if axis.from < view.now && view.now < axis.to {
        let x = axis.x(view.now);
        svg.line("now", x, AIR_TOP - 8.0, x, bottom);
        svg.text("mid s12 hot bold halo", x, bottom + 16.0, "now");
    }
    svg.finish()
}

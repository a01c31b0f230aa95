//! The air by day and night, the trouble it makes, and the hours of the shop.

use fondant_heat::climate::trouble::TroubleKind;
use fondant_quantities::Temperature;
use jiff::{SignedDuration, Timestamp};

use super::scale::{AIR_PX, AIR_TOP, Axis, HoursAxis};
use crate::svg::{Frame, Svg};
use crate::words::pours as words;

/// Moments that the air is drawn through at most: finer than a pixel.
const MOST_MOMENTS: i64 = 1200;

/// The air's temperature and dew point over the band that the resin cures in,
/// and bars where it makes trouble.
pub(super) fn air(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame) {
    let (low, high) = view.air.range(axis.from, axis.to);
    let moments = moments(axis);
    let dews = moments.iter().map(|at| view.air.dew_point(*at).k());
    let coolest = dews.fold(low.k().min(view.limits.coldest.k()), f64::min) - 1.0;
    let warmest = high.k().max(view.limits.warmest.k().min(high.k() + 4.0)) + 1.0;
    let y = |k: f64| AIR_TOP + AIR_PX * (1.0 - (k - coolest) / (warmest - coolest)).clamp(0.0, 1.0);
    let (band_top, band_bottom) = (y(view.limits.warmest.k()), y(view.limits.coldest.k()));
    svg.rect("air-band", axis.left, band_top, axis.right - axis.left, band_bottom - band_top);
    let through = |k_at: &dyn Fn(Timestamp) -> f64| -> Vec<(f64, f64)> {
        moments.iter().map(|at| (axis.x(*at), y(k_at(*at)))).collect()
    };
    svg.polyline("curve-air", &through(&|at| view.air.dew_point(at).k()));
    svg.polyline("curve-ink", &through(&|at| view.air.at(at).temperature.k()));
    limits(svg, view, axis, frame, (band_top, band_bottom));
    troubles(svg, view, axis);
}

/// Every hour of the axis, or as often as its pixels can show.
fn moments(axis: &Axis) -> Vec<Timestamp> {
    let hours = axis.to.duration_since(axis.from).as_hours();
    let step = (hours / MOST_MOMENTS).max(0) + 1;
    (0..=hours / step).map(|i| axis.from + SignedDuration::from_hours(i * step)).collect()
}

/// The temperatures that the resin cures between.
fn limits(
    svg: &mut Svg,
    view: &HoursAxis<'_>,
    axis: &Axis,
    frame: Frame,
    (band_top, band_bottom): (f64, f64),
) {
    let label = |k: f64| view.shown.temperature(Temperature::from_k(k));
    if frame.is_narrow() {
        svg.text(
            "s12 soft halo",
            axis.left + 2.0,
            band_bottom - 3.0,
            &label(view.limits.coldest.k()),
        );
    } else {
        svg.text(
            "end s12 soft",
            axis.left - 12.0,
            band_bottom + 4.0,
            &label(view.limits.coldest.k()),
        );
        if band_bottom - band_top > 16.0 && band_top > AIR_TOP + 1.0 {
            svg.text(
                "end s12 soft",
                axis.left - 12.0,
                band_top + 4.0,
                &label(view.limits.warmest.k()),
            );
        }
    }
}

/// Bars where the air makes trouble.
fn troubles(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis) {
    let mut taken_to = 0.0;
    for trouble in view.troubles.iter().filter(|t| t.kind != TroubleKind::Humid) {
        let (x1, x2) = (axis.x(trouble.from), axis.x(trouble.to));
        let top = AIR_TOP + AIR_PX + 6.0;
        svg.rect("trouble-bar", x1, top, (x2 - x1).max(2.0), 4.0);
        let word = words::trouble_word(trouble.kind);
        if x1 >= taken_to && axis.right - x1 > 6.4 * word.len() as f64 {
            svg.text("s12 hot halo", x1, top + 17.0, word);
            taken_to = x1 + 6.8 * word.len() as f64;
        }
    }
}

pub(super) fn nights(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame) {
    let top = AIR_TOP - 8.0;
    let mut closed_from = axis.from;
    for span in view.hours.spans(axis.from, axis.to) {
        night(svg, axis, top, closed_from, span.from);
        closed_from = span.to;
    }
    night(svg, axis, top, closed_from, axis.to);

    days(svg, view, axis, frame);
    svg.line("axis", axis.left, axis.bottom, axis.right, axis.bottom);
}

/// Days by name, and the hours of their clocks.
fn days(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame) {
    let top = AIR_TOP - 8.0;
    let zone = view.hours.zone();
    let days = axis.to.duration_since(axis.from).as_hours() as f64 / 24.0;
    let day_px = (axis.right - axis.left) / days.max(0.5);
    let mut date = axis.from.to_zoned_datetime(zone.clone()).date();
    let last = axis.to.to_zoned_datetime(zone.clone()).date();
    while date <= last {
        for hour in [0i8, 6, 12, 18] {
            let Ok(at) = date.at(hour, 0, 0, 0).to_zoned_datetime(zone.clone()) else { continue };
            let at = at.timestamp();
            if at < axis.from || at > axis.to {
                continue;
            }
            let x = axis.x(at);
            if hour == 0 || day_px > 90.0 {
                svg.line("gridline", x, top, x, axis.bottom);
            }
            if hour == 12 && (day_px > 34.0 || frame.is_narrow() && day_px > 26.0) {
                let day = if day_px > 64.0 { "%a %-d" } else { "%a" };
                // A day of which little is shown keeps its whole name.
                let name = date.strftime(day).to_string();
                let half = 4.2 * name.chars().count() as f64;
                svg.text("mid bold", x.clamp(half, frame.width - half), 13.0, &name);
            }
            if day_px > 120.0 || (hour % 12 == 0 && day_px > 60.0) {
                svg.text("mid s12 soft", x, 29.0, &format!("{hour:02}"));
            }
        }
        let Ok(next) = date.tomorrow() else { break };
        date = next;
    }
}

fn night(svg: &mut Svg, axis: &Axis, top: f64, from: Timestamp, to: Timestamp) {
    let (x1, x2) = (axis.x(from), axis.x(to));
    if x2 > x1 {
        svg.rect("night", x1, top, x2 - x1, axis.bottom - top);
    }
}

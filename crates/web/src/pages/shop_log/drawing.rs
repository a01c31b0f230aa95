//! The readings of a log as curves: temperature, and below it humidity.

use fondant_heat::climate::AirAt;
use fondant_quantities::units::Unit;

use crate::drawings::chart::{Axes, Chart};
use crate::svg::{Markup, WIDE, both};
use crate::ui::units::Shown;

/// Most points that are drawn; a screen shows no more.
const MOST_POINTS: usize = 700;

/// Draws temperature and humidity, hours from the first reading.
pub(super) fn curves(readings: &[AirAt], shown: Shown) -> [Markup; 2] {
    let Some(first) = readings.first() else { return Default::default() };
    let step = readings.len().div_ceil(MOST_POINTS).max(1);
    let hours = |r: &AirAt| r.at.duration_since(first.at).as_secs_f64() / 3600.0;
    let drawn: Vec<&AirAt> = readings.iter().step_by(step).collect();
    let degrees = |r: &AirAt| shown.system.temperature().write(r.temperature);
    let warm: Vec<(f64, f64)> = drawn.iter().map(|r| (hours(r), degrees(r))).collect();
    let humid: Vec<(f64, f64)> = drawn.iter().map(|r| (hours(r), r.humidity_percent)).collect();
    let end = warm.last().map_or(1.0, |last| last.0).max(0.1);
    let (low, high) =
        warm.iter().fold((f64::MAX, f64::MIN), |(l, h), (_, y)| (l.min(*y), h.max(*y)));
    let chart = |description: &str, y: (f64, f64), class: &'static str, points: &[(f64, f64)]| {
        let axes = Axes {
            description: description.to_owned(),
            x: (0.0, end),
            y,
            x_unit: "h",
            height: 150.0,
        };
        both(WIDE, |frame| {
            let mut chart = Chart::new(frame, axes.clone());
            chart.curve(class, points.iter().copied());
            chart.finish()
        })
    };
    let warmth = ((low - 1.0).floor(), (high + 1.0).ceil());
    [
        chart("Temperature of the log", warmth, "curve-hot", &warm),
        chart("Humidity of the log, per cent", (0.0, 100.0), "curve-soft", &humid),
    ]
}

//! The readings of a cup, the curve fitted to them and that of the generic model.

use fondant_heat::calibration::factors::Factors;
use fondant_heat::calibration::learning::Lesson;
use fondant_heat::calibration::log::Reading;
use fondant_numerics::Stop;
use fondant_quantities::Temperature;
use fondant_quantities::units::Unit;

use super::form::Asked;
use crate::drawings::chart::{Axes, Chart};
use crate::svg::{Markup, WIDE, both};
use crate::ui::units::Shown;

/// Draws the log of a cup and its fit.
pub(super) fn chart(asked: &Asked, lesson: &Lesson, shown: Shown, stop: &Stop) -> Markup {
    let degrees = |k: f64| shown.system.temperature().write(Temperature::from_k(k));
    let point = |r: &Reading| (r.t_s / 3600.0, degrees(r.t_k));
    let times: Vec<f64> = lesson.curve.iter().map(|r| r.t_s).collect();
    let readings = &asked.read.log.readings;
    let start_k = readings.first().map_or(asked.read.cup.air.k(), |first| first.t_k);
    let (cup, generic) = (&asked.read.cup, asked.read.resin.generic());
    // Without it the two other lines still say what there is to say.
    let generic =
        cup.temperatures(&generic, &Factors::ONE, start_k, &times, stop).unwrap_or_default();
    let all = readings.iter().chain(&lesson.curve).map(|r| degrees(r.t_k));
    let (low, high) = all
        .chain(generic.iter().map(|k| degrees(*k)))
        .fold((f64::MAX, f64::MIN), |(low, high), t| (low.min(t), high.max(t)));
    let hours = times.last().map_or(1.0, |t| t / 3600.0).max(0.1);
    let is_outlier = |r: &Reading| lesson.outliers.iter().any(|o| o == r);
    let axes = Axes {
        description: "The log, the fitted curve and the generic model".to_owned(),
        x: (0.0, hours),
        y: (((low - 2.0) / 5.0).floor() * 5.0, ((high + 2.0) / 10.0).ceil() * 10.0),
        x_unit: "h",
        height: 230.0,
    };
    both(WIDE, |frame| {
        let mut chart = Chart::new(frame, axes.clone());
        chart.dots("reading", readings.iter().filter(|r| !is_outlier(r)).map(point));
        chart.dots("reading outlier", lesson.outliers.iter().map(point));
        let curve = times.iter().zip(&generic).map(|(t, k)| (t / 3600.0, degrees(*k)));
        chart.curve("curve-soft", curve);
        chart.curve("curve-hot", lesson.curve.iter().map(point));
        chart.finish()
    })
}

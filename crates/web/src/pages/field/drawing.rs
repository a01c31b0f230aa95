//! The curves of a field: hottest point, surface, base, timber's face and air over time.

use fondant_cast::Evaluation;
use fondant_heat::field::FieldSample;
use fondant_quantities::Temperature;
use fondant_quantities::units::Unit;

use crate::drawings::chart::{Axes, Chart, Side};
use crate::svg::{Markup, WIDE, both};
use crate::ui::units::Shown;

type Read = fn(&FieldSample) -> Option<f64>;

const CURVES: [(&str, Read); 6] = [
    // Only on show where glass temperatures are.
    ("curve-glass", |s| Some(s.glass_k)),
    ("curve-soft", |s| Some(s.base_k)),
    ("curve-face", |s| s.face_k),
    ("curve-resin", |s| Some(s.surface_k)),
    ("curve-air", |s| Some(s.air_k)),
    ("curve-hot", |s| Some(s.hottest.t_k)),
];

/// Draws the curves of a field.
pub(super) fn curves(samples: &[FieldSample], evaluation: &Evaluation, shown: Shown) -> Markup {
    let Some(last) = samples.last() else { return Markup::default() };
    let degrees = |k: f64| shown.system.temperature().write(Temperature::from_k(k));
    let limit = evaluation.resin.working.peak_limit;
    let high = samples.iter().map(|s| s.hottest.t_k).fold(limit.k(), f64::max);
    let low = samples.iter().map(|s| s.air_k.min(s.surface_k)).fold(f64::MAX, f64::min);
    let hours = (last.t_s / 3600.0 / 6.0).ceil().max(1.0) * 6.0;
    let axes = Axes {
        description: "Temperatures of the section over time".to_owned(),
        x: (0.0, hours),
        y: (
            ((degrees(low) - 2.0) / 5.0).floor() * 5.0,
            ((degrees(high) + 4.0) / 10.0).ceil() * 10.0,
        ),
        x_unit: "h",
        height: 190.0,
    };
    both(WIDE, |frame| {
        let mut chart = Chart::new(frame, axes.clone());
        for (class, read) in CURVES {
            let points = samples.iter().filter_map(|s| Some((s.t_s / 3600.0, degrees(read(s)?))));
            chart.curve(class, points);
        }
        let name = format!("limit {}", shown.temperature(limit));
        chart.limit(degrees(limit.k()), &name, Side::Right);
        chart.cursor();
        chart.finish()
    })
}

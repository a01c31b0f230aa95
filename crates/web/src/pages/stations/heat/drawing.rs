//! Temperatures over time and depth, as charts.

use fondant_cast::heat::WholePour;
use fondant_cast::planning::DepthPoint;
use fondant_cast::{Document, Evaluation};
use fondant_heat::{Deepest, Sample};
use fondant_quantities::units::Unit;
use fondant_quantities::{Length, Temperature};

use crate::drawings::chart::{Axes, Chart, Side};
use crate::pages::stations::asked::Asked;
use crate::svg::{Frame, HALF, Markup, both};
use crate::ui::units::Shown;

/// What the charts are drawn from.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Temperatures<'a> {
    /// The cast, in the mean of its air.
    pub(crate) document: &'a Document,
    /// The evaluation of the document.
    pub(crate) evaluation: &'a Evaluation,
    /// Units.
    pub(crate) shown: Shown,
}

impl<'a> Temperatures<'a> {
    pub(crate) fn of(asked: &'a Asked<'_>) -> Self {
        Self { document: asked.document, evaluation: asked.evaluation, shown: asked.shown }
    }
}

/// All in one pour: hottest point, surface, base and air over time.
#[must_use]
pub(crate) fn one_pour(view: &Temperatures<'_>, whole: &WholePour, frame: Frame) -> Markup {
    let shown = view.shown;
    let air_k = view.document.conditions.air.k();
    let limit_k = view.evaluation.resin.working.peak_limit.k();
    let hours = hours_shown(whole, air_k);
    let description = format!(
        "Temperature over time in one pour: hottest {}, limit {}",
        shown.temperature(whole.peak),
        shown.temperature(Temperature::from_k(limit_k))
    );
    let mut chart = Chart::new(
        frame,
        Axes {
            description,
            x: (0.0, hours),
            y: range(
                shown,
                air_k.min(view.document.conditions.resin.k()),
                whole.peak.k().max(limit_k),
            ),
            x_unit: "h",
            height: 236.0,
        },
    );
    draw_samples(&mut chart, shown, whole.trace.until(hours * 3600.0), air_k, hours);
    chart.limit(degrees(shown, limit_k), &limit_name(view), Side::Right);
    chart.ring(whole.peak_at.h(), degrees(shown, whole.peak.k()), &shown.temperature(whole.peak));
    chart.finish()
}

/// The hottest point against the depth of one pour, with the limit, the
/// deepest layer and the depth that the plan keeps to.
#[must_use]
pub(crate) fn depth(view: &Temperatures<'_>, whole: &WholePour, points: &[DepthPoint]) -> Markup {
    let (evaluation, shown) = (view.evaluation, view.shown);
    let limit = evaluation.resin.working.peak_limit;
    let Some(reach) = points.last().map(|point| point.depth) else { return Markup::default() };
    let unit = shown.system.length();
    let length = |q: Length| unit.write(q);
    let hottest = points.iter().map(|p| p.peak.k()).fold(limit.k(), f64::max);
    both(HALF, |frame| {
        let mut chart = Chart::new(
            frame,
            Axes {
                description: "Peak temperature against the depth of one pour".to_owned(),
                x: (0.0, length(reach)),
                y: range(shown, view.document.conditions.air.k(), hottest),
                x_unit: unit.symbol(),
                height: 236.0,
            },
        );
        chart.curve(
            "curve-ink",
            points.iter().map(|p| (length(p.depth), degrees(shown, p.peak.k()))),
        );
        chart.limit(degrees(shown, limit.k()), &limit_name(view), Side::Left);
        if let Ok(Deepest::Limited { depth_m }) = evaluation.heat.deepest
            && depth_m < reach.m()
        {
            let depth = Length::from_m(depth_m);
            chart.mark("limit", length(depth), degrees(shown, limit.k()));
        }
        let allowed = evaluation.heat.allowed;
        if let Some(peak_k) = peak_at(points, allowed) {
            let name = format!("Deepest layer of the plan, {}", shown.length_cautious(allowed));
            chart.grip(length(allowed), degrees(shown, peak_k), &name);
        }
        chart.ring(length(whole.depth), degrees(shown, whole.peak.k()), &shown.length(whole.depth));
        chart.finish()
    })
}

/// The points of the curve against depth in the shop's units, for a script.
#[must_use]
pub(crate) fn depth_points(view: &Temperatures<'_>, points: &[DepthPoint]) -> String {
    let unit = view.shown.system.length();
    let pairs: Vec<String> = points
        .iter()
        .map(|p| format!("[{:.3},{:.2}]", unit.write(p.depth), degrees(view.shown, p.peak.k())))
        .collect();
    format!("[{}]", pairs.join(","))
}

/// The peak at a depth between two points of the curve, K.
fn peak_at(points: &[DepthPoint], depth: Length) -> Option<f64> {
    let after = points.partition_point(|point| point.depth < depth);
    let (next, before) = (points.get(after)?, points.get(after.checked_sub(1)?)?);
    let share = (depth - before.depth) / (next.depth - before.depth);
    Some(before.peak.k() + share * (next.peak - before.peak).k())
}

/// The plan's layers: hottest point, surface, base and air over time.
#[must_use]
pub(crate) fn layered(view: &Temperatures<'_>, frame: Frame) -> Markup {
    let shown = view.shown;
    let Ok(schedule) = &view.evaluation.pours else { return Markup::default() };
    let Some(trace) = schedule.run.trace() else { return Markup::default() };
    let air_k = view.document.conditions.air.k();
    let limit = view.evaluation.resin.working.peak_limit;
    let end_s = trace.samples.last().map_or(0.0, |s| s.t_s);
    let hours = (end_s / 3600.0 / 12.0).ceil().max(1.0) * 12.0;
    let mut chart = Chart::new(
        frame,
        Axes {
            description: "Temperature over time in layers as planned".to_owned(),
            x: (0.0, hours),
            y: range(shown, air_k.min(view.document.conditions.resin.k()), limit.k()),
            x_unit: "h",
            height: 190.0,
        },
    );
    draw_samples(&mut chart, shown, &trace.samples, air_k, hours);
    chart.limit(degrees(shown, limit.k()), &limit_name(view), Side::Right);
    if let Some((peak_k, peak_s)) = schedule.run.peak() {
        chart.ring(
            peak_s / 3600.0,
            degrees(shown, peak_k),
            &shown.temperature(Temperature::from_k(peak_k)),
        );
    }
    chart.finish()
}

fn draw_samples(chart: &mut Chart, shown: Shown, samples: &[Sample], air_k: f64, hours: f64) {
    type Read = fn(&Sample) -> f64;
    let curves: [(&str, Read); 3] = [
        ("curve-soft", |s| s.underside_k),
        ("curve-resin", |s| s.surface_k),
        ("curve-hot", |s| s.hottest_k),
    ];
    for (class, read) in curves {
        chart.curve(class, samples.iter().map(|s| (s.t_s / 3600.0, degrees(shown, read(s)))));
    }
    chart.curve("curve-air", [(0.0, degrees(shown, air_k)), (hours, degrees(shown, air_k))]);
}

fn limit_name(view: &Temperatures<'_>) -> String {
    let limit = view.evaluation.resin.working.peak_limit;
    format!("limit {}", view.shown.temperature(limit))
}

/// What the axes of the curves over time say.
#[must_use]
pub(crate) fn axes_of_time(shown: Shown) -> &'static str {
    match shown.system.temperature().symbol() {
        "°F" => "°F over hours from the pour",
        _ => "°C over hours from the pour",
    }
}

fn degrees(shown: Shown, k: f64) -> f64 {
    shown.system.temperature().write(Temperature::from_k(k))
}

/// Hours shown: past the peak until it has nearly cooled, in whole half days.
fn hours_shown(whole: &WholePour, air_k: f64) -> f64 {
    let rise = whole.peak.k() - air_k;
    let cooled = whole
        .trace
        .samples
        .iter()
        .find(|s| s.t_s > whole.peak_at.s() && s.hottest_k < air_k + 0.12 * rise.max(1.0))
        .map_or(48.0, |s| s.t_s / 3600.0);
    (cooled / 6.0).ceil().clamp(1.0, 12.0) * 6.0
}

/// From just under the coldest to a round figure over the hottest.
fn range(shown: Shown, low_k: f64, high_k: f64) -> (f64, f64) {
    let (low, high) = (degrees(shown, low_k), degrees(shown, high_k));
    (((low - 2.0) / 5.0).floor() * 5.0, ((high + 4.0) / 10.0).ceil() * 10.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, hours, inputs, river_top};
    use crate::svg::WIDE;
    use fondant_cast::evaluate;
    use fondant_cast::planning::peak_by_depth;
    use fondant_numerics::Stop;

    #[test]
    fn each_chart_shows_its_limit_and_its_hottest_point() {
        let inputs = inputs(&river_top(), &hours(8, 18));
        let evaluation = evaluate(&inputs, &Stop::NEVER).unwrap();
        let document = &inputs.document;
        let view = Temperatures { document, evaluation: &evaluation, shown: METRIC };
        let whole = evaluation.heat.whole.as_ref().unwrap();
        let one = one_pour(&view, whole, HALF).into_string();
        assert!(one.contains("limit 65\u{202f}°C"));
        assert!(one.contains(&METRIC.temperature(whole.peak)));
        for class in ["curve-hot", "curve-resin", "curve-soft", "curve-air"] {
            assert!(one.contains(&format!("class=\"{class}\"")), "{class}");
        }
        let points = peak_by_depth(&inputs, &evaluation, &Stop::NEVER).unwrap();
        let depth = depth(&view, whole, &points).into_string();
        assert!(
            depth.contains(&METRIC.length(whole.depth))
                && depth.contains("Deepest layer of the plan")
        );
        let schedule = evaluation.pours.as_ref().unwrap();
        assert!(layered(&view, WIDE).into_string().contains(&METRIC.temperature(schedule.peak())));
    }

    #[test]
    fn in_fahrenheit_the_axes_say_so() {
        assert!(axes_of_time(METRIC.other()).starts_with("°F"));
        let limit = Temperature::from_celsius(65.0);
        assert!((degrees(METRIC.other(), limit.k()) - 149.0).abs() < 1e-9);
    }

    #[test]
    fn a_range_holds_its_ends_and_begins_on_a_round_figure() {
        let (low, high) = range(METRIC, 291.15, 338.15);
        assert!((low - 15.0).abs() < 1e-9 && (high - 70.0).abs() < 1e-9, "{low} {high}");
    }
}

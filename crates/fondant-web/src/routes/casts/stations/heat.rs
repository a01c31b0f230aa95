//! Station 5: how hot it gets.

use askama::Template;
use fondant_core::heat::{Deepest, Sample};
use fondant_core::plan::document::DEPTH_CAUTION_RATIO;
use fondant_core::plan::{Plan, WholePour, peak_by_depth};
use fondant_core::quantities::units::Unit;
use fondant_core::quantities::{Length, Temperature, TemperatureDelta, bounds};

use super::Asked;
use crate::drawings::chart::{Axes, Chart, Side};
use crate::drawings::{Frame, HALF, WIDE, both};
use crate::entries::Reader;
use crate::views::fields::Field;
use crate::views::figure::Figure;
use crate::views::format::{Shown, span};
use crate::views::words;

/// Points of the curve of depth against peak: smooth to the eye at 330 px.
const DEPTH_POINTS: usize = 22;
/// How far off a forecast of depth may be without a reading of the shop's own.
const FORECAST_RATIO: f64 = 0.18;

#[derive(Template)]
#[template(path = "stations/heat.html")]
struct HeatBody {
    refusal: String,
    fields: Vec<Field>,
    one_pour: String,
    one_pour_caption: String,
    depth: String,
    layered: String,
    layered_caption: String,
    deepest: Figure,
    deepest_says: String,
    trouble: String,
    verdict: String,
    verdict_class: &'static str,
    facts: Vec<(String, String)>,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut plan.conditions.air);
    reader.quantity("resin", &bounds::RESIN_TEMPERATURE, &mut plan.conditions.resin);
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (heat, resin, fields) = (&evaluation.heat, &evaluation.resin, asked.fields());
    let limit = resin.working.peak_limit;
    let mut body = HeatBody {
        refusal: asked.refusal(),
        fields: vec![
            fields.temperature("air", "Air at the pour and after", plan.conditions.air),
            fields.temperature("resin", "Resin at the pour", plan.conditions.resin),
        ],
        one_pour: String::new(),
        one_pour_caption: String::new(),
        depth: String::new(),
        layered: String::new(),
        layered_caption: String::new(),
        deepest: deepest(asked),
        deepest_says: String::new(),
        trouble: String::new(),
        verdict: String::new(),
        verdict_class: "care",
        facts: Vec::new(),
    };
    match &heat.deepest {
        Ok(_) => {
            body.deepest_says = format!(
                "so that no point passes {}, air {}, resin {}. The plan keeps to {}: {} % less, as \
                 a forecast without a reading of your own is no better.",
                shown.temperature(limit),
                shown.temperature(plan.conditions.air),
                shown.temperature(plan.conditions.resin),
                shown.length_cautious(heat.allowed),
                DEPTH_CAUTION_RATIO * 100.0
            );
        }
        Err(error) => body.trouble = words::heat(error, shown),
    }
    if let Ok(whole) = &heat.whole {
        body.one_pour_caption =
            format!("All {} in one pour, {}", shown.length(whole.depth), unit_of(shown));
        body.one_pour = both(HALF, |frame| one_pour(asked, whole, frame));
        body.depth = depth_chart(asked, whole);
        (body.verdict, body.verdict_class) = verdict(asked, whole);
        body.facts = facts(asked, whole);
    }
    if let Ok(schedule) = &evaluation.pours {
        let count = schedule.pours.len();
        body.layered_caption = format!("In {count} layers as planned, {}", unit_of(shown));
        body.layered = both(WIDE, |frame| layered(asked, frame));
    }
    body.render()
}

fn limit_name(asked: &Asked<'_>) -> String {
    let limit = asked.evaluation.resin.working.peak_limit;
    format!("limit {}", asked.shop.shown.temperature(limit))
}

fn unit_of(shown: Shown) -> &'static str {
    match shown.system.temperature().symbol() {
        "°F" => "°F over hours from the pour",
        _ => "°C over hours from the pour",
    }
}

fn degrees(shown: Shown, k: f64) -> f64 {
    shown.system.temperature().write(Temperature::from_k(k))
}

fn deepest(asked: &Asked<'_>) -> Figure {
    let shown = asked.shop.shown;
    let title = "Deepest single layer";
    let figure = match &asked.evaluation.heat.deepest {
        Ok(Deepest::Limited { depth_m }) => {
            let depth = Length::from_m(*depth_m);
            Figure::new(
                "deepest",
                shown.length_cautious(depth),
                "deepest single layer".into(),
                title,
            )
            .note(format!(
                "±{} without a reading of your own resin: the heat and the speed of a bottle \
                     vary by about a tenth.",
                shown.length_cautious(depth * FORECAST_RATIO)
            ))
        }
        Ok(Deepest::Beyond { searched_m }) => {
            let value = format!("over {}", shown.length(Length::from_m(*searched_m)));
            Figure::new("deepest", value, "deepest single layer".into(), title)
        }
        Ok(Deepest::None { searched_m }) => {
            let value = format!("under {}", shown.length(Length::from_m(*searched_m)));
            Figure::new("deepest", value, "deepest single layer".into(), title).hot(true)
        }
        Err(_) => {
            Figure::new("deepest", "none".into(), "deepest single layer".into(), title).hot(true)
        }
    };
    figure
        .formula(
            "the depth at which max T = limit\nρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H dα/dt\n\
             dα/dt = (k₁ + k₂ αᵐ)(1 − α)ⁿ · glass(α, T)"
                .into(),
        )
        .note("A wide river: heat leaves by the top (10 W/m²K, still air) and through an 18 mm form \
               board. Timber at the sides cools a river narrower than five to eight depths further.")
        .note("Left out: stirring of warm resin before it gels, shrinkage, damp, fillers.")
        .note("Where the resin's datasheet allows less, the datasheet holds.")
}

fn verdict(asked: &Asked<'_>, whole: &WholePour) -> (String, &'static str) {
    let shown = asked.shop.shown;
    let limit = asked.evaluation.resin.working.peak_limit;
    if whole.margin < TemperatureDelta::ZERO {
        let text = format!(
            "Too hot in one pour: {} passes the limit of {} by {}. It would amber, crack or smoke.",
            shown.temperature(whole.peak),
            shown.temperature(limit),
            shown.degrees(-whole.margin.k())
        );
        (text, "trouble")
    } else if whole.depth > asked.evaluation.heat.allowed {
        let text = format!(
            "One pour stays {} below the limit, closer than the forecast is sure of. The plan \
             splits it.",
            shown.degrees(whole.margin.k())
        );
        (text, "care")
    } else {
        let text = format!(
            "One pour stays {} below the limit of {}.",
            shown.degrees(whole.margin.k()),
            shown.temperature(limit)
        );
        (text, "good")
    }
}

fn facts(asked: &Asked<'_>, whole: &WholePour) -> Vec<(String, String)> {
    let shown = asked.shop.shown;
    let mut facts = vec![
        ("Hottest point, one pour".to_owned(), shown.temperature(whole.peak)),
        ("Reached after".to_owned(), span(whole.peak_at)),
    ];
    if let Ok(Deepest::Limited { depth_m }) = asked.evaluation.heat.deepest {
        let spare = Length::from_m(depth_m) - whole.depth;
        let name = if spare < Length::ZERO { "Too deep by" } else { "Depth to spare" };
        let spare = spare.max(Length::ZERO - spare);
        facts.push((name.to_owned(), shown.length_cautious(spare)));
    }
    let hottest_base = whole.trace.samples.iter().map(|s| s.underside_k).fold(f64::MIN, f64::max);
    facts.push((
        "Base, at its hottest".to_owned(),
        shown.temperature(Temperature::from_k(hottest_base)),
    ));
    facts
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

fn one_pour(asked: &Asked<'_>, whole: &WholePour, frame: Frame) -> String {
    let shown = asked.shop.shown;
    let air_k = asked.plan.conditions.air.k();
    let limit_k = asked.evaluation.resin.working.peak_limit.k();
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
                air_k.min(asked.plan.conditions.resin.k()),
                whole.peak.k().max(limit_k),
            ),
            x_unit: "h",
            height: 236.0,
        },
    );
    draw_samples(&mut chart, shown, whole.trace.until(hours * 3600.0), air_k, hours);
    chart.limit(degrees(shown, limit_k), &limit_name(asked), Side::Right);
    chart.ring(whole.peak_at.h(), degrees(shown, whole.peak.k()), &shown.temperature(whole.peak));
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

/// From just under the coldest to a round figure over the hottest.
fn range(shown: Shown, low_k: f64, high_k: f64) -> (f64, f64) {
    let (low, high) = (degrees(shown, low_k), degrees(shown, high_k));
    (((low - 2.0) / 5.0).floor() * 5.0, ((high + 4.0) / 10.0).ceil() * 10.0)
}

fn depth_chart(asked: &Asked<'_>, whole: &WholePour) -> String {
    let (evaluation, shown) = (asked.evaluation, asked.shop.shown);
    let limit = evaluation.resin.working.peak_limit;
    let deepest = evaluation.heat.deepest.as_ref().map_or(0.0, Deepest::safe_m);
    let reach = Length::from_m((whole.depth.m() * 1.6).max(deepest * 1.25).min(0.3));
    let Ok(points) = peak_by_depth(asked.plan, &evaluation.resin, reach, DEPTH_POINTS) else {
        return String::new();
    };
    let unit = shown.system.length();
    let length = |q: Length| unit.write(q);
    let hottest = points.iter().map(|p| p.peak.k()).fold(limit.k(), f64::max);
    both(HALF, |frame| {
        let mut chart = Chart::new(
            frame,
            Axes {
                description: "Peak temperature against the depth of one pour".to_owned(),
                x: (0.0, length(reach)),
                y: range(shown, asked.plan.conditions.air.k(), hottest),
                x_unit: unit.symbol(),
                height: 236.0,
            },
        );
        chart.curve(
            "curve-ink",
            points.iter().map(|p| (length(p.depth), degrees(shown, p.peak.k()))),
        );
        chart.limit(degrees(shown, limit.k()), &limit_name(asked), Side::Left);
        if deepest > 0.0 && deepest < reach.m() {
            let depth = Length::from_m(deepest);
            chart.mark("limit", length(depth), degrees(shown, limit.k()));
        }
        let allowed = evaluation.heat.allowed;
        if let Some(at) = points.iter().find(|p| p.depth >= allowed) {
            chart.mark("brass-line", length(allowed), degrees(shown, at.peak.k()));
            let floor = range(shown, asked.plan.conditions.air.k(), hottest).0;
            let name = format!("plan keeps to {}", shown.length_cautious(allowed));
            chart.name("bold", length(allowed), floor, &name);
        }
        chart.ring(length(whole.depth), degrees(shown, whole.peak.k()), &shown.length(whole.depth));
        chart.finish()
    })
}

fn layered(asked: &Asked<'_>, frame: Frame) -> String {
    let shown = asked.shop.shown;
    let Ok(schedule) = &asked.evaluation.pours else { return String::new() };
    let Some(trace) = schedule.run.trace() else { return String::new() };
    let air_k = asked.plan.conditions.air.k();
    let limit = asked.evaluation.resin.working.peak_limit;
    let end_s = trace.samples.last().map_or(0.0, |s| s.t_s);
    let hours = (end_s / 3600.0 / 12.0).ceil().max(1.0) * 12.0;
    let mut chart = Chart::new(
        frame,
        Axes {
            description: "Temperature over time in layers as planned".to_owned(),
            x: (0.0, hours),
            y: range(shown, air_k.min(asked.plan.conditions.resin.k()), limit.k()),
            x_unit: "h",
            height: 190.0,
        },
    );
    draw_samples(&mut chart, shown, &trace.samples, air_k, hours);
    chart.limit(degrees(shown, limit.k()), &limit_name(asked), Side::Right);
    if let Some((peak_k, peak_s)) = schedule.run.peak() {
        chart.ring(
            peak_s / 3600.0,
            degrees(shown, peak_k),
            &shown.temperature(Temperature::from_k(peak_k)),
        );
    }
    chart.finish()
}

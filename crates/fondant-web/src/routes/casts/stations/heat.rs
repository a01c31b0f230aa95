//! Station 5: how hot it gets.

use askama::Template;
use fondant_core::heat::Deepest;
use fondant_core::plan::document::DEPTH_CAUTION_RATIO;
use fondant_core::plan::{Plan, WholePour};
use fondant_core::quantities::{Length, Temperature, TemperatureDelta, bounds};

use super::Asked;
use crate::drawings::temperatures::{self, Temperatures, axes_of_time};
use crate::drawings::{HALF, WIDE, both};
use crate::entries::Reader;
use crate::views::fields::Field;
use crate::views::figure::Figure;
use crate::views::format::span;
use crate::views::words;

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
    facts: Vec<Figure>,
    forecast_doubt: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut plan.conditions.air);
    reader.quantity("resin", &bounds::RESIN_TEMPERATURE, &mut plan.conditions.resin);
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (heat, resin, fields) = (&evaluation.heat, &evaluation.resin, asked.fields());
    let limit = resin.working.peak_limit;
    let view = Temperatures { plan, evaluation, shown };
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
        forecast_doubt: shown.forecast_doubt(),
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
            format!("All {} in one pour, {}", shown.length(whole.depth), axes_of_time(shown));
        body.one_pour = both(HALF, |frame| temperatures::one_pour(&view, whole, frame));
        body.depth = temperatures::depth(&view, whole, &asked.by_depth);
        (body.verdict, body.verdict_class) = verdict(asked, whole);
        body.facts = facts(asked, whole);
    }
    if let Ok(schedule) = &evaluation.pours {
        let count = schedule.pours.len();
        body.layered_caption = format!("In {count} layers as planned, {}", axes_of_time(shown));
        body.layered = both(WIDE, |frame| temperatures::layered(&view, frame));
    }
    body.render()
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
        .note("One wide layer: heat leaves by the top (10 W/m²K, still air) and through an 18 mm form \
               board. Timber at the sides cools a river narrower than five to eight depths further; \
               what stands deeper than it is wide counts by its width.")
        .note("Left out: stirring of warm resin before it gels, shrinkage, damp, fillers.")
        .note("Where the resin's datasheet allows less, the datasheet holds.")
}

fn verdict(asked: &Asked<'_>, whole: &WholePour) -> (String, &'static str) {
    let shown = asked.shop.shown;
    let limit = asked.evaluation.resin.working.peak_limit;
    if whole.margin < TemperatureDelta::ZERO {
        let text = format!(
            "Too hot in one pour: {} passes the limit of {} by {}. It risks amber, cracks and smoke.",
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

fn facts(asked: &Asked<'_>, whole: &WholePour) -> Vec<Figure> {
    let shown = asked.shop.shown;
    let name = |id: &str, value: String, label: &str| Figure::new(id, value, label.into(), label);
    let temperature = |k: f64| shown.temperature(Temperature::from_k(k));
    let height = shown.length(whole.depth * whole.events.peak_height_ratio);
    let mut facts = vec![
        name("one-pour", shown.temperature(whole.peak), "Hottest point, one pour")
            .formula(format!("max T over depth and time\n= {}", shown.temperature(whole.peak)))
            .note(format!("{height} above the floor of the form, where heat has farthest to go."))
            .note(format!(
                "Without a reading of your own resin, give or take {} near the limit.",
                shown.forecast_doubt()
            )),
        name("peak-after", span(whole.peak_at), "Reached after").note(
            "From the pour. Stay with it until then: a form that leaks or smokes does so now.",
        ),
    ];
    if let Ok(Deepest::Limited { depth_m }) = asked.evaluation.heat.deepest {
        let deepest = Length::from_m(depth_m);
        let spare = deepest - whole.depth;
        let label = if spare < Length::ZERO { "Too deep by" } else { "Depth to spare" };
        let amount = spare.max(Length::ZERO - spare);
        facts.push(
            name("spare", shown.length(amount), label)
                .formula(format!(
                    "deepest layer − whole depth\n= {} − {}",
                    shown.length(deepest),
                    shown.length(whole.depth)
                ))
                .note("Near the limit every further millimetre costs more than the one before."),
        );
    }
    let base = whole.trace.samples.iter().map(|s| s.underside_k).fold(f64::MIN, f64::max);
    facts.push(
        name("base-peak", temperature(base), "Base, at its hottest").note(
            "In one pour, where the resin lies on the form. Hot bases make tape and wax grip.",
        ),
    );
    facts
}

//! The station's figures with their workings.

use fondant_cast::PourTask;
use fondant_cast::heat::WholePour;
use fondant_heat::Deepest;
use fondant_quantities::{Length, Temperature, TemperatureDelta};

use super::extras::HeatExtras;
use crate::pages::stations::asked::Asked;
use crate::ui::figure::Figure;
use crate::ui::numbers::span;
use crate::ui::units::Shown;
use crate::words::counting::counted;
use crate::words::measures::form_board;

pub(crate) fn deepest(asked: &Asked<'_>, extras: Option<&HeatExtras>) -> Figure {
    let shown = asked.shown;
    let title = "Deepest single layer";
    let found = asked.evaluation.heat.deepest.as_ref().ok();
    let value = deepest_words(found, shown);
    let mut figure = Figure::new("deepest", value, "deepest single layer".into(), title)
        .hot(matches!(found, Some(Deepest::None { .. }) | None));
    if let Some(Deepest::Limited { .. }) = found {
        figure = figure.note(interval(asked, extras));
    }
    figure
        .formula(
            "the depth at which max T = limit\nρ cp ∂T/∂t = ∂/∂y (k ∂T/∂y) + ρ H dα/dt\n\
             dα/dt = (k₁ + k₂ αᵐ)(1 − α)ⁿ · glass(α, T)"
                .into(),
        )
        .note(sides(asked))
        .note("Left out: stirring of warm resin before it gels, shrinkage, damp, fillers.")
        .note("Where the resin's datasheet allows less, the datasheet holds.")
}

/// A deepest pour, or how far it was looked for.
pub(super) fn deepest_words(deepest: Option<&Deepest>, shown: Shown) -> String {
    match deepest {
        Some(Deepest::Limited { depth_m }) => shown.length_cautious(Length::from_m(*depth_m)),
        Some(Deepest::Beyond { searched_m }) => {
            format!("over {}", shown.length(Length::from_m(*searched_m)))
        }
        Some(Deepest::None { searched_m }) => {
            format!("under {}", shown.length(Length::from_m(*searched_m)))
        }
        None => "none".to_owned(),
    }
}

/// Where heat leaves a layer.
fn sides(asked: &Asked<'_>) -> String {
    let faces = format!(
        "Heat leaves by the top (10 W/m²K, still air) and through a form board of {}",
        form_board(asked.shown)
    );
    match asked.evaluation.pour_task.as_ref().and_then(PourTask::width) {
        Some(width) => format!(
            "{faces}, and by the sides where it is widest, {} from side to side: worked out across \
             them, in as many dimensions as that needs.",
            asked.shown.length(width)
        ),
        None => format!("{faces}."),
    }
}

/// Between which depths the truth lies, nine times in ten.
fn interval(asked: &Asked<'_>, extras: Option<&HeatExtras>) -> String {
    let shown = asked.shown;
    let Some(found) = extras.and_then(|extras| extras.deepest) else { return String::new() };
    let depth = |m: f64| shown.length_cautious(Length::from_m(m));
    let from = if asked.evaluation.resin.is_from_readings() {
        "by this resin's own calibration"
    } else {
        "without a reading of your own resin: heat and speed of a bottle vary"
    };
    format!("Nine times in ten between {} and {}, {from}.", depth(found.low), depth(found.high))
}

pub(crate) fn verdict(asked: &Asked<'_>, whole: &WholePour) -> (String, &'static str) {
    let shown = asked.shown;
    let limit = asked.evaluation.resin.working.peak_limit;
    if whole.margin < TemperatureDelta::ZERO {
        let text = format!(
            "Too hot in one pour: {} passes the limit of {} by {}. It risks amber, cracks and smoke.",
            shown.temperature(whole.peak),
            shown.temperature(limit),
            shown.degrees(-whole.margin.k())
        );
        // Layers that keep under the limit answer the question: then it is only why there are layers.
        (text, if planned(asked).is_some() { "care" } else { "trouble" })
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

/// That the planned pours keep under the limit; `None` where there are none, or one does not.
pub(crate) fn planned(asked: &Asked<'_>) -> Option<String> {
    let schedule = asked.evaluation.pours.as_ref().ok()?;
    let limit = asked.evaluation.resin.working.peak_limit;
    let (pours, left_k) = (schedule.pours.len(), limit.k() - schedule.peak().k());
    (pours > 1 && left_k > 0.0).then(|| {
        format!(
            "In {} as planned it stays {} below the limit of {}.",
            counted(pours, "pour"),
            asked.shown.degrees(left_k),
            asked.shown.temperature(limit)
        )
    })
}

pub(crate) fn facts(
    asked: &Asked<'_>,
    whole: &WholePour,
    extras: Option<&HeatExtras>,
) -> Vec<Figure> {
    let shown = asked.shown;
    let name = |id: &str, value: String, label: &str| Figure::new(id, value, label.into(), label);
    let temperature = |k: f64| shown.temperature(Temperature::from_k(k));
    let height = shown.length(whole.depth * whole.events.peak_height_ratio);
    let mut facts = vec![
        name("one-pour", shown.temperature(whole.peak), "Hottest point, one pour")
            .formula(format!("max T over depth and time\n= {}", shown.temperature(whole.peak)))
            .note(format!("{height} above the floor of the form, where heat has farthest to go."))
            .note(extras.and_then(|extras| extras.peak).map_or_else(String::new, |found| {
                format!(
                    "Nine times in ten between {} and {}.",
                    temperature(found.low),
                    temperature(found.high)
                )
            })),
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
                .note("Near the limit each step deeper costs more than the one before."),
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

//! Station 4: the resins that ship, compared for this cast.

use askama::Template;
use fondant_core::heat::lumped::pot_life_s;
use fondant_core::plan::Plan;
use fondant_core::quantities::units::{Unit, trimmed};
use fondant_core::quantities::{Mass, Span, TemperatureDelta};
use fondant_core::resin::{Resin, ResinId, Shelf};

use super::{Asked, InResin};
use crate::drawings::glyphs::layer_stack;
use crate::entries::Reader;
use crate::views::format::{Shown, span, with_unit};
use crate::views::words;

/// Pot lives are compared for this much mixed resin.
const BUCKET: Mass = Mass::from_kg(2.0);

#[derive(Template)]
#[template(path = "stations/resin.html")]
struct ResinBody {
    refusal: String,
    choices: Vec<Choice>,
    bucket: String,
    opens_label: &'static str,
}

struct Choice {
    id: String,
    name: String,
    purpose: String,
    reason: String,
    is_chosen: bool,
    is_trouble: bool,
    glyph: String,
    layers: String,
    hottest: String,
    limit: String,
    hours: String,
    mass: String,
    ratio: String,
    pot: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan, shelf: &Shelf) {
    let id = ResinId(reader.entries.get("resin").unwrap_or_default().to_owned());
    match shelf.find(&id) {
        Ok(_) => plan.resin = id,
        Err(error) => reader.refusals.add("", error.to_string()),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    ResinBody {
        refusal: asked.refusal(),
        choices: asked.in_each_resin.iter().map(|each| choice(asked, each)).collect(),
        bucket: bucket(asked.shop.shown),
        opens_label: crate::views::kinds::hard(asked.plan.kind).label,
    }
    .render()
}

fn bucket(shown: Shown) -> String {
    let unit = shown.system.mass();
    with_unit(&trimmed(unit.write(BUCKET), 1), unit.symbol())
}

fn choice(asked: &Asked<'_>, each: &InResin) -> Choice {
    let (shown, plan, resin) = (asked.shop.shown, asked.plan, &each.resin);
    let full_mm = asked.evaluation.measured.fill.depth().mm();
    let pot = pot_life_s(resin, BUCKET, plan.conditions.air, plan.conditions.resin);
    let mut choice = Choice {
        id: resin.id.0.clone(),
        name: resin.name.clone(),
        purpose: resin.purpose.clone(),
        reason: String::new(),
        is_chosen: asked.plan.resin == resin.id,
        is_trouble: false,
        glyph: layer_stack(&[], full_mm),
        layers: "–".into(),
        hottest: "–".into(),
        limit: shown.temperature(resin.working.peak_limit),
        hours: "–".into(),
        mass: "–".into(),
        ratio: format!("{} : {}", trimmed(resin.mix.a_by_mass, 1), trimmed(resin.mix.b_by_mass, 1)),
        pot: match pot {
            Ok(Some(seconds)) => span(Span::from_s(seconds)),
            Ok(None) => "days".into(),
            Err(_) => "–".into(),
        },
    };
    let Some(evaluation) = &each.evaluation else { return choice };
    choice.mass = shown.mass(evaluation.parts.mass);
    match &evaluation.pours {
        Ok(schedule) => {
            let depths: Vec<f64> =
                schedule.pours.iter().map(|pour| pour.layer.depth().mm()).collect();
            choice.glyph = layer_stack(&depths, full_mm);
            choice.layers = schedule.pours.len().to_string();
            choice.hottest = shown.temperature(schedule.peak());
            if let Some(first) = schedule.pours.first() {
                let hours = schedule.hard.duration_since(first.at).as_secs_f64() / 3600.0;
                choice.hours = with_unit(&format!("{hours:.0}"), "h");
            }
            choice.reason = reason(schedule.pours.len(), schedule.sanded_joints());
        }
        Err(trouble) => {
            choice.is_trouble = true;
            choice.reason = words::pours(trouble, shown);
        }
    }
    if let Some(cold) = outside_air(plan, resin, shown) {
        choice.is_trouble = true;
        choice.reason = cold;
    }
    choice
}

fn reason(pours: usize, sanded: usize) -> String {
    let lines = match pours {
        0..=2 => "few lines in the depth",
        3..=4 => "lines faint if poured in their windows",
        _ => "many lines that will show in clear resin",
    };
    match sanded {
        0 => format!("Every layer bonds sticky on sticky; {lines}."),
        1 => format!("One layer must be sanded before the next; {lines}."),
        n => format!("{n} layers must be sanded before the next; {lines}."),
    }
}

/// The shop's air is outside what the resin tolerates.
fn outside_air(plan: &Plan, resin: &Resin, shown: Shown) -> Option<String> {
    let (air, working) = (plan.conditions.air, &resin.working);
    let outside = working.coldest - air > TemperatureDelta::ZERO
        || air - working.warmest > TemperatureDelta::ZERO;
    outside.then(|| {
        format!(
            "Made for a shop of {} to {}; yours is at {}.",
            shown.temperature(working.coldest),
            shown.temperature(working.warmest),
            shown.temperature(air)
        )
    })
}

//! Station 4: the resins that ship, compared for this cast.

use askama::Template;
use fondant_cast::mix::buying::{Buying, order};
use fondant_cast::{Evaluation, Plan};
use fondant_heat::bucket::pot_life_s;
use fondant_heat::{Poured, bubbles};
use fondant_materials::resin::{Resin, ResinId, Shelf};
use fondant_quantities::units::{Unit, trimmed};
use fondant_quantities::{Length, Mass, Span, TemperatureDelta, Volume};

use super::{Asked, InResin};
use crate::drawings::glyphs::layer_stack;
use crate::entries::Reader;
use crate::routes::shelf::{HAZARDS, SUNLIGHT, words_of};
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
    cost: String,
    traits: String,
    hazards: String,
    /// The key that chooses it.
    key: char,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan, shelf: &Shelf) {
    let id = ResinId(reader.entries.get("resin").unwrap_or_default().to_owned());
    match shelf.find(&id) {
        Ok(resin) => {
            // Another resin is sold in kits of its own.
            if let (true, Some(kit)) = (plan.resin != id, resin.kit) {
                (plan.buying.kit, plan.buying.price) = (kit.volume, kit.price);
            }
            plan.resin = id;
        }
        Err(error) => reader.refusals.add("", error.to_string()),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    ResinBody {
        refusal: asked.refusal(),
        choices: asked
            .in_each_resin
            .iter()
            .zip('a'..='z')
            .map(|(each, key)| choice(asked, each, key))
            .collect(),
        bucket: bucket(asked.shop.shown),
        opens_label: crate::views::kinds::hard(asked.plan.kind).label,
    }
    .render()
}

fn bucket(shown: Shown) -> String {
    let unit = shown.system.mass();
    with_unit(&trimmed(unit.write(BUCKET), 1), unit.symbol())
}

fn choice(asked: &Asked<'_>, each: &InResin, key: char) -> Choice {
    let (shown, plan, resin) = (asked.shop.shown, asked.plan, &each.resin.as_learnt());
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
        cost: "–".into(),
        traits: traits(resin),
        hazards: hazards(resin),
        key,
    };
    let Some(evaluation) = &each.evaluation else { return choice };
    choice.mass = shown.mass(evaluation.parts.mass);
    choice.cost = cost(resin, evaluation);
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
            let deepest =
                schedule.pours.iter().map(|p| p.layer.depth()).fold(Length::ZERO, Length::max);
            let poured = Poured::fresh(plan.conditions.resin.k());
            if let Ok(found) = bubbles::rising(resin, deepest.m().max(1e-4), poured) {
                let size = shown.length_fine(Length::from_m(found.smallest_m));
                choice.reason.push_str(&format!(" Bubbles down to {size} rise out."));
            }
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

/// Kits and what they cost.
fn cost(resin: &Resin, evaluation: &Evaluation) -> String {
    let Some(kit) = resin.kit else { return "–".to_owned() };
    let buying = Buying { kit: kit.volume, price: kit.price, opened: Volume::ZERO };
    let sizing = &evaluation.measured.sizing;
    let order = order(&buying, sizing.total, sizing.uncertainty);
    let kits = if order.kits == 1 { "1 kit".to_owned() } else { format!("{} kits", order.kits) };
    if order.cost > 0.0 { format!("{} for {kits}", trimmed(order.cost, 0)) } else { kits }
}

/// What it is like once cured.
fn traits(resin: &Resin) -> String {
    let hard = match resin.cured.shore_d {
        ..78.0 => "scratches easily",
        78.0..83.0 => "fairly hard",
        _ => "hard",
    };
    format!(
        "Shore D {}, {hard}; in sunlight it {}.",
        trimmed(resin.cured.shore_d, 0),
        words_of(&SUNLIGHT, &resin.cured.sunlight)
    )
}

fn hazards(resin: &Resin) -> String {
    let all: Vec<&str> = resin.hazards.iter().map(|hazard| words_of(&HAZARDS, hazard)).collect();
    all.join(", ")
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

//! The resins side by side.

use std::sync::Arc;

use askama::Template;
use fondant_app::recipes::Mixed;
use fondant_app::stock::Stock;
use fondant_cast::document::Conditions;
use fondant_cast::facts;
use fondant_cast::facts::left::left;
use fondant_cast::mix::buying::order;
use fondant_cast::{Document, Evaluation, Need};
use fondant_heat::Air;
use fondant_heat::bubbles::{self, Bubbles};
use fondant_heat::bucket::pot_life_s;
use fondant_materials::resin::shelf::Colour;
use fondant_materials::resin::{Properties, Record};
use fondant_numerics::Stop;
use fondant_pours::{Break, Schedule};
use fondant_quantities::units::{Unit, trimmed};
use fondant_quantities::{Length, Mass, Money, Span, TemperatureDelta};

use super::colour::Colouring;
use super::drawing::layer_stack;
use crate::pages::stations::asked::Asked;
use crate::svg::Markup;
use crate::ui::numbers::{money_rounded, span, with_unit};
use crate::ui::units::Shown;
use crate::words::counting::counted;
use crate::words::resin::{HAZARDS, SUNLIGHT, words_of};
use crate::words::{kinds, trouble};

/// The cast in one resin.
pub(crate) struct InResin {
    pub(super) resin: Record,
    /// The shelf offers it no more: it is the cast's own.
    pub(super) is_put_away: bool,
    /// `None` where the cast cannot be worked out in it at all.
    pub(super) evaluation: Option<Arc<Evaluation>>,
    /// What rises out of its thickest layer.
    pub(super) bubbles: Option<Bubbles>,
}

/// What rises out of the thickest layer of a cast; `None` where the model cannot say. `conditions` are in
/// the mean of the air.
pub(super) fn rising(
    evaluation: &Evaluation,
    conditions: &Conditions,
    stop: &Stop,
) -> Option<Bubbles> {
    let depth = evaluation.pours.as_ref().ok().map(Schedule::thickest)?;
    let around = conditions
        .cooling
        .surroundings(Air::Steady(conditions.air.k()))
        .with_sides(evaluation.heat.losses.at(depth));
    let poured = evaluation.heat.poured;
    bubbles::rising(&evaluation.resin, around, depth.m(), poured, stop).ok()
}

/// Pot lives are compared for this much mixed resin.
const BUCKET: Mass = Mass::from_kg(2.0);

#[derive(Template)]
#[template(path = "pages/stations/resin/resin.html")]
struct ResinBody {
    refusal: String,
    /// What the choice does to what is in; empty where nothing is.
    in_form: String,
    choices: Vec<Choice>,
    bucket: String,
    opens_label: &'static str,
    colour: Colouring,
}

// Many fields: a card of the comparison stands flat beside its template.
struct Choice {
    id: String,
    name: String,
    purpose: String,
    reason: String,
    is_chosen: bool,
    is_trouble: bool,
    glyph: Markup,
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

pub(super) fn view(
    asked: &Asked<'_>,
    each: &[InResin],
    stock: &Stock,
    (colours, mixed): (&[Colour], &[Mixed]),
) -> askama::Result<Markup> {
    let all = each.iter().zip('a'..='z');
    Markup::of(&ResinBody {
        refusal: asked.refusal(),
        in_form: in_form(asked),
        choices: all.map(|(each, key)| choice(asked, each, stock, key)).collect(),
        bucket: bucket(asked.shown),
        opens_label: kinds::hard(asked.document.kind()).label,
        colour: Colouring::of(asked, colours, mixed),
    })
}

/// What a choice does once something is poured; empty before.
fn in_form(asked: &Asked<'_>) -> String {
    let poured = facts::poured(&asked.visit.facts);
    let planned = asked.evaluation.planned.iter().flatten();
    let mut names: Vec<&str> = planned
        .filter(|pour| poured.contains(&pour.id))
        .map(|pour| &*asked.evaluation.need_of(&pour.given.layer).resin.name)
        .collect();
    names.dedup();
    if names.is_empty() {
        return String::new();
    }
    format!(
        "The form already holds {}. Choose for what is left. Whether one resin bonds to the other, their \
         datasheets say; try it on a cup. If another resin was poured, withdraw that note at Pours, choose it \
         here, and write the pour down again.",
        names.join(" and ")
    )
}

/// What is said of a resin that gets too hot in the layers of a plan that was made for another.
const TOO_HOT: &str = "Hotter than it may get, with the layers of this plan. Chosen, it needs others: take them at Pours.";

fn bucket(shown: Shown) -> String {
    let unit = shown.system.mass();
    with_unit(&trimmed(unit.write(BUCKET), 1), unit.symbol())
}

fn choice(asked: &Asked<'_>, each: &InResin, stock: &Stock, key: char) -> Choice {
    let (shown, document, resin) = (asked.shown, asked.document, &each.resin.calibrated());
    let full_mm = asked.evaluation.measured.fill.depth().mm();
    let pot = pot_life_s(resin, BUCKET, document.conditions.air, document.conditions.resin);
    let mut choice = Choice {
        id: resin.id.0.clone(),
        name: resin.name.clone(),
        purpose: match each.is_put_away {
            true => {
                format!("{} Put away on the shelf: it is offered to no other cast.", resin.purpose)
            }
            false => resin.purpose.clone(),
        },
        reason: String::new(),
        is_chosen: document.resin == resin.id,
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
    let needs = left(evaluation, &asked.visit.facts);
    choice.mass = shown.mass(needs[0].parts.mass);
    choice.cost = cost(resin, &needs[0], stock);
    let mut troubles = Vec::new();
    match &evaluation.pours {
        Ok(schedule) => {
            choice.poured(asked, each.bubbles, schedule);
            let is_hot = |broken: &Break| matches!(broken, Break::TooHot { .. });
            troubles.extend(schedule.breaks.iter().any(is_hot).then(|| TOO_HOT.to_owned()));
        }
        Err(trouble) => troubles.push(trouble::pours(trouble, shown)),
    }
    troubles.extend(outside_air(document, resin, shown));
    choice.is_trouble = !troubles.is_empty();
    if choice.is_trouble {
        choice.reason = troubles.join(" ");
    }
    choice
}

impl Choice {
    /// How it would be poured.
    fn poured(&mut self, asked: &Asked<'_>, bubbles: Option<Bubbles>, schedule: &Schedule) {
        let shown = asked.shown;
        let depths: Vec<Length> = schedule.pours.iter().map(|pour| pour.layer.depth()).collect();
        let depths_mm: Vec<f64> = depths.iter().map(|depth| depth.mm()).collect();
        self.glyph = layer_stack(&depths_mm, asked.evaluation.measured.fill.depth().mm());
        self.layers = depths.len().to_string();
        self.hottest = shown.temperature(schedule.peak());
        if let Some(first) = schedule.pours.first() {
            let hours = schedule.form_opens().duration_since(first.at).as_secs_f64() / 3600.0;
            self.hours = with_unit(&format!("{hours:.0}"), "h");
        }
        self.reason = reason(depths.len(), schedule.sanded_joints());
        if let Some(found) = bubbles {
            let size = shown.length_fine(Length::from_m(found.smallest_m));
            self.reason.push_str(&format!(" Bubbles down to {size} rise out."));
        }
    }
}

/// Kits and what they cost, after what is free on the shelf.
fn cost(resin: &Properties, own: &Need, stock: &Stock) -> String {
    let Some(buying) = stock.buying(&resin.id, resin.kit) else { return "–".to_owned() };
    let order = order(&buying, own.parts.volume, own.uncertainty);
    if order.kits == 0 {
        return "from the shelf".to_owned();
    }
    let kits = counted(order.kits, "kit");
    if order.cost > Money::ZERO {
        format!("{} for {kits}", money_rounded(order.cost))
    } else {
        kits
    }
}

/// What it is like once cured.
fn traits(resin: &Properties) -> String {
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

fn hazards(resin: &Properties) -> String {
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
        n => format!("{} must be sanded before the next; {lines}.", counted(n, "layer")),
    }
}

/// The shop's air is outside what the resin tolerates.
fn outside_air(document: &Document, resin: &Properties, shown: Shown) -> Option<String> {
    let (air, working) = (document.conditions.air, &resin.working);
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

//! Station 5: how hot it gets.
//!
//! - this file: the form and the page
//! - [`extras`]: what is worked out beside the plan
//! - [`figures`]: figures with their workings
//! - [`panels`]: limits, changes, bucket, bubbles

mod extras;
mod figures;
mod panels;

use askama::Template;
use fondant_cast::{AirFrom, DepthOverride, Plan};
use fondant_heat::cooling::CoolingBy;
use fondant_quantities::units::Unit;
use fondant_quantities::{Length, Span, bounds};

use super::Asked;
use crate::drawings::temperatures::{self, Temperatures, axes_of_time};
use crate::drawings::{HALF, WIDE, both};
use crate::entries::Reader;
use crate::state::Shop;
use crate::views::fields::Field;
use crate::views::figure::Figure;
use crate::views::words;

pub(in crate::routes) use extras::{HeatExtras, slower};

/// Longest reason for a depth, characters.
const REASON_CHARACTERS: usize = 200;

const COOLINGS: [(&str, &str, CoolingBy); 5] = [
    ("nothing", "still air", CoolingBy::Nothing),
    ("fan", "a fan over it", CoolingBy::Fan),
    ("lid", "a lid over it", CoolingBy::Lid),
    ("bath", "cold water under and around the form", CoolingBy::Bath),
    ("cooler_box", "a box of cold air", CoolingBy::CoolerBox),
];

#[derive(Template)]
#[template(path = "stations/heat.html")]
struct HeatBody {
    refusal: String,
    fields: Vec<Field>,
    more_fields: Vec<Field>,
    cast: i64,
    /// Where the section is cut, and how far it can be, mm.
    cut: f64,
    cut_most: f64,
    cut_says: String,
    can_cut: bool,
    depth_points: String,
    depth_main: f64,
    unit: &'static str,
    one_pour: String,
    one_pour_caption: String,
    depth: String,
    layered: String,
    layered_caption: String,
    deepest: Figure,
    deepest_says: String,
    needs_reason: bool,
    trouble: String,
    verdict: String,
    verdict_class: &'static str,
    base_says: String,
    facts: Vec<Figure>,
    limits: Vec<panels::Line>,
    buys: Vec<panels::Line>,
    bucket_says: String,
    wait_says: String,
    waits: Vec<panels::Line>,
    bubbles: Vec<String>,
    forecast: String,
}

/// What an entry loses by being shown to a tenth of a degree.
const SAME_AIR_K: f64 = 0.06;

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan, shop: &Shop) {
    let shown = shop.site.in_mean_air(plan).conditions.air;
    let mut air = shown;
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut air);
    let conditions = &mut plan.conditions;
    // The mean of the shop's own air stands there; a figure typed over it is
    // steady air from then on.
    if (air - shown).k().abs() > SAME_AIR_K {
        conditions.air_from = AirFrom::Steady;
    }
    if conditions.air_from == AirFrom::Steady {
        conditions.air = air;
    }
    reader.quantity("resin", &bounds::RESIN_TEMPERATURE, &mut conditions.resin);
    // Older pages of this station, still open in a tab, do not have the rest.
    if reader.entries.get("cooling").is_none() {
        return;
    }
    reader.choice("cooling", &COOLINGS.map(|(v, _, by)| (v, by)), &mut conditions.cooling.by);
    if let Some(mut at) = conditions.cooling.at
        && reader.entries.get("cooling_at").is_some()
    {
        reader.quantity("cooling_at", &bounds::COOLING_TEMPERATURE, &mut at);
        conditions.cooling.at = Some(at);
    }
    if reader.entries.get("cooling_hours").is_some() {
        let mut hours = conditions.cooling.lasts.h();
        reader.number("cooling_hours", &bounds::COOLING_HOURS, &mut hours);
        conditions.cooling.lasts = Span::from_h(hours);
    }
    reader.quantity("bucket", &bounds::BUCKET, &mut conditions.bucket);
    let mut minutes = conditions.waits.s() / 60.0;
    reader.number("waits", &bounds::WAITS_MINUTES, &mut minutes);
    conditions.waits = Span::from_s(minutes * 60.0);
    let mut wanted: Option<Length> = None;
    reader.maybe("layer_depth", &bounds::TAKEN_DEPTH, &mut wanted);
    let mut reason = String::new();
    reader.text("reason", "The reason", REASON_CHARACTERS, true, &mut reason);
    plan.depth_override = wanted.map(|depth| DepthOverride { depth, reason });
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (heat, resin) = (&evaluation.heat, &evaluation.resin);
    let extras = asked.heat_extras.as_ref();
    let limit = resin.working.peak_limit;
    let view = Temperatures { plan, evaluation, shown };
    let (fields, more_fields) = fields(asked);
    let fill = &evaluation.measured.fill;
    let unit = shown.system.length();
    let mut body = HeatBody {
        refusal: asked.refusal(),
        fields,
        more_fields,
        cast: asked.cast.0,
        cut: asked.cut_at().mm().round(),
        cut_most: evaluation.measured.layout.length.mm().round(),
        cut_says: shown.length(asked.cut_at()),
        can_cut: plan.kind.has_form()
            && !matches!(plan.kind, fondant_cast::Kind::Block | fondant_cast::Kind::Embed),
        depth_points: String::new(),
        depth_main: unit.write(fill.depth() - fill.base()),
        unit: unit.symbol(),
        one_pour: String::new(),
        one_pour_caption: String::new(),
        depth: String::new(),
        layered: String::new(),
        layered_caption: String::new(),
        deepest: figures::deepest(asked, extras),
        deepest_says: String::new(),
        needs_reason: heat.limits.needs_reason,
        trouble: String::new(),
        verdict: String::new(),
        verdict_class: "care",
        base_says: String::new(),
        facts: Vec::new(),
        limits: panels::limits(asked),
        buys: extras.map_or_else(Vec::new, |extras| panels::buys(asked, extras)),
        bucket_says: String::new(),
        wait_says: extras.map_or_else(String::new, |extras| panels::too_long(asked, extras)),
        waits: Vec::new(),
        bubbles: extras.map_or_else(Vec::new, |extras| panels::bubbles(asked, extras)),
        forecast: forecast(asked),
    };
    if let Some(extras) = extras {
        (body.bucket_says, body.waits) = panels::bucket(asked, extras);
    }
    match &heat.deepest {
        Ok(_) => {
            body.deepest_says = format!(
                "so that no point passes {}, air {}, resin {}. The plan pours layers of at most {}.",
                shown.temperature(limit),
                shown.temperature(plan.conditions.air),
                shown.temperature(plan.conditions.resin),
                shown.length_cautious(heat.allowed),
            );
        }
        Err(error) => body.trouble = words::heat(error, shown),
    }
    if let Ok(whole) = &heat.whole {
        body.one_pour_caption =
            format!("All {} in one pour, {}", shown.length(whole.depth), axes_of_time(shown));
        body.one_pour = both(HALF, |frame| temperatures::one_pour(&view, whole, frame));
        if let Some(extras) = extras {
            body.depth = temperatures::depth(&view, whole, &extras.by_depth);
            body.depth_points = temperatures::depth_points(&view, &extras.by_depth);
        }
        (body.verdict, body.verdict_class) = figures::verdict(asked, whole);
        body.facts = figures::facts(asked, whole, extras);
    }
    if let Ok(schedule) = &evaluation.pours {
        let count = schedule.pours.len();
        body.layered_caption = format!("In {count} layers as planned, {}", axes_of_time(shown));
        body.layered = both(WIDE, |frame| temperatures::layered(&view, frame));
        let samples = schedule.run.trace().map_or(&[][..], |trace| &trace.samples);
        let base = samples.iter().map(|s| s.underside_k).fold(f64::MIN, f64::max);
        body.base_says = panels::base(plan, base, asked);
    }
    body.render()
}

/// Temperatures and depth first; what is changed less often behind them.
fn fields(asked: &Asked<'_>) -> (Vec<Field>, Vec<Field>) {
    let (fields, conditions) = (asked.fields(), &asked.plan.conditions);
    let taken = asked.plan.depth_override.as_ref();
    let depth = taken.map_or_else(String::new, |taken| asked.shop.shown.length_entry(taken.depth));
    let mut first = vec![
        fields.temperature("air", "Air at the pour and after", conditions.air).hint(
            match conditions.air_from {
                AirFrom::Shop => "The mean of the shop's own air. Type over it for steady air.",
                AirFrom::Steady => "",
            },
        ),
        fields.temperature("resin", "Resin when mixed", conditions.resin),
        fields
            .text("layer_depth", "Deepest layer you want", &depth)
            .hint("Empty pours as deep as is allowed. Or drag the depth in the drawing."),
    ];
    if taken.is_some() {
        let reason = taken.map_or("", |taken| taken.reason.as_str());
        first.push(fields.text("reason", "Reason, if deeper than allowed", reason));
    }
    let chosen = COOLINGS.iter().find(|c| c.2 == conditions.cooling.by).map_or("nothing", |c| c.0);
    let mut more = vec![fields.choice(
        "cooling",
        "Kept cool by",
        chosen,
        &COOLINGS.map(|(value, label, _)| (value, label)),
    )];
    if matches!(conditions.cooling.by, CoolingBy::Bath | CoolingBy::CoolerBox)
        && let Some(at) = conditions.cooling.at
    {
        more.push(fields.temperature("cooling_at", "Water or box at", at));
    }
    if conditions.cooling.by != CoolingBy::Nothing {
        let hours = conditions.cooling.lasts.h();
        more.push(
            fields
                .number("cooling_hours", "For how long from the first pour", hours, &bounds::COOLING_HOURS)
                .hint("0 is until the form is opened. What is taken away early still has heat to give."),
        );
    }
    let buckets = asked.shop.workshop.settings.shop.buckets.iter();
    let buckets: Vec<String> = buckets.map(|b| asked.shop.shown.mass_entry(*b)).collect();
    more.push(
        fields
            .mass("bucket", "Mixed in one bucket", conditions.bucket)
            .offering(&buckets)
            .hint(format!("The shop has {}.", buckets.join(", "))),
    );
    let minutes = conditions.waits.s() / 60.0;
    more.push(fields.number(
        "waits",
        "Waits in it before the pour",
        minutes,
        &bounds::WAITS_MINUTES,
    ));
    (first, more)
}

/// How far the forecast is to be believed.
fn forecast(asked: &Asked<'_>) -> String {
    let shown = asked.shop.shown;
    match &asked.evaluation.resin.learnt {
        Some(learnt) => format!(
            "This resin has learnt from a log of lot {}. Another lot, colour or age may differ: stay \
             with a deep pour until it has peaked.",
            if learnt.lot.is_empty() { "unknown" } else { &learnt.lot }
        ),
        None => format!(
            "Forecasts, good to {} near the limit until this resin has learnt from a cup of its own. \
             Stay with a deep pour until it has peaked.",
            shown.forecast_doubt()
        ),
    }
}

//! The form of temperatures, cooling, bucket and depth.

use fondant_app::Shop;
use fondant_cast::Document;
use fondant_cast::document::{AirFrom, DepthOverride};
use fondant_heat::cooling::CoolingBy;
use fondant_quantities::{Length, Mass, Span, bounds};

use crate::pages::stations::asked::Asked;
use crate::ui::field::Field;
use crate::ui::numbers::span;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::ui::written::Written;

const COOLINGS: [(&str, &str, CoolingBy); 5] = [
    ("nothing", "still air", CoolingBy::Nothing),
    ("fan", "a fan over it", CoolingBy::Fan),
    ("lid", "a lid over it", CoolingBy::Lid),
    ("bath", "cold water under and around the form", CoolingBy::Bath),
    ("cooler_box", "a box of cold air", CoolingBy::CoolerBox),
];

/// What an entry loses by being shown to a tenth of a degree.
const SAME_AIR_K: f64 = 0.06;

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
    let shown = shop.site().in_mean_air(document).conditions.air;
    let mut air = shown;
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut air);
    let conditions = &mut document.conditions;
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
        // The button that ends it past the peak carries its own hours.
        let is_past_peak = reader.entries.get("past_peak").is_some();
        let name = if is_past_peak { "past_peak" } else { "cooling_hours" };
        reader.number(name, &bounds::COOLING_HOURS, &mut hours);
        conditions.cooling.lasts = Span::from_h(hours);
    }
    reader.quantity("bucket", &bounds::BUCKET, &mut conditions.bucket);
    let mut minutes = conditions.waits.s() / 60.0;
    reader.number("waits", &bounds::WAITS_MINUTES, &mut minutes);
    conditions.waits = Span::from_s(minutes * 60.0);
    let mut wanted: Option<Length> = None;
    reader.maybe("layer_depth", &bounds::TAKEN_DEPTH, &mut wanted);
    let mut reason = String::new();
    reader.text("reason", "The reason", bounds::REASON_CHARACTERS, true, &mut reason);
    document.depth_override = wanted.map(|depth| DepthOverride { depth, reason });
}

/// When cooling may end: what is taken away before the peak has buys little.
fn ends(asked: &Asked<'_>) -> String {
    let always = "0 is until the form is opened.";
    match &asked.evaluation.heat.whole {
        Ok(whole) => format!(
            "{always} All in one pour it peaks after {}: what is taken away before still has heat to \
             give.",
            span(whole.peak_at)
        ),
        Err(_) => always.to_owned(),
    }
}

/// Temperatures and depth first; what is changed less often behind them.
pub(super) fn fields(asked: &Asked<'_>) -> (Vec<Field>, Vec<Field>) {
    let (fields, conditions) = (asked.fields(), &asked.document.conditions);
    let taken = asked.document.depth_override.as_ref();
    let depth = taken.map_or_else(String::new, |taken| taken.depth.entry(asked.shown));
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
            .hint("Leave empty to pour as deep as allowed, or drag the depth in the drawing."),
    ];
    if taken.is_some() {
        let reason = taken.map_or("", |taken| taken.reason.as_str());
        first.push(fields.text("reason", "Reason, if deeper than allowed", reason));
    }
    let mut more = cooling(asked);
    more.extend(bucket(asked));
    (first, more)
}

/// How it is kept cool, how cold and for how long.
fn cooling(asked: &Asked<'_>) -> Vec<Field> {
    let (fields, conditions) = (asked.fields(), &asked.document.conditions);
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
                .number(
                    "cooling_hours",
                    "For how long from each pour",
                    hours,
                    &bounds::COOLING_HOURS,
                )
                .hint(ends(asked)),
        );
    }
    more
}

/// A bucket as it is called where it is one of the shop's system, and how large it is where not.
fn in_words(bucket: Mass, shown: Shown) -> String {
    if bucket.written_in(shown) == shown { bucket.entry(shown) } else { shown.mass(bucket) }
}

/// What is mixed at a time, and how long that waits.
fn bucket(asked: &Asked<'_>) -> [Field; 2] {
    let (fields, conditions) = (asked.fields(), &asked.document.conditions);
    let buckets = asked.shop.workshop.settings.shop.buckets.iter();
    let offered: Vec<String> = buckets.clone().map(|b| b.entry(asked.shown)).collect();
    let owned: Vec<String> = buckets.map(|b| in_words(*b, asked.shown)).collect();
    let mixed = fields
        .mass("bucket", "Mixed in one bucket", conditions.bucket)
        .offering(&offered)
        .hint(format!("The shop has {}.", owned.join(", ")));
    let minutes = conditions.waits.s() / 60.0;
    let waits =
        fields.number("waits", "Waits in it before the pour", minutes, &bounds::WAITS_MINUTES);
    [mixed, waits]
}

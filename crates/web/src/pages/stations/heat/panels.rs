//! The station's panels: limits of depth, what changes would buy, the bucket,
//! bubbles, the base.

use fondant_cast::heat::Holds;
use fondant_cast::planning::{Change, ChangeOf};
use fondant_heat::bubbles::{Bubbles, SEEN_M, shrunk_ratio};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::seal::Release;

use super::extras::{Clearing, HeatExtras, WARMER_K};
use super::figures::deepest_words;
use crate::pages::stations::asked::Asked;
use crate::ui::numbers::span;

/// Tape and wax begin to grip a base as warm as this, °C.
const GRIPS_C: f64 = 45.0;

/// A line of a table: what, its figure, and a word on it.
pub(crate) struct Line {
    pub(crate) what: String,
    pub(crate) figure: String,
    pub(crate) more: String,
    pub(crate) is_here: bool,
}

fn line(what: &str, figure: String, more: impl Into<String>, is_here: bool) -> Line {
    Line { what: what.to_owned(), figure, more: more.into(), is_here }
}

/// Datasheet, rule of thumb and model side by side.
pub(crate) fn limits(asked: &Asked<'_>) -> Vec<Line> {
    let (shown, limits) = (asked.shown, &asked.evaluation.heat.limits);
    let depth =
        |q: Option<Length>| q.map_or_else(|| "not said".to_owned(), |q| shown.length_cautious(q));
    let mut lines = vec![
        line(
            "Model",
            shown.length_cautious(limits.cautious),
            format!("{:.0}\u{202f}% off the deepest for its uncertainty", limits.caution * 100.0),
            limits.holds == Holds::Model,
        ),
        line(
            "Datasheet",
            depth(limits.datasheet),
            if limits.datasheet.is_some() {
                "for this air and resin"
            } else {
                "enter it on the Shelf"
            },
            limits.holds == Holds::Datasheet,
        ),
        line(
            "Shop's rule",
            depth(limits.rule_of_thumb),
            if limits.rule_of_thumb.is_some() {
                "as on the Shelf"
            } else {
                "enter it on the Shelf"
            },
            limits.holds == Holds::RuleOfThumb,
        ),
    ];
    if let Some(wanted) = limits.wanted {
        let (more, holds) = match limits.holds {
            Holds::Maker => ("taken on by you, with a reason", true),
            Holds::Wish => ("less than they allow", true),
            _ => ("deeper than they allow: write the reason", false),
        };
        lines.push(line("Yours", shown.length_cautious(wanted), more, holds));
    }
    lines
}

/// What the usual changes would help.
pub(crate) fn buys(asked: &Asked<'_>, extras: &HeatExtras) -> Vec<Line> {
    let shown = asked.shown;
    let words = |change: &Change| match &change.what {
        ChangeOf::AsPlanned => "as planned".to_owned(),
        ChangeOf::Cooler => format!("air and resin {} cooler", shown.degrees(3.0)),
        ChangeOf::Fan => "a fan over it".to_owned(),
        ChangeOf::Bath => "the form in ice water".to_owned(),
        ChangeOf::TwoPours => "two pours, each hard before the next".to_owned(),
        ChangeOf::Resin(name) => name.clone(),
    };
    extras
        .changes
        .iter()
        .map(|change| {
            let is_here = change.what == ChangeOf::AsPlanned;
            line(
                &words(change),
                deepest_words(change.deepest.as_ref(), shown),
                shown.temperature(change.peak),
                is_here,
            )
        })
        .collect()
}

/// Minutes to the end of the pot life, and what waiting adds.
pub(crate) fn bucket(asked: &Asked<'_>, extras: &HeatExtras) -> (String, Vec<Line>) {
    let (shown, conditions) = (asked.shown, &asked.document.conditions);
    let mass = shown.mass(asked.evaluation.batch);
    let pot = extras.pot_life.map_or_else(
        || format!("A batch of {mass} stays pourable for days."),
        |pot| format!("A batch of {mass} can be poured for {}.", span(pot)),
    );
    let first = extras.by_wait.first().map_or(0.0, |(_, peak)| peak.k());
    let lines = extras.by_wait.iter().map(|(wait, peak)| {
        let over = extras.pot_life.is_some_and(|pot| *wait > pot);
        let more = if over {
            "past its time: too thick or too hot to pour".to_owned()
        } else {
            format!("+{}", shown.degrees((peak.k() - first).max(0.0)))
        };
        let what = if *wait <= Span::ZERO { "at once".to_owned() } else { span(*wait) };
        let is_here = (*wait - conditions.waits).s().abs() < 30.0;
        line(&what, shown.temperature(*peak), more, is_here)
    });
    (pot, lines.collect())
}

/// A wait in the bucket past the time in which it can be poured.
pub(crate) fn too_long(asked: &Asked<'_>, extras: &HeatExtras) -> String {
    let waits = asked.document.conditions.waits;
    match extras.pot_life {
        Some(pot) if waits > pot => format!(
            "It waits {} in the bucket and can be poured for {} only. Pour sooner, or mix less at a \
             time.",
            span(waits),
            span(pot)
        ),
        _ => String::new(),
    }
}

/// What rises out before the gel, what is warned of, and what warmth and pressure do.
pub(crate) fn bubbles(asked: &Asked<'_>, extras: &HeatExtras) -> Vec<String> {
    let Some(Clearing { depth, now, warmer }) = extras.bubbles else { return Vec::new() };
    let shown = asked.shown;
    let size = |m: f64| shown.length_fine(Length::from_m(m));
    let hours = |s: f64| span(Span::from_s(s));
    let out = |bubbles: &Bubbles| match bubbles.seen_out_s {
        Some(s) => format!("bubbles of {} are out after {}", size(SEEN_M), hours(s)),
        None => format!("not even bubbles of {} get out", size(SEEN_M)),
    };
    let mut all = vec![
        format!(
            "From the bottom of a layer of {} {}, and those down to {} before it gels, {} after the \
             pour.",
            shown.length(depth),
            out(&now),
            size(now.smallest_m),
            hours(now.gels_s)
        ),
        format!(
            "Resin {} warmer: {}, and down to {} before it gels, {}. {}",
            shown.degrees(WARMER_K),
            out(&warmer),
            size(warmer.smallest_m),
            hours(warmer.gels_s),
            warmth(&now, &warmer)
        ),
    ];
    let (resin, working) = (asked.document.conditions.resin, &asked.evaluation.resin.working);
    if resin < working.coldest {
        all.push(format!(
            "▲ Resin at {} is colder than it is worked at, {}: it holds what is stirred into it. Warm \
             the bottles first.",
            shown.temperature(resin),
            shown.temperature(working.coldest)
        ));
    }
    all.extend(pressure(asked));
    all.push(
        "Bubbles that cling to timber or an edge do not rise by themselves: let them out, and watch \
         the first half hour."
            .to_owned(),
    );
    all
}

/// What warmth does to bubbles.
fn warmth(now: &Bubbles, warmer: &Bubbles) -> &'static str {
    if warmer.smallest_m < now.smallest_m {
        "It clears sooner and better, and the layer gets hotter."
    } else {
        "What can be seen clears sooner; the finest stay, as it gels before they are out. The layer \
         gets hotter."
    }
}

/// What the pot does to what stays.
fn pressure(asked: &Asked<'_>) -> Option<String> {
    asked.document.contents.pot()?;
    let bar = asked.shop.workshop.settings.shop.pot_bar?;
    Some(format!(
        "In the pot, at {} over the air's, what stays shrinks to {}\u{202f}% of its diameter until it has \
         set.",
        asked.shown.pressure(bar),
        trimmed(shrunk_ratio(bar) * 100.0, 0)
    ))
}

/// A base so warm that tape or wax grips.
pub(super) fn base(base_k: f64, asked: &Asked<'_>) -> String {
    let base = Temperature::from_k(base_k);
    let Some(build) = asked.document.contents.build() else { return String::new() };
    let release = match build.release {
        Release::Tape => "tape",
        Release::Wax => "wax",
        _ => return String::new(),
    };
    if base.celsius() < GRIPS_C {
        return String::new();
    }
    format!(
        "The base reaches {}: {release} grips from about {} on. Pour thinner, or line the form \
         with bare polyethylene or polypropylene.",
        asked.shown.temperature(base),
        asked.shown.temperature(Temperature::from_celsius(GRIPS_C))
    )
}

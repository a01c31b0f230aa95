//! The station's panels: limits of depth, what changes would buy, the bucket,
//! bubbles, the base.

use fondant_cast::{Change, ChangeOf, Holds, Plan};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::seal::Release;

use super::super::Asked;
use super::extras::HeatExtras;
use crate::views::format::span;

/// Tape and wax begin to grip a base as warm as this, °C.
const GRIPS_C: f64 = 45.0;

/// A line of a table: what, its figure, and a word on it.
pub(super) struct Line {
    pub(super) what: String,
    pub(super) figure: String,
    pub(super) more: String,
    pub(super) is_here: bool,
}

fn line(what: &str, figure: String, more: impl Into<String>, is_here: bool) -> Line {
    Line { what: what.to_owned(), figure, more: more.into(), is_here }
}

/// Datasheet, rule of thumb and model side by side.
pub(super) fn limits(asked: &Asked<'_>) -> Vec<Line> {
    let (shown, limits) = (asked.shop.shown, &asked.evaluation.heat.limits);
    let depth =
        |q: Option<Length>| q.map_or_else(|| "not said".to_owned(), |q| shown.length_cautious(q));
    let mut lines = vec![
        line(
            "Model",
            shown.length_cautious(limits.cautious),
            format!("{:.0} % off the deepest for its doubt", limits.caution * 100.0),
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

/// What the usual changes would buy.
pub(super) fn buys(asked: &Asked<'_>, extras: &HeatExtras) -> Vec<Line> {
    let shown = asked.shop.shown;
    let words = |change: &Change| match &change.what {
        ChangeOf::AsPlanned => "as planned".to_owned(),
        ChangeOf::Cooler => format!("air and resin {} cooler", shown.degrees(3.0)),
        ChangeOf::Fan => "a fan over it".to_owned(),
        ChangeOf::Bath => "ice water under the form".to_owned(),
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
                shown.length_cautious(change.deepest),
                shown.temperature(change.peak),
                is_here,
            )
        })
        .collect()
}

/// Minutes to the end of the pot life, and what waiting adds.
pub(super) fn bucket(asked: &Asked<'_>, extras: &HeatExtras) -> (String, Vec<Line>) {
    let (shown, plan) = (asked.shop.shown, asked.plan);
    let mass = shown.mass(plan.conditions.bucket);
    let pot = extras.pot_life.map_or_else(
        || format!("{mass} in one bucket stays pourable for days."),
        |pot| format!("{mass} in one bucket can be poured for {}.", span(pot)),
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
        let is_here = (*wait - plan.conditions.waits).s().abs() < 30.0;
        line(&what, shown.temperature(*peak), more, is_here)
    });
    (pot, lines.collect())
}

/// A wait in the bucket past the time in which it can be poured.
pub(super) fn too_long(asked: &Asked<'_>, extras: &HeatExtras) -> String {
    let waits = asked.plan.conditions.waits;
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

/// Which bubbles rise out.
pub(super) fn bubbles(asked: &Asked<'_>, extras: &HeatExtras) -> Vec<String> {
    let Some((now, warmer)) = &extras.bubbles else { return Vec::new() };
    let shown = asked.shop.shown;
    let size = |m: f64| shown.length_fine(Length::from_m(m));
    let depth = shown.length(asked.evaluation.measured.fill.depth());
    let gels = |s: f64| span(Span::from_s(s));
    let verdict = if warmer.smallest_m < now.smallest_m * 0.97 {
        "clears better"
    } else if warmer.smallest_m > now.smallest_m * 1.03 {
        "clears worse: it gels before they are out"
    } else {
        "clears no better: what it gains in flow it loses in time"
    };
    vec![
        format!(
            "From the bottom of {depth} bubbles down to {} rise out before it gels, {} after the pour.",
            size(now.smallest_m),
            gels(now.gels_s)
        ),
        format!(
            "Resin {} warmer {verdict}: {}, gelled after {}, and the pour runs hotter.",
            shown.degrees(5.0),
            size(warmer.smallest_m),
            gels(warmer.gels_s)
        ),
        "Bubbles that cling to timber or an edge do not rise by themselves: let them out, and watch \
         the first half hour."
            .to_owned(),
    ]
}

/// A base so warm that tape or wax grips.
pub(super) fn base(plan: &Plan, base_k: f64, asked: &Asked<'_>) -> String {
    let base = Temperature::from_k(base_k);
    let release = match plan.build.release {
        Release::Tape => "tape",
        Release::Wax => "wax",
        _ => return String::new(),
    };
    if base.celsius() < GRIPS_C || !plan.kind.has_form() {
        return String::new();
    }
    format!(
        "The base reaches {}: {release} grips from about {} on. Pour thinner, or line the form \
         with bare polyethylene or polypropylene.",
        asked.shop.shown.temperature(base),
        asked.shop.shown.temperature(Temperature::from_celsius(GRIPS_C))
    )
}

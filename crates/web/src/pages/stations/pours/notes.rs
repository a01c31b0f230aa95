//! Sentences about a plan: narrow places, thick buckets, missed windows, the shop's hours.

use fondant_cast::pours::{InBucket, lead};
use fondant_cast::{Evaluation, PourTask};
use fondant_numerics::Stop;
use fondant_pours::{Joint, Schedule, Workday};
use fondant_quantities::{Length, Span};

use crate::pages::stations::asked::Asked;
use crate::ui::numbers::span;
use crate::words::{layers, pours as words};

/// Windows that open later by less at the narrowest place are not told of.
const HARDLY_LATER: Span = Span::from_s(600.0);

/// How much later windows open where the piece is narrowest; nothing where the
/// model cannot follow that place.
pub(super) fn narrowest(evaluation: &Evaluation, stop: &Stop) -> Option<(Length, Span)> {
    let (task, schedule) = (evaluation.pour_task.as_ref()?, evaluation.pours.as_ref().ok()?);
    task.until(stop).later_at_narrowest(schedule).ok().flatten()
}

/// A sentence where windows open later at the narrowest place than where the
/// piece is widest, which the plan goes by.
pub(super) fn narrow(asked: &Asked<'_>, narrowest: Option<(Length, Span)>) -> String {
    let shown = asked.shown;
    let width = asked.evaluation.pour_task.as_ref().and_then(PourTask::width);
    match (narrowest, width) {
        (Some((there, later)), Some(width)) if later >= HARDLY_LATER => format!(
            "Based on the widest place, {}, including the timber beside it. Where it is {} wide, the \
             window opens up to {} later: test that place too.",
            shown.length(width),
            shown.length(there),
            span(later)
        ),
        _ => String::new(),
    }
}

/// The work before the first pour, and when the first pour can be.
pub(super) fn prepared(asked: &Asked<'_>) -> String {
    let (document, shown) = (asked.document, asked.shown);
    let steps = lead::steps(document, &asked.evaluation.measured);
    let each = steps.iter().map(|step| {
        let wait = match step.waits > Span::ZERO {
            true => format!(" and {} of waiting", span(step.waits)),
            false => String::new(),
        };
        format!("{} {}{wait}", words::lead(step.work), span(step.hands))
    });
    let each: Vec<String> = each.collect();
    let list = if each.is_empty() { "nothing to do".to_owned() } else { each.join(", ") };
    let first = asked.evaluation.pour_task.as_ref().map(|task| {
        let at = shown.date_and_time(task.earliest(), asked.shop.hours().zone());
        format!(" No pour before {at}.")
    });
    format!("Empty: computed ({list}). 0: all is ready.{}", first.unwrap_or_default())
}

/// A sentence where a bucket would be too thick before it is poured.
pub(super) fn too_thick(asked: &Asked<'_>) -> Option<String> {
    let shown = asked.shown;
    match asked.evaluation.pour_task.as_ref()?.in_bucket() {
        InBucket::Fits => None,
        InBucket::Smaller { mass, pot_life } => Some(format!(
            "Mixed {} at a time: more in one bucket warms itself and is too thick after {}, before \
             it is poured.",
            shown.mass(mass),
            span(pot_life)
        )),
        InBucket::Never { pot_life } => Some(format!(
            "▲ This resin is too thick to pour after {}, sooner than the shop takes for a bucket. \
             Mix less, have somebody pour beside you, or take a slower resin.",
            span(pot_life)
        )),
    }
}

/// A sentence for each window that no shop hour falls in.
pub(super) fn missed(asked: &Asked<'_>, schedule: &Schedule) -> Vec<String> {
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let time = |at| shown.day_and_time(at, zone);
    let mut sentences = Vec::new();
    for (index, pour) in schedule.pours.iter().enumerate().skip(1) {
        let Joint::AfterCure { hard, sanding } = pour.joint else { continue };
        if !pour.is_sanded_joint() {
            continue;
        }
        let below = &schedule.pours[index - 1];
        // A plan that is set before it is sanded breaks: its hour is no way out.
        let then = match pour.at > sanding {
            true => format!("pour {} {}", layers::of(index, schedule), time(pour.at)),
            false => format!("then pour {}", layers::of(index, schedule)),
        };
        sentences.push(format!(
            "No pour falls inside shop hours while {} is sticky, {} to {}. Instead: it is hard {}, \
             sand it from {} and {then}.",
            layers::of(index - 1, schedule),
            time(below.opens),
            time(below.closes),
            time(hard),
            time(sanding)
        ));
    }
    sentences
}

/// The shop's hours of the coming days, as they stand.
pub(super) fn hours(asked: &Asked<'_>) -> String {
    let days = &asked.shop.workshop.settings.days;
    let names = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
    let written = days.each_ref().map(|day| Workday::write_day(day));
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for index in 0..7 {
        match runs.last_mut() {
            Some((first, last)) if written[*first] == written[index] => *last = index,
            _ => runs.push((index, index)),
        }
    }
    let said = |(first, last): (usize, usize)| match (written[first].as_str(), last - first) {
        ("", _) => String::new(),
        (hours, 6) => format!("{hours} every day"),
        (hours, 0) => format!("{hours} {}", names[first]),
        (hours, _) => format!("{hours} {}–{}", names[first], names[last]),
    };
    runs.into_iter().map(said).filter(|text| !text.is_empty()).collect::<Vec<_>>().join("; ")
}

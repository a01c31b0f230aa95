//! What a field shows, in sentences.

use fondant_app::jobs::FieldSeen;
use fondant_cast::Evaluation;
use fondant_cast::planning::{Dimension, FieldTask};
use fondant_heat::Deepest;
use fondant_heat::field::Segment;
use fondant_heat::sides::wide_m;
use fondant_quantities::{Length, Span, Temperature};

use crate::ui::numbers::span;
use crate::ui::units::Shown;

/// A place that turns sticky later than the middle by less than this is not told of, s.
const LATER_S: f64 = 1800.0;

/// The sentences beside the canvas.
pub(super) fn says(
    seen: &FieldSeen,
    task: &FieldTask,
    evaluation: &Evaluation,
    shown: Shown,
) -> Vec<String> {
    let mut says = vec![dimension(task.dimension, evaluation, shown)];
    says.extend(peak(seen, evaluation, shown));
    if let Ok(Deepest::Limited { depth_m }) = evaluation.heat.deepest {
        says.push(format!(
            "One pour here may be {} deep before its hottest point reaches the limit.",
            shown.length_cautious(Length::from_m(depth_m))
        ));
    }
    if let Some(face) = &seen.face_peak {
        let hottest = shown.temperature(Temperature::from_k(face.t_k));
        says.push(format!("At the timber it reaches {hottest}."));
    }
    says.extend(seen.last.iter().flat_map(windows));
    says.push(format!("{} cells, {} steps.", seen.work.cells, seen.work.steps));
    says
}

fn dimension(dimension: Dimension, evaluation: &Evaluation, shown: Shown) -> String {
    match dimension {
        Dimension::Three => {
            "Worked out in three dimensions, as heat leaves on all sides. One quarter is computed, \
             or a ring of what is round, and shown with its mirror image through the middle."
                .to_owned()
        }
        Dimension::One | Dimension::Two => format!(
            "Worked out across the section, as the timber and walls beside it matter here. In a \
             river of {} or more they would not.",
            shown.length(Length::from_m(wide_m(evaluation.measured.fill.depth().m())))
        ),
    }
}

fn peak(seen: &FieldSeen, evaluation: &Evaluation, shown: Shown) -> Vec<String> {
    let Some(peak) = &seen.peak else { return Vec::new() };
    let margin = evaluation.resin.working.peak_limit.k() - peak.t_k;
    vec![format!(
        "Hottest {} after {}, {} {}.",
        shown.temperature(Temperature::from_k(peak.t_k)),
        span(Span::from_s(peak.at_s)),
        shown.degrees(margin.abs()),
        if margin >= 0.0 { "under the limit" } else { "over the limit" },
    )]
}

/// When the last pour is sticky.
fn windows(segment: &Segment) -> Vec<String> {
    let Some(opens) = segment.opens_s else { return Vec::new() };
    let hours = |s: f64| span(Span::from_s(s - segment.poured_s));
    let middle = segment.closes_s.map(|closes| {
        format!(
            "In the middle the last pour is sticky from {} to {} after it went in.",
            hours(opens),
            hours(closes)
        )
    });
    let later = segment.opens_everywhere_s.filter(|all| *all > opens + LATER_S).map(|all| {
        let later = span(Span::from_s(all - opens));
        format!("It takes {later} more until it is sticky everywhere.")
    });
    middle.into_iter().chain(later).collect()
}

//! What is told of a step, as it is read.

use fondant_finish::steps::{finish, ordered, resin_face};
use fondant_finish::work::{StepKind, Told, WorkRefused};
use fondant_quantities::Span;
use jiff::SignedDuration;

use super::super::asked::Visit;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::slug::named;
use crate::words::finishing;

/// What was told; refusals say at which field it is not understood.
pub(crate) fn told(
    entries: &Entries,
    planned: impl Fn(StepKind) -> Span,
) -> Result<Told, Refusals> {
    let unknown = || Refusals::at("told", "This was not understood. Load the page again.");
    if let Some(row) = entries.get("back").and_then(|row| row.parse().ok()) {
        return Ok(Told::Withdrawn { row });
    }
    if let Some(school) = entries.get("school").and_then(named) {
        return Ok(Told::Chosen { school });
    }
    let step: StepKind = entries.get("step").and_then(named).ok_or_else(unknown)?;
    let name = entries.get("step").unwrap_or_default();
    let field = |what: &str| format!("{what}_{name}");
    match entries.get("do") {
        Some("start") => Ok(Told::Started { step }),
        Some("stop") => Ok(Told::Stopped { step, planned: planned(step) }),
        Some("done") => Ok(Told::Done { step }),
        Some("took") => {
            let text = entries.get(&field("took")).unwrap_or_default();
            let refusal = || Refusals::at(&field("took"), finishing::refused(WorkRefused::Time));
            let took = time(text).ok_or_else(refusal)?;
            Ok(Told::Took { step, took, planned: planned(step) })
        }
        Some("note") => {
            let note = entries.get(&field("note")).unwrap_or_default().trim().to_owned();
            Ok(Told::Noted { step, note })
        }
        _ => Err(unknown()),
    }
}

/// The field at which a refusal is shown.
pub(crate) fn field_of(told: &Told, why: WorkRefused) -> String {
    use crate::ui::slug::slug;
    match (told, why) {
        (Told::Took { step, .. }, WorkRefused::Time) => format!("took_{}", slug(*step)),
        (Told::Noted { step, .. }, WorkRefused::Note) => format!("note_{}", slug(*step)),
        _ => "told".to_owned(),
    }
}

/// A time as somebody types it: minutes, or with its units.
fn time(text: &str) -> Option<Span> {
    let text = text.trim();
    let minutes = text.replace(',', ".").parse::<f64>().ok().map(|minutes| minutes * 60.0);
    let seconds = minutes.or_else(|| {
        let span: SignedDuration = text.parse().ok()?;
        Some(span.as_secs_f64())
    })?;
    let span = Span::from_s(seconds);
    let is_time = seconds.is_finite() && span > Span::ZERO && span <= fondant_finish::work::LONGEST;
    is_time.then_some(span)
}

/// What a step takes at the pace of the trade, as the cast is planned now.
pub(crate) fn planned(
    visit: &Visit,
    school: fondant_finish::surface::School,
) -> Vec<(StepKind, Span)> {
    let document = &visit.open.record.document;
    let found = finish(document, resin_face(document, &visit.worked.evaluation.measured));
    ordered(found.as_ref(), school)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn times_are_read_as_they_are_typed() {
        for (text, minutes) in
            [("90", 90.0), ("1 h 30 min", 90.0), ("45min", 45.0), ("1.5h", 90.0), ("7,5", 7.5)]
        {
            let found = time(text).map(Span::s);
            assert_eq!(found, Some(minutes * 60.0), "{text}");
        }
        for text in ["", "0", "-5", "soon", "NaN", "inf", "1001 h"] {
            assert_eq!(time(text), None, "{text}");
        }
    }
}

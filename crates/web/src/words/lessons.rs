//! What a cast teaches the next one, in words.

use fondant_cast::document::RecipeColour;
use fondant_quantities::units::trimmed;
use fondant_record::lessons::{Change, Lesson, Origin};

use crate::ui::numbers::with_unit;
use crate::ui::slug::slug;
use crate::ui::units::Shown;
use crate::words::measures::absorption;
use crate::words::{causes, record};

/// A lesson as it is shown.
pub(crate) struct Told {
    /// Its name in a form.
    pub(crate) key: String,
    /// What changes.
    pub(crate) change: String,
    /// Reason for it.
    pub(crate) why: String,
}

/// The name of a lesson in a form: what it changes.
pub(crate) fn key(lesson: &Lesson) -> String {
    match &lesson.change {
        Change::WarmResin(_) => "warm".to_owned(),
        Change::Seal => "seal".to_owned(),
        Change::Depth(_) => "depth".to_owned(),
        Change::Dry(_) => "dry".to_owned(),
        Change::Absorption(_) => "absorption".to_owned(),
        Change::Colour(_) => "colour".to_owned(),
        Change::Mind(cause) => format!("mind-{}", slug(*cause)),
    }
}

/// A lesson in words.
pub(crate) fn told(lesson: &Lesson, shown: Shown) -> Told {
    let change = match &lesson.change {
        Change::WarmResin(at) => format!("Mix the resin at {}.", shown.temperature(*at)),
        Change::Seal => "Seal the live edges with a brushed coat.".to_owned(),
        Change::Depth(depth) => format!("No layer deeper than {}.", shown.length(*depth)),
        Change::Dry(percent) => {
            format!("Dry the air of the pours to {}.", with_unit(&format!("{percent:.0}"), "%"))
        }
        Change::Absorption(ml_m2) => {
            format!("Count on {} absorbed by bare timber.", absorption(*ml_m2, shown))
        }
        Change::Colour(colours) => {
            let one = |one: &RecipeColour| format!("{} {}", one.name, share(one.percent));
            let all: Vec<String> = colours.iter().map(one).collect();
            format!("Colour it with {}.", all.join(", "))
        }
        Change::Mind(cause) => format!("Watch out at the bench: {}", causes::told(*cause).next),
    };
    Told { key: key(lesson), change, why: why(lesson.origin) }
}

/// A share of the mixed mass, as finely as it is weighed.
fn share(percent: f64) -> String {
    with_unit(&trimmed(percent, 2), "%")
}

fn why(origin: Origin) -> String {
    match origin {
        Origin::Coloured => "as its first bucket was mixed, not as the recipe said".to_owned(),
        Origin::Fault { kind, cause, is_confirmed } => {
            let said = if is_confirmed { "it was this" } else { "likeliest, not confirmed" };
            format!("{}: {} ({said})", record::fault(kind), causes::told(cause).name)
        }
        Origin::Absorbed(learnt) => {
            let casts = if learnt.count == 1 { "cast" } else { "casts" };
            // The spread is one of logarithms; for those that are read it is a share.
            let spread = 100.0 * (learnt.spread.exp() - 1.0);
            format!(
                "learnt from {} {casts} of this timber, spread {spread:.0}\u{202f}%",
                learnt.count
            )
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use fondant_numerics::shrunk::Shrunk;
    use fondant_quantities::Absorption;
    use fondant_record::causes::Cause;
    use fondant_record::fault::FaultKind;

    #[test]
    fn a_lesson_says_what_changes_and_why() {
        let learnt = Shrunk { factor: 1.4, count: 1, spread: 0.5 };
        let lesson = Lesson {
            change: Change::Absorption(Absorption::from_ml_m2(140.0)),
            origin: Origin::Absorbed(learnt),
        };
        let metric = told(&lesson, METRIC);
        assert_eq!(metric.change, "Count on 140\u{202f}mL/m² absorbed by bare timber.");
        assert_eq!(metric.why, "learnt from 1 cast of this timber, spread 65\u{202f}%");
        assert!(told(&lesson, METRIC.other()).change.contains("0.44\u{202f}fl oz/ft²"));
        let cause = Cause::ColdResin;
        let origin = Origin::Fault { kind: FaultKind::Bubbles, cause, is_confirmed: true };
        let minded = told(&Lesson { change: Change::Mind(cause), origin }, METRIC);
        assert_eq!(minded.key, "mind-cold_resin");
        let colours = vec![RecipeColour::of_all("sea glass", 0.4217)];
        let lesson = Lesson { change: Change::Colour(colours), origin: Origin::Coloured };
        let coloured = told(&lesson, METRIC);
        assert_eq!(coloured.change, "Colour it with sea glass 0.42\u{202f}%.");
        assert!(minded.change.contains("24 °C") && minded.why.ends_with("(it was this)"));
    }
}

//! What can hurt somebody, said where the act is. The resin's datasheet and safety sheet, local codes
//! and licensed trades come first; these sentences do not replace them.

use fondant_cast::{Document, Kind};
use fondant_materials::resin::{Hazard, Properties};

/// What is said at a pour: of the resins that are mixed, and of what the piece is.
#[must_use]
pub(crate) fn at_the_pour<'a>(
    document: &Document,
    resins: impl Iterator<Item = &'a Properties>,
) -> Vec<&'static str> {
    let hazards: Vec<Hazard> = resins.flat_map(|resin| resin.hazards.iter().copied()).collect();
    let mut all: Vec<&'static str> = [
        Hazard::Sensitiser,
        Hazard::Corrosive,
        Hazard::Isocyanate,
        Hazard::Vapour,
        Hazard::Flammable,
        Hazard::HatesMoisture,
    ]
    .into_iter()
    .filter(|hazard| hazards.contains(hazard))
    .map(of_hazard)
    .collect();
    if document.contents.pot().is_some() {
        all.push(POT);
    }
    if matches!(document.kind(), Kind::Moulds | Kind::Coat) && !hazards.contains(&Hazard::Flammable)
    {
        all.push("A torch passes over a coat and never stands still, away from solvent and paper; over silicone only warm air, and no flame.");
    }
    if document.brief.is_lit {
        all.push("Lights in resin: low voltage only; whatever is on the mains is for a licensed electrician.");
    }
    all
}

/// What a pressure pot asks for.
pub(crate) const POT: &str = "A pressure pot is a pressure vessel: stay within its rated pressure, keep its relief valve, vent it fully before opening, never modify it.";

/// What a hazard of a resin asks for at the bucket.
const fn of_hazard(hazard: Hazard) -> &'static str {
    match hazard {
        Hazard::Sensitiser => {
            "Sensitises the skin, for life: nitrile gloves, sleeves, no solvent on skin."
        }
        Hazard::Corrosive => "The hardener burns skin and eyes: goggles, and water at hand.",
        Hazard::Isocyanate => {
            "Isocyanate vapour: a respirator that its safety sheet names, moving air, nobody with asthma beside it."
        }
        Hazard::Vapour => {
            "Strong vapour: an organic-vapour respirator and air that moves out of the shop."
        }
        Hazard::Flammable => "Flammable: no flame, no heat gun, no spark near it, wet or curing.",
        Hazard::HatesMoisture => "Foams with moisture: dry timber, dry moulds, dry tools.",
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::of_kind;
    use fondant_materials::resin::ResinClass;
    use fondant_materials::resin::shipped::generic;

    /// Every hazard of every resin is told at the pour of every kind, once.
    #[test]
    fn every_hazard_stands_at_the_act_of_every_kind() {
        for kind in Kind::ALL {
            let document = of_kind(kind);
            for class in ResinClass::ALL {
                let resin = generic(class);
                let twice = [&resin.properties, &resin.properties];
                let told = at_the_pour(&document, twice.into_iter());
                for hazard in &resin.hazards {
                    let said = told.iter().filter(|one| **one == of_hazard(*hazard)).count();
                    assert_eq!(said, 1, "{kind:?} {class:?} {hazard:?}");
                }
                let has_flame = told.iter().any(|one| one.contains("torch"));
                assert!(!(has_flame && resin.hazards.contains(&Hazard::Flammable)), "{class:?}");
            }
        }
    }
}

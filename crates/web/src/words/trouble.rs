//! Why there are no pour times or no heat, and what would mend it.

use fondant_cast::PourTrouble;
use fondant_heat::HeatError;
use fondant_pours::ScheduleError;
use fondant_pours::layers::LayersError;
use fondant_quantities::{Length, Temperature};

use crate::ui::units::Shown;

/// Why there are no pour times, and what would give some.
#[must_use]
pub(crate) fn pours(trouble: &PourTrouble, shown: Shown) -> String {
    match trouble {
        PourTrouble::Layers(LayersError::TooMany { needed, allowed }) => format!(
            "This depth would take {needed} layers of at most {}. Choose a slower resin, or cool \
             the shop and the resin.",
            shown.length(*allowed)
        ),
        PourTrouble::Layers(LayersError::NoneSafe) => {
            "No layer of this resin, however thin, stays \
            under its limit at these temperatures. Cool the resin and the shop, or choose a slower \
            resin."
                .to_owned()
        }
        PourTrouble::Heat(error) => heat(error, shown),
        PourTrouble::Schedule(ScheduleError::NoTimeToPour { hands }) => format!(
            "The shop is never open for the {} minutes that mixing and pouring a layer takes. \
             Open it longer on one day.",
            fondant_quantities::units::trimmed(hands.s() / 60.0, 0)
        ),
        PourTrouble::Schedule(ScheduleError::NoFitAir { least }) => format!(
            "Whenever the shop is open the air forbids a pour: at the best of these hours {}. Dry or \
             heat the air, or write down why it may be poured.",
            super::pours::unfit_air(*least, shown)
        ),
        PourTrouble::Schedule(ScheduleError::TooHot) => "At every time tried, a layer on the warm \
            one below passes the limit. Cool the shop or the resin, or choose a slower resin."
            .to_owned(),
        PourTrouble::Schedule(ScheduleError::MissesInclusions) => "What covers the inclusions would \
             never go in while they are sticky: no hour of the shop's falls into that window, or it \
             then gets too hot. Open the shop longer, or pour them thicker or thinner so that the \
             window falls into the day."
            .to_owned(),
        PourTrouble::Schedule(ScheduleError::Exhausted { runs }) => format!(
            "No pour times were found in {runs} runs of the model, and not all were tried. Let the \
             work begin at another time, open the shop longer, or split the depth by hand."
        ),
        PourTrouble::Schedule(ScheduleError::NeverSets) => "In this air the surface does not set \
            within two weeks. Warm the shop."
            .to_owned(),
        PourTrouble::Schedule(ScheduleError::OutOfReach { pour }) => format!(
            "Pour {} would be more than a year from the beginning of the plan. Choose an earlier \
             time, or let the plan begin later.",
            pour + 1
        ),
        PourTrouble::Schedule(ScheduleError::Abandoned) => {
            "The comparison was given up, as the plan has changed. It starts again with the page."
                .to_owned()
        }
        PourTrouble::Schedule(ScheduleError::Heat(error)) => heat(error, shown),
    }
}

/// Why the heat could not be worked out.
#[must_use]
pub(crate) fn heat(error: &HeatError, shown: Shown) -> String {
    match error {
        HeatError::LimitBelowStart { start_k, limit_k } => format!(
            "Resin or air at {} is already over this resin's limit of {}. Cool it before mixing.",
            shown.temperature(Temperature::from_k(*start_k)),
            shown.temperature(Temperature::from_k(*limit_k))
        ),
        HeatError::Depth { .. } => format!(
            "This depth is outside what the heat model computes, {} to {}.",
            shown.length_fine(Length::from_mm(0.1)),
            shown.length(Length::from_m(1.0))
        ),
        HeatError::Profile { .. } => {
            "The air's readings make no course of the air. Give two or more, in order of time."
                .to_owned()
        }
        HeatError::Temperature { .. }
        | HeatError::Empty
        | HeatError::Diverged { .. }
        | HeatError::Abandoned { .. }
        | HeatError::Step(_) => {
            format!("The heat model could not work this out: {error}. Check the temperatures.")
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use fondant_quantities::Span;

    /// A sentence says what is wrong and ends with what would mend it.
    fn is_advice(text: &str) -> bool {
        text.ends_with('.') && text.matches(". ").count() >= 1 && !text.contains("  ")
    }

    #[test]
    fn trouble_with_pours_always_comes_with_a_way_out() {
        let troubles = [
            PourTrouble::Layers(LayersError::TooMany { needed: 20, allowed: Length::from_mm(3.7) }),
            PourTrouble::Layers(LayersError::NoneSafe),
            PourTrouble::Heat(HeatError::LimitBelowStart { start_k: 340.0, limit_k: 338.15 }),
            PourTrouble::Schedule(ScheduleError::NoTimeToPour { hands: Span::from_s(1800.0) }),
            PourTrouble::Schedule(ScheduleError::TooHot),
            PourTrouble::Schedule(ScheduleError::NeverSets),
            PourTrouble::Schedule(ScheduleError::MissesInclusions),
            PourTrouble::Schedule(ScheduleError::Exhausted { runs: 900 }),
            PourTrouble::Schedule(ScheduleError::OutOfReach { pour: 2 }),
            PourTrouble::Schedule(ScheduleError::Heat(HeatError::Empty)),
        ];
        for trouble in &troubles {
            let text = pours(trouble, METRIC);
            assert!(is_advice(&text), "{text}");
        }
        assert!(pours(&troubles[0], METRIC).contains("20 layers of at most 3.7\u{202f}mm"));
        assert!(pours(&troubles[2], METRIC).contains("65\u{202f}°C"));
    }
}

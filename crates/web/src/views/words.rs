//! Sentences about trouble: what is wrong, and what would mend it.

use fondant_cast::{Conflict, PourTrouble};
use fondant_heat::HeatError;
use fondant_pours::ScheduleError;
use fondant_pours::layers::LayersError;
use fondant_quantities::Temperature;
use fondant_shapes::geometry::faults::{MOST_POINTS, OutlineFault};
use fondant_shapes::timber::RiverError;

use super::format::Shown;

/// A misfit of the stations, for the field where it is typed.
#[must_use]
pub fn river(error: &RiverError, shown: Shown) -> String {
    let length = |q| shown.length(q);
    match error {
        RiverError::TooFew { .. } => {
            "One width cannot give a mean. Measure at least two stations, \
            one near each end of the form."
                .to_owned()
        }
        RiverError::TooMany { found } => {
            format!("{found} stations are more than Fondant keeps. Leave some out: 60 are plenty.")
        }
        RiverError::OutOfOrder { at, after, .. } => format!(
            "This station at {} does not come after the one before it at {}. \
             Put the stations in order along the form.",
            length(*at),
            length(*after)
        ),
        RiverError::BeyondForm { at, form, .. } => format!(
            "This station at {} lies beyond the form, which is {} long inside.",
            length(*at),
            length(*form)
        ),
        RiverError::WiderThanForm { width, form, .. } => format!(
            "A river of {} is wider than the form, which is {} wide inside.",
            length(*width),
            length(*form)
        ),
        RiverError::PastFarWall { from_wall, width, form, .. } => format!(
            "{} from the near wall and {} wide runs past the far wall at {}.",
            length(*from_wall),
            length(*width),
            length(*form)
        ),
    }
}

/// A conflict of the plan, where no field of the page shows it.
#[must_use]
pub fn conflict(conflict: &Conflict, shown: Shown) -> String {
    match conflict {
        Conflict::River(error) => {
            let place = match error {
                RiverError::OutOfOrder { index, .. }
                | RiverError::BeyondForm { index, .. }
                | RiverError::WiderThanForm { index, .. }
                | RiverError::PastFarWall { index, .. } => format!("Station {}: ", index + 1),
                RiverError::TooFew { .. } | RiverError::TooMany { .. } => String::new(),
            };
            format!("{place}{}", river(error, shown))
        }
        Conflict::BoardsTooThin { thinner, finished } => format!(
            "A board of {} cannot make a finished thickness of {}.",
            shown.length(*thinner),
            shown.length(*finished)
        ),
        Conflict::OutOfBounds(sentence) => sentence.clone(),
        Conflict::NotTwoBoards { found } => format!(
            "Stations lie between two boards; there are {found}. Stay with outlines, or remove boards \
             until two are left."
        ),
        Conflict::BoardCount { found } => format!(
            "{found} boards are no layout: Fondant keeps 1 to 40. Add or remove some."
        ),
        Conflict::NoOutline { board } => format!(
            "Board {} has no outline yet. Draw it, trace it over a photo, or bring it in from a file.",
            board + 1
        ),
        Conflict::Outline { board, fault } => {
            format!("Board {}: {}", board + 1, outline(fault, shown))
        }
        Conflict::OutsideForm { board, .. } => format!(
            "Board {} lies wholly outside of the form. Drag it in, or remove it.",
            board + 1
        ),
        Conflict::Overlap { first, second, area, .. } => format!(
            "Boards {} and {} lie on each other by {}, where the drawing marks it. Move one, or trim it.",
            first + 1,
            second + 1,
            shown.area(*area)
        ),
        Conflict::CavityTooDeep { cavity, depth, board } => format!(
            "Cavity {} is {} deep in a board of {}. Measure it again, or tick that it goes right through.",
            cavity + 1,
            shown.length(*depth),
            shown.length(*board)
        ),
        Conflict::NothingToFill => {
            "There is nothing to fill. Add a cavity, or make the form larger than what lies in it."
                .to_owned()
        }
        Conflict::InsertTooTall { top, resin, .. } => format!(
            "It would reach up to {}, and the resin stands at {}. Set it lower, or make the piece higher.",
            shown.length(*top),
            shown.length(*resin)
        ),
        Conflict::InsertTooWide { .. } => {
            "It is larger than the form. Measure it again, or make the piece larger.".to_owned()
        }
        Conflict::CavityTooSmall { cavity, inside } => format!(
            "What stands in it takes up {}, and it holds {}. Check both sizes.",
            shown.volume_fine(*inside),
            shown.volume_fine(*cavity)
        ),
        Conflict::TubeTooLarge { is_length: true } => {
            "Tube and plugs are longer than the cavity is deep. Shorten the plugs, or take a deeper mould."
                .to_owned()
        }
        Conflict::TubeTooLarge { is_length: false } => {
            "The tube is as wide as its cavity. No resin would stand round it: check both diameters."
                .to_owned()
        }
        Conflict::NewerSchema { found } => format!(
            "This plan was written by a newer Fondant (schema {found}). Update Fondant to open it."
        ),
    }
}

/// What is wrong with an outline, and what would mend it.
#[must_use]
pub fn outline(fault: &OutlineFault, shown: Shown) -> String {
    match fault {
        OutlineFault::TooFewPoints { .. } => {
            "its outline needs at least three points. Add some, or remove the board.".to_owned()
        }
        OutlineFault::TooManyPoints { found } => format!(
            "its outline has {found} points; Fondant keeps {MOST_POINTS}. Simplify it first."
        ),
        OutlineFault::FarAway { .. } => {
            "one of its points lies nowhere near the bench. Check its figures.".to_owned()
        }
        OutlineFault::CrossesItself { .. } => {
            "its outline crosses itself where the drawing marks it. Move or delete a point there."
                .to_owned()
        }
        OutlineFault::HoleOutside { .. } => {
            "one of its holes reaches over its edge. Move it inside.".to_owned()
        }
        OutlineFault::TooSmall { area, .. } => format!(
            "its outline encloses only {}. Remove it, or check its unit.",
            shown.area(*area)
        ),
    }
}

/// Why there are no pour times, and what would give some.
#[must_use]
pub fn pours(trouble: &PourTrouble, shown: Shown) -> String {
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
        PourTrouble::Schedule(ScheduleError::TooHot) => "At every time tried, a layer on the warm \
            one below passes the limit. Cool the shop or the resin, or choose a slower resin."
            .to_owned(),
        PourTrouble::Schedule(ScheduleError::NeverSets) => "In this air the surface does not set \
            within two weeks. Warm the shop."
            .to_owned(),
        PourTrouble::Schedule(ScheduleError::Abandoned) => {
            "The comparison was given up, as the plan has changed. It begins anew with the page."
                .to_owned()
        }
        PourTrouble::Schedule(ScheduleError::Heat(error)) => heat(error, shown),
    }
}

/// Why the heat could not be worked out.
#[must_use]
pub fn heat(error: &HeatError, shown: Shown) -> String {
    match error {
        HeatError::LimitBelowStart { start_k, limit_k } => format!(
            "Resin or air at {} is already over this resin's limit of {}. Cool it before mixing.",
            shown.temperature(Temperature::from_k(*start_k)),
            shown.temperature(Temperature::from_k(*limit_k))
        ),
        HeatError::Depth { .. } => {
            "This depth is outside what the heat model computes, 0.1 mm to 1 m.".to_owned()
        }
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
    use fondant_quantities::{Length, Span};

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
            PourTrouble::Schedule(ScheduleError::Heat(HeatError::Empty)),
        ];
        for trouble in &troubles {
            let text = pours(trouble, METRIC);
            assert!(is_advice(&text), "{text}");
        }
        assert!(pours(&troubles[0], METRIC).contains("20 layers of at most 3.7\u{202f}mm"));
        assert!(pours(&troubles[2], METRIC).contains("65\u{202f}°C"));
    }

    #[test]
    fn every_conflict_says_what_would_mend_it() {
        use fondant_quantities::{Area, Volume};
        use fondant_shapes::geometry::Point;
        let (mm, at) = (Length::from_mm, Point::from_mm(300.0, 100.0));
        let fault = |fault| Conflict::Outline { board: 1, fault };
        let all = [
            Conflict::NotTwoBoards { found: 3 },
            Conflict::BoardCount { found: 99 },
            Conflict::NoOutline { board: 1 },
            fault(OutlineFault::TooFewPoints { found: 2 }),
            fault(OutlineFault::TooManyPoints { found: 9000 }),
            fault(OutlineFault::FarAway { index: 0 }),
            fault(OutlineFault::CrossesItself { at }),
            fault(OutlineFault::HoleOutside { at }),
            fault(OutlineFault::TooSmall { area: Area::from_m2(2e-5), at }),
            Conflict::OutsideForm { board: 1, at },
            Conflict::Overlap { first: 0, second: 1, area: Area::from_m2(0.002), at },
            Conflict::CavityTooDeep { cavity: 1, depth: mm(40.0), board: mm(30.0) },
            Conflict::NothingToFill,
            Conflict::InsertTooTall { insert: 0, top: mm(90.0), resin: mm(60.0) },
            Conflict::InsertTooWide { insert: 0 },
            Conflict::CavityTooSmall { cavity: Volume::from_l(0.02), inside: Volume::from_l(0.03) },
            Conflict::TubeTooLarge { is_length: true },
            Conflict::TubeTooLarge { is_length: false },
        ];
        for one in &all {
            let said = conflict(one, METRIC);
            assert!(is_advice(&said), "{said}");
            assert_eq!(
                one.place().is_some(),
                said.contains("marks it")
                    || said.contains("over its edge")
                    || said.contains("encloses only")
                    || said.contains("wholly outside"),
                "{said}"
            );
        }
        assert!(
            conflict(&all[10], METRIC)
                .contains("Boards 1 and 2 lie on each other by 20\u{202f}cm²")
        );
    }

    #[test]
    fn conflicts_name_their_station_and_their_figures() {
        let mm = Length::from_mm;
        let wide = RiverError::WiderThanForm { index: 2, width: mm(900.0), form: mm(780.0) };
        assert_eq!(
            conflict(&Conflict::River(wide), METRIC),
            "Station 3: A river of 900\u{202f}mm is wider than the form, which is 780\u{202f}mm wide inside."
        );
        let thin = Conflict::BoardsTooThin { thinner: mm(20.0), finished: mm(34.0) };
        assert!(conflict(&thin, METRIC.other()).contains("1 11/32\u{202f}in"));
        assert!(conflict(&Conflict::NewerSchema { found: 9 }, METRIC).contains("schema 9"));
    }
}

//! What contradicts itself in a cast, and what would mend it.

use fondant_cast::Conflict;
use fondant_cast::checks::{Countable, StagesError, Written};
use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::geometry::faults::{MOST_POINTS, OutlineFault};
use fondant_shapes::timber::RiverError;
use fondant_shapes::volume::methods::Method;

use super::{entry, resin};
use crate::ui::units::Shown;

/// A misfit of the stations, for the field where it is typed.
#[must_use]
pub(crate) fn river(error: &RiverError, shown: Shown) -> String {
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
pub(crate) fn conflict(conflict: &Conflict, shown: Shown) -> String {
    match conflict {
        Conflict::River(error) => at_station(error, shown),
        Conflict::BoardsTooThin { thinner, finished } => thin([*thinner, *finished], shown),
        Conflict::OutOfRange(error) => entry::out_of_range(error, shown.system),
        Conflict::Year { year } => format!(
            "Pours in the year {year} are beyond what is planned. Choose a date within the next \
             years."
        ),
        Conflict::TooMany { what, found, most } => too_many(*what, *found, *most),
        Conflict::Text { what, characters, most } => length_of_text(*what, *characters, *most),
        Conflict::UnknownResin(name) => resin::unknown(name),
        Conflict::Stages(error) => stages(*error, shown),
        Conflict::NotTwoBoards { found } => format!(
            "Stations lie between two boards; there are {found}. Stay with outlines, or remove boards \
             until two are left."
        ),
        Conflict::BoardCount { found } => {
            format!("A layout has 1 to 40 boards, not {found}. Add or remove some.")
        }
        Conflict::AmountBeyondForm { by, room } => beyond_form(*by, *room, shown),
        Conflict::NoOutline { board } => format!(
            "Board {} has no outline yet. Draw it, trace it over a photo, or bring it in from a file.",
            board + 1
        ),
        Conflict::Outline { board, fault } => {
            format!("Board {}: {}", board + 1, outline(fault, shown))
        }
        Conflict::OutsideForm { board, .. } => {
            format!("Board {} is outside the form. Drag it in, or remove it.", board + 1)
        }
        Conflict::Overlap { first, second, area, .. } => overlap([*first, *second], *area, shown),
        Conflict::CavityTooDeep { cavity, depth, board } => {
            too_deep(*cavity, [*depth, *board], shown)
        }
        Conflict::NothingToFill => {
            "There is nothing to fill. Add a cavity, or make the form larger than what lies in it."
                .to_owned()
        }
        Conflict::InsertTooTall { top, resin, .. } => too_tall([*top, *resin], shown),
        Conflict::InsertTooWide { .. } => {
            "It is larger than the form. Measure it again, or make the piece larger.".to_owned()
        }
        Conflict::CavityTooSmall { cavity, inside } => overfull([*cavity, *inside], shown),
        Conflict::RowTooSmall { cavity, inside, .. } => too_small([*cavity, *inside], shown),
        Conflict::PressedTooWide { .. } => {
            "The pieces do not fit into their cavity beside one another. Check their sizes and how \
             many there are."
                .to_owned()
        }
        Conflict::PressedTooTall { height, depth, .. } => stands_out([*height, *depth], shown),
        Conflict::TubeTooLarge { is_length } => tube_too_large(*is_length).to_owned(),
        Conflict::NewerSchema { found } => format!(
            "This plan was written by a newer Fondant (schema {found}). Update Fondant to open it."
        ),
    }
}

fn thin([board, finished]: [Length; 2], shown: Shown) -> String {
    let [board, finished] = [board, finished].map(|thickness| shown.length(thickness));
    format!("A board of {board} cannot make a finished thickness of {finished}.")
}

fn overfull([cavity, inside]: [Volume; 2], shown: Shown) -> String {
    format!(
        "The objects in it take up {}, and it holds {}. Check both sizes.",
        shown.volume_fine(inside),
        shown.volume_fine(cavity)
    )
}

fn beyond_form(by: Method, room: Volume, shown: Shown) -> String {
    let room = shown.volume(room);
    if by == Method::Weighed {
        return format!(
            "By the scale and their density the boards fill the form, which holds {room} up to their \
             face. Weigh them again, or check density and thickness."
        );
    }
    format!(
        "The form holds {room} up to the boards' face, boards included: what fills the gaps has to be \
         less. Measure it again, or check the size of the piece."
    )
}

fn too_small([cavity, inside]: [Volume; 2], shown: Shown) -> String {
    format!(
        "What is pressed into each takes up {}, and a cavity holds {}. Check both sizes.",
        shown.volume_fine(inside),
        shown.volume_fine(cavity)
    )
}

fn stands_out([height, depth]: [Length; 2], shown: Shown) -> String {
    format!(
        "A piece is {} high and its cavity {} deep. Lay it flat, or choose a deeper cavity.",
        shown.length(height),
        shown.length(depth)
    )
}

fn stages(error: StagesError, shown: Shown) -> String {
    match error {
        StagesError::TooDeep { stages, depth } => format!(
            "The pours under and over it are {} deep together, of {} in the form: nothing is left for \
             the main fill. Make them thinner, or the form deeper.",
            shown.length(stages),
            shown.length(depth)
        ),
        StagesError::NoSuch => "A cast of this kind has no such pour. Remove it.".to_owned(),
        StagesError::NothingCovers => {
            "Nothing covers what is laid into the top layer. Put a layer \
             over it, or move it under the main fill."
                .to_owned()
        }
    }
}

/// A conflict on a page that has no drawing to mark its place in.
#[must_use]
pub(crate) fn without_drawing(one: &Conflict, shown: Shown) -> String {
    const MARKED: &str = "where the drawing marks it";
    let said = conflict(one, shown);
    [format!(", {MARKED}"), format!(" {MARKED}")]
        .iter()
        .fold(said, |said, marked| said.replace(marked, ""))
}

fn at_station(error: &RiverError, shown: Shown) -> String {
    let place = match error {
        RiverError::OutOfOrder { index, .. }
        | RiverError::BeyondForm { index, .. }
        | RiverError::WiderThanForm { index, .. }
        | RiverError::PastFarWall { index, .. } => format!("Station {}: ", index + 1),
        RiverError::TooFew { .. } | RiverError::TooMany { .. } => String::new(),
    };
    format!("{place}{}", river(error, shown))
}

fn overlap([first, second]: [usize; 2], area: Area, shown: Shown) -> String {
    format!(
        "Boards {} and {} lie on each other by {}, where the drawing marks it. Move one, or trim it.",
        first + 1,
        second + 1,
        shown.area(area)
    )
}

fn too_deep(cavity: usize, [depth, board]: [Length; 2], shown: Shown) -> String {
    format!(
        "Cavity {} is {} deep in a board of {}. Measure it again, or tick that it goes right through.",
        cavity + 1,
        shown.length(depth),
        shown.length(board)
    )
}

fn too_tall([top, resin]: [Length; 2], shown: Shown) -> String {
    format!(
        "It reaches {}, above the resin at {}. Set it lower, or make the piece higher.",
        shown.length(top),
        shown.length(resin)
    )
}

const fn tube_too_large(is_length: bool) -> &'static str {
    if is_length {
        "Tube and plugs are longer than the cavity, standing and lying. Shorten the plugs, or take a \
         larger mould."
    } else {
        "The tube is as wide as its cavity. No resin would stand round it: check both diameters."
    }
}

fn length_of_text(what: Written, characters: usize, most: usize) -> String {
    if characters == 0 {
        return format!("{} is empty. Type one.", text(what));
    }
    format!("{} can have {most} characters; this has {characters}. Shorten it.", text(what))
}

fn too_many(what: Countable, found: usize, most: usize) -> String {
    let (noun, advice) = match what {
        Countable::Cavities => ("rows of cavities", "Put equal ones on one row."),
        Countable::CavityRows => ("rows of cavities", "Plan them in two casts."),
        Countable::Colours => ("colours", "Mix some of them first."),
        Countable::Inserts => ("rows of objects", "Put equal ones on one row."),
        Countable::Things => ("cavities and objects together", "Plan them in two casts."),
        Countable::Points => ("points of all outlines together", "Simplify the outlines first."),
        Countable::Stations => ("stations", "Leave some out: 60 are plenty."),
        Countable::Levels => ("levels", "Leave some out."),
        Countable::Stages => ("pours under and over the main fill", "Leave some out."),
        Countable::Pours => ("pours", "Take one of the alternatives again."),
    };
    format!("{found} {noun} are more than a cast can have, which is {most}. {advice}")
}

const fn text(what: Written) -> &'static str {
    match what {
        Written::Name => "The name",
        Written::Finish => "The finish",
        Written::Minded => "What to watch out for",
        Written::Timber => "The kind of timber",
        Written::Cavity => "The name of a cavity",
        Written::Insert => "The name of an object",
        Written::File => "The name of a file",
        Written::Reason => "The reason",
        Written::Tint => "The colour",
    }
}

/// What is wrong with an outline, and what would mend it.
#[must_use]
pub(crate) fn outline(fault: &OutlineFault, shown: Shown) -> String {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use fondant_quantities::Length;

    /// A sentence says what is wrong and ends with what would mend it.
    fn is_advice(text: &str) -> bool {
        text.ends_with('.') && text.matches(". ").count() >= 1 && !text.contains("  ")
    }

    #[test]
    fn every_conflict_says_what_would_mend_it() {
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
            Conflict::RowTooSmall {
                row: 0,
                cavity: Volume::from_l(0.02),
                inside: Volume::from_l(0.03),
            },
            Conflict::PressedTooTall { row: 0, height: mm(30.0), depth: mm(20.0) },
            Conflict::PressedTooWide { row: 0 },
            Conflict::AmountBeyondForm { by: Method::Weighed, room: Volume::from_l(20.0) },
            Conflict::AmountBeyondForm { by: Method::DryFill, room: Volume::from_l(20.0) },
        ];
        for one in &all {
            let said = conflict(one, METRIC);
            assert!(is_advice(&said), "{said}");
            assert_eq!(
                one.place().is_some(),
                said.contains("marks it")
                    || said.contains("over its edge")
                    || said.contains("encloses only")
                    || said.contains("outside the form"),
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

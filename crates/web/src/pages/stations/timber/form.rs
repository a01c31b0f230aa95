//! The form of the boards.

use fondant_app::Shop;
use fondant_cast::document::Shaping;
use fondant_cast::{Conflict, Document, Kind};
use fondant_quantities::{Length, bounds};
use fondant_shapes::timber::{Board, RiverError};
use fondant_shapes::volume::methods::Method;

use super::{outlines, widths};
use crate::pages::stations::contents::{cavities, objects};
use crate::pages::stations::form::ways;
use crate::ui::reader::Reader;

/// Longest name of a timber, characters.
const TIMBER_CHARACTERS: usize = 30;

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, _: &Shop) {
    let thickness = document.piece.thickness;
    apply_boards(reader, document, thickness);
    let Some(river) = document.contents.river_mut() else { return };
    match river.shaping {
        Shaping::Outlines => {
            let tolerance = &mut river.point_tolerance;
            reader.quantity("points_tolerance", &bounds::TAPE_TOLERANCE, tolerance);
        }
        Shaping::Stations => {
            reader.quantity("tape", &bounds::TAPE_TOLERANCE, &mut document.tape_tolerance);
            widths::apply(reader, &mut river.stations);
        }
        Shaping::Amounts => ways::apply_dry_fill(reader, river),
    }
    cavities::apply_list(reader, &mut river.cavities, thickness);
    objects::apply(reader, &mut river.inserts, thickness);
    match reader.entries.get("reshape") {
        Some("outlines") => {
            if river.boards.iter().any(|b| b.shape.is_none()) {
                document.outlines_from_sketch();
            } else {
                river.shaping = Shaping::Outlines;
            }
        }
        Some("stations") => river.shaping = Shaping::Stations,
        Some("amounts") => river.shaping = Shaping::Amounts,
        Some("board") => {
            let like = river.boards.first().cloned();
            let like = like.unwrap_or_else(|| Board::usual(thickness));
            river.boards.push(Board { weighed: None, shape: None, ..like });
        }
        _ => {}
    }
}

fn apply_boards(reader: &mut Reader<'_>, document: &mut Document, thickness: Length) {
    let Some(river) = document.contents.river_mut() else { return };
    let mut numbers = reader.rows("board");
    if let Some(out) = reader.entries.get("board_out") {
        numbers.retain(|number| number != out);
    }
    let kept = std::mem::take(&mut river.boards);
    for number in &numbers {
        let before = number.parse().ok().and_then(|i: usize| kept.get(i).cloned());
        let mut board = before.unwrap_or_else(|| {
            // A new board is like the first, but nobody has put it on the scale.
            let like = kept.first().cloned();
            let like = like.unwrap_or_else(|| Board::usual(thickness));
            Board { weighed: None, ..like }
        });
        apply_board(reader, number, &mut board);
        match river.shaping {
            Shaping::Outlines => outlines::apply(reader, number, &mut board),
            Shaping::Amounts => {
                ways::apply_weighed(reader, &format!("weighed-{number}"), &mut board);
            }
            Shaping::Stations => {}
        }
        river.boards.push(board);
    }
}

fn apply_board(reader: &mut Reader<'_>, number: &str, board: &mut Board) {
    let name = |field: &str| format!("{field}-{number}");
    reader.text(&name("b_timber"), "The timber", TIMBER_CHARACTERS, true, &mut board.timber);
    reader.quantity(&name("b_thickness"), &bounds::BOARD_THICKNESS, &mut board.thickness);
    reader.quantity(&name("b_density"), &bounds::TIMBER_DENSITY, &mut board.density);
    reader.number(
        &name("b_moisture"),
        &bounds::TIMBER_MOISTURE_PERCENT,
        &mut board.moisture_percent,
    );
    reader.quantity(&name("b_absorbs"), &bounds::ABSORPTION, &mut board.absorption);
}

pub(super) fn field_of(conflict: &Conflict, _: Kind) -> String {
    match conflict {
        Conflict::River(error) => match error {
            RiverError::OutOfOrder { index, .. } | RiverError::BeyondForm { index, .. } => {
                format!("at-{index}")
            }
            RiverError::WiderThanForm { index, .. } => format!("river-{index}"),
            RiverError::PastFarWall { index, .. } => format!("wall-{index}"),
            RiverError::TooFew { .. } | RiverError::TooMany { .. } => String::new(),
        },
        Conflict::AmountBeyondForm { by: Method::Weighed, .. } => "weighed-0".to_owned(),
        Conflict::AmountBeyondForm { .. } => "dry_fill".to_owned(),
        Conflict::BoardsTooThin { .. } => "b_thickness-0".to_owned(),
        Conflict::InsertTooTall { insert, .. } => format!("ins_above-{insert}"),
        Conflict::InsertTooWide { insert } => format!("ins_a-{insert}"),
        _ => String::new(),
    }
}

//! The form of the piece: finished size, allowances, what it is for.

use fondant_app::Shop;
use fondant_cast::{Conflict, Document, Kind};
use fondant_quantities::bounds;
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::timber::RiverError;

use super::hollow;
use super::sides::{allowances, usual_piece};
use crate::ui::reader::Reader;

/// Longest words about the finish, characters.
const FINISH_CHARACTERS: usize = 60;

/// Reads those questions: the piece, and how many.
pub(crate) fn read_begin(reader: &mut Reader<'_>, kind: Kind) -> (Piece, u32) {
    let mut piece = usual_piece(kind, reader.system);
    let mut count = 6;
    read_sides(reader, kind, &mut piece);
    if kind.has_moulds() {
        reader.count("count", &bounds::MOULD_COUNT, &mut count);
    } else if allowances(kind).0 {
        reader.quantity("trim_margin", &bounds::TRIM_MARGIN, &mut piece.trim_margin);
    }
    (piece, count)
}

fn read_sides(reader: &mut Reader<'_>, kind: Kind, piece: &mut Piece) {
    reader.quantity("length", &bounds::FINISHED_LENGTH, &mut piece.length);
    reader.quantity("width", &bounds::FINISHED_WIDTH, &mut piece.width);
    if kind == Kind::Tubes {
        piece.thickness = piece.width;
    } else {
        reader.quantity("thickness", &bounds::FINISHED_THICKNESS, &mut piece.thickness);
    }
}

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, _: &Shop) {
    let kind = document.kind();
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut document.name);
    let before = CastSize::of(&document.piece).length;
    if kind.has_moulds() {
        hollow::apply(reader, &mut document.contents);
    } else {
        read_sides(reader, kind, &mut document.piece);
        let (trims, flattens, squares) = allowances(kind);
        if trims {
            reader.quantity("trim_margin", &bounds::TRIM_MARGIN, &mut document.piece.trim_margin);
        }
        if flattens {
            reader.quantity("flattening", &bounds::FLATTENING, &mut document.piece.flattening);
        }
        if squares {
            reader.quantity("squaring", &bounds::SQUARING, &mut document.piece.squaring);
        }
    }
    read_brief(reader, document);
    if reader.entries.get("spread").is_some() && reader.refusals.is_empty() {
        document.spread_stations(before, CastSize::of(&document.piece).length);
    }
}

fn read_brief(reader: &mut Reader<'_>, document: &mut Document) {
    let brief = &mut document.brief;
    reader.text("finish", "The finish", FINISH_CHARACTERS, true, &mut brief.finish);
    reader.text(
        "minded",
        "What to watch out for",
        bounds::MINDED_CHARACTERS,
        true,
        &mut brief.minded,
    );
    let deadline = reader.entries.get("deadline").unwrap_or_default().trim();
    if deadline.is_empty() {
        brief.deadline = None;
    } else {
        match deadline.parse() {
            Ok(date) => brief.deadline = Some(date),
            Err(_) => reader
                .refusals
                .add("deadline", "Pick a day, or type one as year-month-day: 2026-12-18."),
        }
    }
    let ticked = |name: &str| reader.entries.get(name).is_some();
    (brief.is_outdoor, brief.touches_food, brief.is_lit) =
        (ticked("outdoor"), ticked("food"), ticked("lit"));
}

pub(super) fn field_of(conflict: &Conflict, _: Kind) -> String {
    match conflict {
        Conflict::River(RiverError::BeyondForm { .. }) => "length",
        Conflict::River(RiverError::WiderThanForm { .. } | RiverError::PastFarWall { .. })
        | Conflict::InsertTooWide { .. } => "width",
        Conflict::BoardsTooThin { .. }
        | Conflict::InsertTooTall { .. }
        | Conflict::CavityTooDeep { .. } => "thickness",
        Conflict::PressedTooWide { row } => return format!("length-{row}"),
        Conflict::RowTooSmall { row, .. } | Conflict::PressedTooTall { row, .. } => {
            return format!("depth-{row}");
        }
        Conflict::TubeTooLarge { is_length: true } => "depth",
        Conflict::TubeTooLarge { is_length: false } => "length",
        _ => "",
    }
    .to_owned()
}

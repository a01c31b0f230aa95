//! Station 1: the finished size and what it takes to get there.

use askama::Template;
use fondant_core::form::{CastSize, FLATTENING_PER_FACE};
use fondant_core::plan::{Conflict, Plan};
use fondant_core::quantities::bounds;
use fondant_core::timber::RiverError;

use super::{Asked, read_piece};
use crate::drawings::plan_view::{PlanView, draw};
use crate::drawings::{WIDE, both};
use crate::entries::Reader;
use crate::views::fields::Field;
use crate::views::rail::Station;

#[derive(Template)]
#[template(path = "stations/piece.html")]
struct PieceBody {
    name: Field,
    fields: Vec<Field>,
    refusal: String,
    can_spread: bool,
    drawing: String,
    cast_size: String,
    cast_other: String,
    cast_thickness: String,
    why_size: String,
    why_thickness: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut plan.name);
    let before = CastSize::of(&plan.piece).length;
    read_piece(reader, &mut plan.piece);
    if reader.entries.get("spread").is_some() && reader.refusals.is_empty() {
        plan.spread_stations(before, CastSize::of(&plan.piece).length);
    }
}

pub(super) fn field_of(conflict: &Conflict) -> String {
    match conflict {
        Conflict::River(RiverError::BeyondForm { .. }) => "length",
        Conflict::River(RiverError::WiderThanForm { .. } | RiverError::PastFarWall { .. }) => {
            "width"
        }
        Conflict::BoardsTooThin { .. } => "thickness",
        _ => "",
    }
    .to_owned()
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, shown) = (asked.plan, asked.shop.shown);
    let (piece, cast, fields) = (&plan.piece, &asked.evaluation.cast, asked.fields());
    let other = shown.other();
    let link = format!("{}?section=", asked.address(Station::Timber));
    let view = PlanView {
        river: &asked.evaluation.river,
        boards: [String::new(), String::new()],
        here: usize::MAX,
        link: &link,
        shown,
    };
    PieceBody {
        name: fields.text("name", "Name", &plan.name),
        fields: vec![
            fields.length("length", "Finished length", piece.length),
            fields.length("width", "Finished width", piece.width),
            fields.length("thickness", "Finished thickness", piece.thickness),
            fields.length("trim_margin", "Trim margin, every side", piece.trim_margin),
        ],
        refusal: asked.refusal(),
        can_spread: asked.refusals.of("length").contains("lies beyond the form"),
        drawing: both(WIDE, |frame| draw(&view, frame)),
        cast_size: format!("{} × {}", shown.length_figure(cast.length), shown.length(cast.width)),
        cast_other: format!("{} × {}", other.length(cast.length), other.length(cast.width)),
        cast_thickness: shown.length(cast.thickness),
        why_size: format!(
            "Finished size and {} on every side, sawn off once it is cured.",
            shown.length(piece.trim_margin)
        ),
        why_thickness: format!(
            "Finished thickness and {} a face for the router sled. Boards of at least this \
             thickness leave enough to flatten.",
            shown.length(FLATTENING_PER_FACE)
        ),
    }
    .render()
}

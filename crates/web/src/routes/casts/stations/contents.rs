//! Station 2 of every kind but the river: cavities, blanks, tubes, the
//! object, pieces, the face.
//!
//! - [`cavities`] of a board, [`objects`] in the resin: lists whose rows come and go
//! - [`fixed`]: blanks sawn from a block, tubes and their labels, pieces, the face

pub(super) mod cavities;
mod fixed;
pub(super) mod objects;

use askama::Template;
use fondant_cast::{Conflict, Kind, Plan};

use super::{Asked, Group, List};
use crate::drawings::{WIDE, both, plan_view, section};
use crate::entries::Reader;
use crate::views::figure::Figure;

/// What a kind shows at its second station.
#[derive(Default)]
struct Contents {
    title: &'static str,
    groups: Vec<Group>,
    list: Option<List>,
    /// A drawing of the kind's own, with its caption.
    drawing: String,
    caption: String,
    figures: Vec<Figure>,
    /// What is worth knowing: a heading and a sentence.
    notes: Vec<(&'static str, String)>,
    troubles: Vec<String>,
    cares: Vec<String>,
    links: Vec<(&'static str, String)>,
}

#[derive(Template)]
#[template(path = "stations/contents.html")]
struct Page {
    c: Contents,
    refusal: String,
    plan: String,
    section: String,
    section_caption: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    match plan.kind {
        Kind::Inlay => cavities::apply(reader, plan),
        Kind::Embed | Kind::River => objects::apply(reader, plan),
        Kind::Block => fixed::apply_block(reader, plan),
        Kind::TubeBlanks => fixed::apply_tubes(reader, plan),
        Kind::Moulds => fixed::apply_pieces(reader, plan),
        Kind::Coat => fixed::apply_face(reader, plan),
    }
}

pub(super) fn field_of(kind: Kind, conflict: &Conflict) -> String {
    match (kind, conflict) {
        (_, Conflict::CavityTooDeep { cavity, .. }) => format!("cav_depth-{cavity}"),
        (_, Conflict::InsertTooTall { insert, .. }) => format!("ins_above-{insert}"),
        (_, Conflict::InsertTooWide { insert }) => format!("ins_a-{insert}"),
        (_, Conflict::TubeTooLarge { is_length: true }) => "tube_length".to_owned(),
        (_, Conflict::TubeTooLarge { is_length: false }) => "tube_outside".to_owned(),
        (Kind::Moulds, Conflict::CavityTooSmall { .. }) => "timber".to_owned(),
        (Kind::TubeBlanks, Conflict::CavityTooSmall { .. }) => "tube_outside".to_owned(),
        _ => String::new(),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let c = match asked.plan.kind {
        Kind::Inlay => cavities::contents(asked),
        Kind::Embed | Kind::River => objects::contents(asked),
        Kind::Block => fixed::block(asked),
        Kind::TubeBlanks => fixed::tubes(asked),
        Kind::Moulds => fixed::pieces(asked),
        Kind::Coat => fixed::face(asked),
    };
    let view = asked.plan_view("");
    let cut = asked.section();
    Page {
        c,
        refusal: asked.refusal(),
        plan: both(WIDE, |frame| plan_view::draw(&view, frame)),
        section: both(WIDE, |frame| section::draw(&cut, section::Extent::Whole, frame)),
        section_caption: format!(
            "Section {} from the left end, to scale",
            asked.shop.shown.length(cut.at)
        ),
    }
    .render()
}

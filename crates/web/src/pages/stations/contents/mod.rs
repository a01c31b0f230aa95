//! Station 2 of every kind but the river: cavities, blanks, tubes, the object, pieces, the face.
//!
//! - [`cavities`] of a board, [`objects`] in the resin: lists whose rows come and go
//! - `block`, `tubes`, `pieces`, `face`: kinds with a handful of figures

mod block;
pub(crate) mod cavities;
mod each;
mod face;
mod inside;
pub(crate) mod objects;
pub(crate) mod pieces;
mod tubes;
mod view;

use fondant_app::{App, Shop};
use fondant_cast::{Conflict, Contents, Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;
use crate::words::kinds;

/// The station.
pub(super) struct Inside;

impl Station for Inside {
    type Loaded = ();
    const SLUG: &'static str = "timber";
    const DIGIT: usize = 2;
    const SCRIPTS: &'static [Script] = &[Script::Components("/rows.js"), Script::Alpine];

    fn is_for(kind: Kind) -> bool {
        kind != Kind::River
    }

    fn name(kind: Kind) -> &'static str {
        kinds::contents(kind)
    }

    fn standing(document: &Document, _: &Evaluation) -> Standing {
        match &document.contents {
            Contents::Inlay(inlay) if !inlay.board.is_dry() => Standing::Trouble,
            _ => Standing::Settled,
        }
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, _: &Shop) {
        let depth = document.piece.thickness;
        match &mut document.contents {
            Contents::Inlay(inlay) => cavities::apply(reader, inlay),
            Contents::Embed(embed) => objects::apply(reader, &mut embed.inserts, depth),
            Contents::Block(block) => block::apply(reader, block),
            Contents::Tubes(tubes) => tubes::apply(reader, tubes),
            Contents::Moulds(moulds) => pieces::apply(reader, moulds),
            Contents::Coat(coat) => face::apply(reader, coat),
            Contents::River(_) => {}
        }
    }

    fn field_of(conflict: &Conflict, kind: Kind) -> String {
        match (kind, conflict) {
            (_, Conflict::CavityTooDeep { cavity, .. }) => format!("cav_depth-{cavity}"),
            (_, Conflict::InsertTooTall { insert, .. }) => format!("ins_above-{insert}"),
            (_, Conflict::InsertTooWide { insert }) => format!("ins_a-{insert}"),
            (_, Conflict::TubeTooLarge { is_length: true }) => "tube_length".to_owned(),
            (_, Conflict::TubeTooLarge { is_length: false }) => "tube_outside".to_owned(),
            (_, Conflict::RowTooSmall { row, .. }) => format!("pr_shape-{row}"),
            (_, Conflict::PressedTooWide { row }) => format!("pr_length-{row}"),
            (_, Conflict::PressedTooTall { row, .. }) => format!("pr_height-{row}"),
            (Kind::Tubes, Conflict::CavityTooSmall { .. }) => "tube_outside".to_owned(),
            _ => String::new(),
        }
    }

    async fn load(_: &App, _: &Visit) -> Result<(), WebError> {
        Ok(())
    }

    fn view(asked: &Asked<'_>, (): ()) -> askama::Result<Markup> {
        view::view(asked)
    }
}

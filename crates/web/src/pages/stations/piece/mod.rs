//! Station 1: the finished size, what it takes to get there, what it is for.

mod form;
mod hollow;
mod sides;
mod view;

use fondant_app::{App, Shop};
use fondant_cast::{Conflict, Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;

pub(crate) use form::read_begin;
pub(crate) use sides::{begin_fields, usual_piece};

/// The station.
pub(super) struct Piece;

impl Station for Piece {
    type Loaded = ();
    const SLUG: &'static str = "piece";
    const DIGIT: usize = 1;
    const SCRIPTS: &'static [Script] = &[Script::Components("/rows.js"), Script::Alpine];

    fn name(_: Kind) -> &'static str {
        "Piece"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::Settled
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    fn field_of(conflict: &Conflict, kind: Kind) -> String {
        form::field_of(conflict, kind)
    }

    async fn load(_: &App, _: &Visit) -> Result<(), WebError> {
        Ok(())
    }

    fn view(asked: &Asked<'_>, loaded: ()) -> askama::Result<Markup> {
        view::view(asked, loaded)
    }
}

//! Station 2 of a river: the boards, their outlines or the river between them by stations.
//!
//! - [`outlines`]: outlines as text, and the drawing that is dragged
//! - [`widths`]: the table of stations

mod backdrop;
mod form;
pub(crate) mod outlines;
mod view;
mod widths;

use fondant_app::casts::photos;
use fondant_app::{App, Shop};
use fondant_cast::document::Shaping;
use fondant_cast::{Conflict, Document, Evaluation, Kind};
use fondant_shapes::timber::Board;

pub(crate) use backdrop::Backdrop;

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::paths::casts::PhotoBytes;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Timber;

impl Station for Timber {
    /// The newest photo that was squared up, to draw over.
    type Loaded = Option<Backdrop>;
    const SLUG: &'static str = "timber";
    const DIGIT: usize = 2;
    const SCRIPTS: &'static [Script] =
        &[Script::Components("/rows.js"), Script::Alpine, Script::Module("/editor.js")];

    fn is_for(kind: Kind) -> bool {
        kind == Kind::River
    }

    fn name(_: Kind) -> &'static str {
        "Timber"
    }

    fn standing(document: &Document, _: &Evaluation) -> Standing {
        if !document.contents.boards().iter().all(Board::is_dry) {
            Standing::Trouble
        } else if document.river_is_guess() {
            Standing::InHand
        } else {
            Standing::Settled
        }
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    fn field_of(conflict: &Conflict, kind: Kind) -> String {
        form::field_of(conflict, kind)
    }

    async fn load(app: &App, visit: &Visit) -> Result<Option<Backdrop>, WebError> {
        let is_drawn =
            visit.document.contents.river().is_some_and(|r| r.shaping == Shaping::Outlines);
        if !is_drawn {
            return Ok(None);
        }
        let photos = photos::of_bench(app, &visit.open).await?;
        Ok(photos.into_iter().find_map(|photo| {
            let squaring = photo.squaring?;
            Some(Backdrop {
                href: PhotoBytes::squared(visit.open.record.id, photo.id, &squaring),
                length: squaring.length,
                width: squaring.width,
            })
        }))
    }

    fn view(asked: &Asked<'_>, backdrop: Option<Backdrop>) -> askama::Result<Markup> {
        view::view(asked, backdrop.as_ref())
    }
}

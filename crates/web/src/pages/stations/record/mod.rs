//! Station 9: what was promised, what happened, what is wrong with the piece and why.
//!
//! - `view`: what the station shows; `promised`: the forecast beside what happened; `drawing`: the
//!   piece from above with its faults
//! - `photos`: of its faults and its finishing
//! - `form`: what the maker says, as it is shown and read

pub(crate) mod drawing;
pub(crate) mod form;
mod photos;
mod promised;
mod view;

use fondant_app::casts;
use fondant_app::ending::{self, Ending};
use fondant_app::records::PhotoRecord;
use fondant_app::{App, Shop};
use fondant_cast::{Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Record;

impl Station for Record {
    type Loaded = (Ending, Vec<PhotoRecord>);
    const SLUG: &'static str = "record";
    const DIGIT: usize = 9;
    const HAS_FORM: bool = false;
    const SCRIPTS: &'static [Script] =
        &[Script::Module("/record.js"), Script::Module("/upload.js")];

    fn name(_: Kind) -> &'static str {
        "Record"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::InHand
    }

    /// Nothing of the document is changed here.
    fn apply(_: &mut Reader<'_>, _: &mut Document, _: &Shop) {}

    async fn load(app: &App, visit: &Visit) -> Result<Self::Loaded, WebError> {
        let photos = casts::photos::all(app, &visit.open).await?;
        Ok((ending::ending(app, &visit.open, &visit.worked).await?, photos))
    }

    fn view(asked: &Asked<'_>, (ending, photos): Self::Loaded) -> askama::Result<Markup> {
        view::view(asked, &ending, &photos)
    }
}

//! Station 8: from the form to the finished piece, in order, with hours and what is used up; each step is
//! timed and remarked on as it is done.
//!
//! - `view`: what the station shows; `form`: what is told of a step, as it is read

pub(crate) mod form;
pub(crate) mod view;

use fondant_app::casts::photos;
use fondant_app::finishing::{Finishing, finishing};
use fondant_app::records::PhotoRecord;
use fondant_app::{App, Shop};
use fondant_cast::planning::{CuredThrough, cured_through};
use fondant_cast::{Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Finish;

impl Station for Finish {
    type Loaded = (Finishing, Option<CuredThrough>, Vec<PhotoRecord>);
    const SLUG: &'static str = "finish";
    const DIGIT: usize = 8;
    const HAS_FORM: bool = false;
    const SCRIPTS: &'static [Script] = &[Script::Module("/upload.js")];

    fn name(_: Kind) -> &'static str {
        "Finish"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::InHand
    }

    /// Nothing of the document is changed here.
    fn apply(_: &mut Reader<'_>, _: &mut Document, _: &Shop) {}

    async fn load(app: &App, visit: &Visit) -> Result<Self::Loaded, WebError> {
        let (worked, document) = (visit.worked.clone(), visit.document.clone());
        let cured = app.beside(&visit.worked, &visit.document, move |stop| {
            cured_through(&worked.inputs, &document, &worked.evaluation, stop)
        });
        let cured = *cured.await?;
        Ok((finishing(app, &visit.open).await?, cured, photos::all(app, &visit.open).await?))
    }

    fn view(asked: &Asked<'_>, loaded: Self::Loaded) -> askama::Result<Markup> {
        let (finishing, cured, photos) = loaded;
        view::view(asked, &finishing, (cured, &photos))
    }
}

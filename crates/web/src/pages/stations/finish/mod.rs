//! Station 8: from the form to the finished piece, in order, with hours and what is used up.

mod view;

use fondant_app::{App, Shop};
use fondant_cast::{Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Finish;

impl Station for Finish {
    type Loaded = ();
    const SLUG: &'static str = "finish";
    const DIGIT: usize = 8;
    const HAS_FORM: bool = false;

    fn name(_: Kind) -> &'static str {
        "Finish"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::InHand
    }

    /// Nothing of the document is changed here.
    fn apply(_: &mut Reader<'_>, _: &mut Document, _: &Shop) {}

    async fn load(_: &App, _: &Visit) -> Result<(), WebError> {
        Ok(())
    }

    fn view(asked: &Asked<'_>, (): ()) -> askama::Result<Markup> {
        view::view(asked)
    }
}

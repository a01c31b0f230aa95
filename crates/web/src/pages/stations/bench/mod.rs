//! Station 7: the pours of this cast, each with its run.

mod view;

use fondant_app::records::KeptRun;
use fondant_app::{App, Shop, bench};
use fondant_cast::{Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Bench;

impl Station for Bench {
    type Loaded = Vec<KeptRun>;
    const SLUG: &'static str = "bench";
    const DIGIT: usize = 7;

    fn name(_: Kind) -> &'static str {
        "Bench"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::InHand
    }

    /// Nothing of the document is changed here.
    fn apply(_: &mut Reader<'_>, _: &mut Document, _: &Shop) {}

    async fn load(app: &App, visit: &Visit) -> Result<Vec<KeptRun>, WebError> {
        Ok(bench::runs(app, &visit.open).await?)
    }

    fn view(asked: &Asked<'_>, runs: Vec<KeptRun>) -> askama::Result<Markup> {
        view::view(asked, &runs)
    }
}

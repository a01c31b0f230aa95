//! Station 5: how hot it gets.
//!
//! - [`extras`]: what is worked out beside the evaluation
//! - [`figures`]: figures with their workings; [`panels`]: limits, changes, bucket, bubbles
//! - [`drawing`]: temperatures over time and depth
//! - `heat.js`: the field, scrubbed; `lines.js`: lines over it; `depth.js`: the depth, dragged

mod drawing;
mod extras;
mod figures;
mod form;
mod panels;
mod view;

use std::sync::Arc;

use fondant_app::{App, Shop};
use fondant_cast::planning::suits;
use fondant_cast::{Document, Evaluation, Kind};
use fondant_quantities::TemperatureDelta;

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;
use extras::{HeatExtras, slower};

/// The station.
pub(super) struct Heat;

impl Station for Heat {
    type Loaded = Arc<HeatExtras>;
    const SLUG: &'static str = "heat";
    const DIGIT: usize = 5;
    const SCRIPTS: &'static [Script] = &[Script::Module("/heat.js")];

    fn name(_: Kind) -> &'static str {
        "Heat"
    }

    fn standing(_: &Document, evaluation: &Evaluation) -> Standing {
        match (&evaluation.heat.whole, &evaluation.pours) {
            (Ok(whole), _) if whole.margin >= TemperatureDelta::ZERO => Standing::Settled,
            // Too hot in one pour, but layers keep it under the limit.
            (Ok(_), Ok(_)) => Standing::Settled,
            _ => Standing::Trouble,
        }
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    async fn load(app: &App, visit: &Visit) -> Result<Arc<HeatExtras>, WebError> {
        let (worked, document) = (visit.worked.clone(), visit.document.clone());
        let offered = visit.open.shop.shelf().offered();
        let measured = &worked.evaluation.measured;
        let slower = slower(&document.resin, offered)
            .filter(|resin| suits(&document, measured, resin).is_ok())
            .cloned();
        let by = (&visit.document, slower.clone());
        let work = app.beside(&visit.worked, &by, move |stop| {
            let evaluation = Arc::clone(&worked.evaluation);
            HeatExtras::work(&worked.inputs, &document, &evaluation, slower.as_ref(), stop)
        });
        Ok(work.await?)
    }

    fn view(asked: &Asked<'_>, extras: Arc<HeatExtras>) -> askama::Result<Markup> {
        view::view(asked, &extras)
    }
}

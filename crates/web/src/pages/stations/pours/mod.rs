//! Station 6: when each layer goes in.
//!
//! - [`axis`]: the drawing; [`part`]: the drawing and the text beside it
//! - [`split`]: layers; [`stages`], [`stage_rows`]: pours beside the main fill; [`facts`]: what happened
//! - [`rows`]: the table; [`notes`]: sentences

pub(crate) mod axis;
mod facts;
pub(crate) mod form;
mod notes;
pub(crate) mod part;
mod rows;
mod split;
mod stage_rows;
mod stages;
mod view;

use std::sync::Arc;

use fondant_app::{App, Request, Shop};
use fondant_cast::{Conflict, Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;
use view::PoursExtras;

pub(crate) use facts::{QUESTIONED, difference};
pub(crate) use rows::{PourRow, row};
pub(crate) use split::picture;
pub(crate) use view::{UNSTEADY, ids};

/// The station.
pub(super) struct Pours;

impl Station for Pours {
    type Loaded = PoursExtras;
    const SLUG: &'static str = "pours";
    const DIGIT: usize = 6;
    const SCRIPTS: &'static [Script] =
        &[Script::Module("/pours.js"), Script::Module("/happened.js")];

    fn name(_: Kind) -> &'static str {
        "Pours"
    }

    fn standing(_: &Document, evaluation: &Evaluation) -> Standing {
        let is_taken = evaluation.standing == fondant_cast::Standing::Taken;
        match &evaluation.pours {
            Ok(schedule) if !schedule.breaks.is_empty() => Standing::Trouble,
            // Proposed is not decided, and a joint to be sanded is not done with.
            Ok(schedule) if is_taken && schedule.sanded_joints() == 0 => Standing::Settled,
            Ok(_) => Standing::InHand,
            Err(_) => Standing::Trouble,
        }
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    fn field_of(conflict: &Conflict, kind: Kind) -> String {
        form::field_of(conflict, kind)
    }

    async fn load(app: &App, visit: &Visit) -> Result<PoursExtras, WebError> {
        let observed = app.by_facts(&visit.planned, &visit.facts).await?;
        let evaluation = Arc::clone(&visit.worked.evaluation);
        let narrowest =
            app.beside(&visit.worked, &(), move |stop| notes::narrowest(&evaluation, stop));
        let narrowest = *narrowest.await?;
        Ok(PoursExtras { observed, narrowest, request: Request::new_key()? })
    }

    fn view(asked: &Asked<'_>, extras: PoursExtras) -> askama::Result<Markup> {
        view::view(asked, &extras)
    }
}

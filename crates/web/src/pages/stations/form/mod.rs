//! Station 3: the volume line by line, other ways of measuring it, hold-down, what to build or load,
//! what to buy.
//!
//! - [`build`]: base, walls, sealant, release; [`owned`]: forms that the shop has
//! - [`lines`]: the volume in words; [`ways`]: four ways to the same number
//! - [`pot`]: loading a pressure pot
//! - [`buy`]: what to buy; [`lift`]: hold-down

mod build;
mod buy;
#[expect(clippy::module_inception, reason = "the station Form reads its form in form.rs too")]
mod form;
mod lift;
mod lines;
mod owned;
mod pot;
mod view;
pub(super) mod ways;

use fondant_app::records::FormRecord;
use fondant_app::stock::{Stock, stock};
use fondant_app::{App, Shop, forms};
use fondant_cast::{Document, Evaluation, Kind};

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::reader::Reader;

/// The station.
pub(super) struct Form;

impl Station for Form {
    /// Forms that the shop has, and what stands on the shelf.
    type Loaded = (Vec<FormRecord>, Stock);
    const SLUG: &'static str = "form";
    const DIGIT: usize = 3;

    fn name(kind: Kind) -> &'static str {
        match kind {
            Kind::Tubes | Kind::Moulds => "Moulds",
            Kind::Inlay | Kind::Coat => "Volume",
            Kind::River | Kind::Block | Kind::Embed => "Form",
        }
    }

    fn standing(_: &Document, evaluation: &Evaluation) -> Standing {
        let ways = &evaluation.measured.ways;
        if ways.looks_like_slip {
            Standing::Trouble
        } else if ways.disagreements.is_empty() {
            Standing::Settled
        } else {
            Standing::InHand
        }
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    async fn load(app: &App, visit: &Visit) -> Result<Self::Loaded, WebError> {
        let shop = &visit.open.shop;
        let (forms, stock) =
            tokio::try_join!(forms::all(app, shop), stock(app, shop, visit.open.record.id))?;
        Ok((forms.all, stock))
    }

    fn view(asked: &Asked<'_>, (forms, stock): Self::Loaded) -> askama::Result<Markup> {
        view::view(asked, &forms, &stock)
    }
}

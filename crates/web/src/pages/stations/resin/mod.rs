//! Station 4: the resins of the shelf, compared for this cast, and what colours it.
//!
//! - `view`: the resins side by side; `drawing`: their layers; `form`: which is chosen
//! - `colour`: the recipe of its colour

mod colour;
mod drawing;
mod form;
mod view;

use std::sync::Arc;

use fondant_app::recipes::{self, Mixed};
use fondant_app::stock::{Stock, stock};
use fondant_app::{App, AppError, Shop, casts, shelf};
use fondant_cast::{Document, Evaluation, Kind};
use fondant_materials::resin::shelf::Colour;
use fondant_numerics::Stop;
use tokio::task::JoinSet;

use super::asked::{Asked, Visit};
use super::standing::Standing;
use super::station::Station;
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::Script;
use crate::ui::reader::Reader;
use view::InResin;

/// The station.
pub(super) struct Resin;

/// What its page shows beside the cast.
pub(crate) struct Loaded {
    /// The cast in each resin.
    each: Vec<InResin>,
    stock: Stock,
    /// Colours on the shelf.
    colours: Vec<Colour>,
    /// How the shop's other casts were coloured.
    mixed: Vec<Mixed>,
}

impl Station for Resin {
    type Loaded = Loaded;
    const SLUG: &'static str = "resin";
    const DIGIT: usize = 4;
    const SCRIPTS: &'static [Script] = &[Script::Components("/rows.js"), Script::Alpine];

    fn name(_: Kind) -> &'static str {
        "Resin"
    }

    fn standing(_: &Document, _: &Evaluation) -> Standing {
        Standing::Settled
    }

    fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
        form::apply(reader, document, shop);
    }

    /// The cast in each resin, worked out side by side and kept, so that the resin then chosen is
    /// there at once.
    async fn load(app: &App, visit: &Visit) -> Result<Loaded, WebError> {
        let mut works = JoinSet::new();
        let document = visit.open.record.document.clone();
        let begun = casts::resins::noted(app, &visit.open, &visit.facts, document.clone()).await?;
        let shelf = visit.open.shop.shelf();
        for (place, on) in shelf.offered_beside(&document.resin).enumerate() {
            let (resin, is_put_away) = (on.resin.clone(), on.is_put_away);
            let (app, shop) = (app.clone(), visit.open.shop.clone());
            let document = Document { resin: resin.id.clone(), ..begun.clone() };
            let conditions = visit.document.conditions;
            works.spawn(async move {
                let worked = match app.evaluate(&document, &shop).await {
                    Ok(worked) => worked,
                    Err(AppError::Conflicts(_)) => {
                        return Ok((
                            place,
                            InResin { resin, is_put_away, evaluation: None, bubbles: None },
                        ));
                    }
                    Err(error) => return Err(error),
                };
                let evaluation = Arc::clone(&worked.evaluation);
                let work = move |stop: &Stop| view::rising(&evaluation, &conditions, stop);
                let bubbles = *app.beside(&worked, &conditions, work).await?;
                let evaluation = Some(worked.evaluation);
                Ok((place, InResin { resin, is_put_away, evaluation, bubbles }))
            });
        }
        let all: Result<Vec<_>, AppError> = works.join_all().await.into_iter().collect();
        let mut all = all?;
        all.sort_by_key(|(place, _)| *place);
        let (shop, cast) = (&visit.open.shop, visit.open.record.id);
        let stock = stock(app, shop, cast).await?;
        let colours = shelf::items::<Colour>(app, shop).await?.items;
        let colours = colours.into_iter().map(|kept| kept.item).collect();
        let mixed = recipes::mixed(app, shop, cast).await?;
        let each = all.into_iter().map(|(_, each)| each).collect();
        Ok(Loaded { each, stock, colours, mixed })
    }

    fn view(asked: &Asked<'_>, loaded: Loaded) -> askama::Result<Markup> {
        let Loaded { each, stock, colours, mixed } = loaded;
        view::view(asked, &each, &stock, (&colours, &mixed))
    }
}

//! The page, and its lots and colours added, changed, removed.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::{App, AppError, Request, shelf};
use fondant_materials::resin::shelf::{Colour, Lot as LotItem};
use fondant_quantities::bounds;

use super::form::{read_colour, read_lot};
use super::repair;
use super::view::{Refused, ShelfPage, Which};
use crate::Web;
use crate::paths::shop::{Colours, Lot, Lots, RemoveColour, RemoveLot, Repair, Shelf};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(show)
        .typed_get(work_out)
        .typed_post(add_lot)
        .typed_post(left)
        .typed_post(remove_lot)
        .typed_post(add_colour)
        .typed_post(remove_colour)
}

async fn show(_: Shelf, State(app): State<App>) -> Answer {
    page(&app, None).await
}

async fn work_out(_: Repair, State(app): State<App>, Typed(asked): Typed) -> Answer {
    page_with(&app, None, &asked).await
}

/// The page with a sentence why a file was not brought in.
pub(crate) async fn refused_with(app: &App, notice: String) -> Answer {
    let entries = Entries::default();
    let refusals = Refusals::none();
    page(app, Some(Refused { which: Which::File, entries: &entries, refusals: &refusals, notice }))
        .await
}

async fn page(app: &App, refused: Option<Refused<'_>>) -> Answer {
    page_with(app, refused, &Entries::default()).await
}

/// The page, with the repair that was asked for.
async fn page_with(app: &App, refused: Option<Refused<'_>>, repair: &Entries) -> Answer {
    let shop = app.shop().await?;
    let lots = shelf::items::<LotItem>(app, &shop).await?;
    let colours = shelf::items::<Colour>(app, &shop).await?;
    let repair = repair::view(repair, shop.shown());
    let status = if refused.is_some() || repair.is_refused {
        StatusCode::UNPROCESSABLE_ENTITY
    } else {
        StatusCode::OK
    };
    let request = Request::new_key()?;
    let kept = (&lots, &colours);
    let page = ShelfPage::new((&shop, app.now()), kept, repair, refused, request);
    Ok((status, page).into_response())
}

fn refused<'a>(which: Which<'a>, entries: &'a Entries, refusals: &'a Refusals) -> Refused<'a> {
    Refused { which, entries, refusals, notice: String::new() }
}

fn back(place: &str) -> Answer {
    Ok(Redirect::to(&format!("{Shelf}#{place}")).into_response())
}

async fn add_lot(_: Lots, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let Some(lot) = read_lot(&mut reader, &shop) else {
        return page(&app, Some(refused(Which::NewLot, &entries, &reader.refusals))).await;
    };
    shelf::add(&app, &shop, &lot, &Request::keyed(entries.get("request"))).await?;
    back("stock")
}

const STALE: &str = "This lot was changed in another tab since you opened it here. Your entry is still \
    in its field; keep it once more to put it over.";

/// How much is left in a lot now.
async fn left(Lot { lot: slug }: Lot, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let lots = shelf::items::<LotItem>(&app, &shop).await?.items;
    let kept = lots.into_iter().find(|kept| kept.slug == slug);
    let mut lot = kept.ok_or(WebError::NotFound("lot"))?.item;
    let mut reader = Reader::new(&entries, shop.shown().system);
    reader.quantity(&format!("left-{slug}"), &bounds::OPENED, &mut lot.left);
    if !reader.refusals.is_empty() {
        return page(&app, Some(refused(Which::Lot(&slug), &entries, &reader.refusals))).await;
    }
    let expected = entries.number("revision").unwrap_or_default();
    match shelf::save_lot(&app, &shop, (&slug, expected), &lot).await {
        Ok(()) => back("stock"),
        Err(AppError::Stale { .. }) => {
            let refusals = Refusals::at(&format!("left-{slug}"), STALE);
            page(&app, Some(refused(Which::Lot(&slug), &entries, &refusals))).await
        }
        Err(error) => Err(error.into()),
    }
}

async fn remove_lot(RemoveLot { lot }: RemoveLot, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    shelf::take_off::<LotItem>(&app, &shop, &lot).await?;
    back("stock")
}

async fn add_colour(_: Colours, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let Some(colour) = read_colour(&mut reader) else {
        return page(&app, Some(refused(Which::NewColour, &entries, &reader.refusals))).await;
    };
    shelf::add(&app, &shop, &colour, &Request::keyed(entries.get("request"))).await?;
    back("colours")
}

async fn remove_colour(RemoveColour { colour }: RemoveColour, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    shelf::take_off::<Colour>(&app, &shop, &colour).await?;
    back("colours")
}

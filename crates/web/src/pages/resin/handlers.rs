//! A resin entered, fitted, changed, put away.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::{App, AppError, Request, Shop, shelf};
use fondant_materials::resin::shelf::{LessonRecord, OwnResin};
use fondant_materials::resin::{Record, ResinId};

use super::class::{class, fresh, refilled};
use super::form::read;
use super::view::{Refused, ResinPage, Shown};
use crate::Web;
use crate::paths::shop::{Forget, NewResin, PutAway, Resin, Restore, Shelf};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::calibration;

type Answer = Result<Response, WebError>;

pub(super) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(new)
        .typed_post(create)
        .typed_get(show)
        .typed_post(save)
        .typed_post(put_away)
        .typed_post(restore)
        .typed_post(forget)
}

/// A new resin; with what was typed so far where another class is chosen.
async fn new(_: NewResin, State(app): State<App>, Typed(typed): Typed) -> Answer {
    let shop = app.shop().await?;
    let none = Refusals::none();
    let (record, entries) = match refilled(&typed, shop.shown()) {
        Some((record, entries)) => (record, Some(entries)),
        None => (fresh(class(&typed)), None),
    };
    let typed = entries.as_ref().map(|entries| Refused { entries, refusals: &none, notice: "" });
    page(&app, &shop, (None, Some(record)), typed).await
}

async fn show(Resin { resin }: Resin, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    page(&app, &shop, (Some(&resin), None), None).await
}

async fn page(
    app: &App,
    shop: &Shop,
    (id, new): (Option<&str>, Option<Record>),
    refused: Option<Refused<'_>>,
) -> Answer {
    let on = id.map(|id| shelf::find(shop, id)).transpose()?;
    let record = on.map(|on| on.resin.clone()).or(new).ok_or(WebError::NotFound("resin"))?;
    let own = match id {
        Some(id) => shelf::own(app, shop, id).await?,
        None => None,
    };
    let lessons = shelf::items::<LessonRecord>(app, shop).await?.items;
    let compared = {
        let (resin, sheet) = (record.calibrated(), record.datasheet);
        app.compute(move |stop| fondant_heat::calibration::sheet::compare(&resin, &sheet, stop))
    };
    let shown = Shown {
        shop,
        on,
        record: &record,
        revision: own.map_or(0, |kept| kept.revision),
        compared: compared.await?,
        lessons: lessons.into_iter().map(|kept| kept.item).collect(),
        request: Request::new_key()?,
    };
    let status = match &refused {
        Some(refused) if refused.is_refusal() => StatusCode::UNPROCESSABLE_ENTITY,
        _ => StatusCode::OK,
    };
    Ok((status, ResinPage::new(&shown, refused)).into_response())
}

fn to_resin(id: ResinId) -> Answer {
    Ok(Redirect::to(&Resin { resin: id.0 }.to_string()).into_response())
}

async fn create(_: NewResin, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    match fitted(&app, &shop, fresh(class(&entries)), &entries).await? {
        Ok(resin) => {
            let request = Request::keyed(entries.get("request"));
            match shelf::add_resin(&app, &shop, resin, &request).await? {
                Some(id) => to_resin(id),
                // It was added before, under the name that it then found free.
                None => Ok(Redirect::to(&Shelf.to_string()).into_response()),
            }
        }
        Err(refusals) => {
            let refused = Refused { entries: &entries, refusals: &refusals, notice: "" };
            page(&app, &shop, (None, Some(fresh(class(&entries)))), Some(refused)).await
        }
    }
}

const STALE: &str = "This resin was changed in another tab since you opened it here. Your entries are \
    still in the fields; keep them once more to put them over it.";

async fn save(Resin { resin: id }: Resin, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let on = shelf::find(&shop, &id)?;
    let is_put_away = on.is_put_away;
    let none = Refusals::none();
    let (refusals, notice) = match fitted(&app, &shop, on.resin.clone(), &entries).await? {
        Ok(resin) => {
            let own = OwnResin { resin, is_put_away };
            match shelf::save_resin(&app, &shop, expected(&entries), &own).await {
                Ok(()) => return to_resin(own.resin.properties.id),
                Err(AppError::Stale { .. }) => (none, STALE),
                Err(error) => return Err(error.into()),
            }
        }
        Err(refusals) => (refusals, ""),
    };
    let shop = app.shop().await?;
    let refused = Refused { entries: &entries, refusals: &refusals, notice };
    page(&app, &shop, (Some(&id), None), Some(refused)).await
}

/// The resin that was typed, its model fitted to its datasheet.
async fn fitted(
    app: &App,
    shop: &Shop,
    before: Record,
    entries: &Entries,
) -> Result<Result<Record, Refusals>, WebError> {
    let mut reader = Reader::new(entries, shop.shown().system);
    let read = read(&mut reader, &before);
    if !reader.refusals.is_empty() {
        return Ok(Err(reader.refusals));
    }
    let fitted = shelf::fitted(app, read, before).await?;
    Ok(fitted.map_err(|error| Refusals::at("pot", calibration::sheet(&error))))
}

fn expected(entries: &Entries) -> i32 {
    entries.number("revision").unwrap_or_default()
}

/// Puts a resin away, or brings it back.
async fn put_away(
    PutAway { resin }: PutAway,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    shelf::put_away(&app, &shop, &resin, expected(&entries)).await?;
    Ok(Redirect::to(&Shelf.to_string()).into_response())
}

/// Takes the shop's own record of a generic resin off, so that it stands as it ships.
async fn restore(Restore { resin }: Restore, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    shelf::restore(&app, &shop, &resin).await?;
    to_resin(ResinId(resin))
}

/// Removes a resin's calibration; its logs stay.
async fn forget(Forget { resin }: Forget, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    shelf::forget(&app, &shop, &resin, expected(&entries)).await?;
    to_resin(ResinId(resin))
}

//! A resin by its datasheet: entered, fitted, changed, put away, as JSON.

use askama::Template;
use axum::extract::{Multipart, Path, State};
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_heat::calibration::sheet::{self, Compared, Figure, SheetError};
use fondant_materials::resin::shelf::{LessonRecord, OwnResin};
use fondant_materials::resin::{Resin, ResinClass, ResinId, Sheet, shipped};
use fondant_quantities::{Length, Span};
use fondant_store::StoreError;

use super::{on_shelf, sheet_form};
use crate::entries::{Entries, Reader, Refusals};
use crate::routes::casts::stations::Group;
use crate::routes::extract::Typed;
use crate::routes::uploads::Upload;
use crate::state::Shop;
use crate::views::fields::Fields;
use crate::views::format::{Shown, span};
use crate::{AppState, WebError};

/// Largest file of a resin.
const FILE_LIMIT: usize = 256 * 1024;

#[derive(Template)]
#[template(path = "shelf/resin.html")]
struct ResinPage {
    title: String,
    place: &'static str,
    id: String,
    name: String,
    revision: i32,
    is_new: bool,
    is_own: bool,
    is_away: bool,
    is_generic_too: bool,
    notice: String,
    groups: Vec<Group>,
    compared: Vec<ComparedRow>,
    learnt: String,
    lessons: Vec<String>,
}

struct ComparedRow {
    what: &'static str,
    sheet: String,
    model: String,
    is_met: bool,
}

pub(in crate::routes) async fn new(State(state): State<AppState>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    page(&state, &shop, None, &fresh(), None).await
}

/// What a new resin begins with: nothing said of times.
fn fresh() -> Resin {
    let generic = shipped::generic(ResinClass::MediumCasting);
    Resin { id: ResinId(String::new()), name: String::new(), purpose: String::new(), ..generic }
}

pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let resin = on_shelf(&shop, &id)?.resin.clone();
    page(&state, &shop, Some(&id), &resin, None).await
}

/// What was typed and refused.
struct Refused<'a> {
    entries: &'a Entries,
    refusals: &'a Refusals,
    notice: String,
}

async fn page(
    state: &AppState,
    shop: &Shop,
    id: Option<&str>,
    resin: &Resin,
    refused: Option<Refused<'_>>,
) -> Result<Response, WebError> {
    let none = Refusals::default();
    let fields = Fields {
        shown: shop.shown,
        typed: refused.as_ref().map(|r| r.entries),
        refusals: refused.as_ref().map_or(&none, |r| r.refusals),
    };
    let revision = match id {
        Some(id) => revision(state, shop, id).await?,
        None => 0,
    };
    let shelf = id.and_then(|id| on_shelf(shop, id).ok());
    let lessons = state.store.shelf_items::<LessonRecord>(shop.id).await?;
    let zone = shop.hours.zone();
    let page = ResinPage {
        title: if id.is_some() { resin.name.clone() } else { "A new resin".to_owned() },
        place: "shelf",
        id: id.unwrap_or_default().to_owned(),
        name: resin.name.clone(),
        revision,
        is_new: id.is_none(),
        is_own: shelf.is_some_and(|on| on.is_own),
        is_away: shelf.is_some_and(|on| on.is_put_away),
        is_generic_too: shipped::find(&resin.id).is_ok(),
        notice: refused.as_ref().map(|r| r.notice.clone()).unwrap_or_default(),
        groups: sheet_form::groups(&fields, resin),
        compared: compared(resin, shop.shown),
        learnt: resin.learnt.as_ref().map_or_else(String::new, |learnt| {
            format!(
                "Learnt {}: {:.2} times the rate and {:.2} times the heat of its model, lot {}.",
                shop.shown.date_and_time(learnt.at, zone),
                learnt.rate,
                learnt.heat,
                if learnt.lot.is_empty() { "unknown" } else { &learnt.lot }
            )
        }),
        lessons: lessons
            .iter()
            .rev()
            .filter(|kept| id.is_some() && kept.item.resin == resin.id)
            .map(|kept| {
                let learnt = &kept.item.learnt;
                format!(
                    "{}: rate ×{:.2}, heat ×{:.2}, lot {}, {} readings of {} at {}",
                    shop.shown.date_and_time(learnt.at, zone),
                    learnt.rate,
                    learnt.heat,
                    if learnt.lot.is_empty() { "unknown" } else { &learnt.lot },
                    kept.item.readings.len(),
                    shop.shown.mass_fine(kept.item.mass),
                    shop.shown.temperature(kept.item.air)
                )
            })
            .collect(),
    };
    let status = if refused.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    Ok((status, Html(page.render()?)).into_response())
}

/// The revision of the shop's record of a resin; 0 where it has none.
pub(super) async fn revision(state: &AppState, shop: &Shop, id: &str) -> Result<i32, WebError> {
    let all = state.store.shelf_items::<OwnResin>(shop.id).await?;
    Ok(all.iter().find(|kept| kept.slug == id).map_or(0, |kept| kept.revision))
}

fn compared(resin: &Resin, shown: Shown) -> Vec<ComparedRow> {
    let figure = |c: &Compared, value: f64| match c.figure {
        Figure::Deepest => shown.length(Length::from_m(value)),
        _ => span(Span::from_s(value)),
    };
    sheet::compare(resin, &resin.sheet)
        .iter()
        .map(|c| ComparedRow {
            what: match c.figure {
                Figure::PotLife => "Pot life",
                Figure::Tacky => "Sticky after",
                Figure::Demould => "Out of the form after",
                Figure::FullCure => "Fully cured after",
                Figure::Deepest => "Deepest layer",
            },
            sheet: figure(c, c.sheet),
            model: c.model.map_or_else(|| "never".to_owned(), |value| figure(c, value)),
            is_met: c.is_met,
        })
        .collect()
}

pub(in crate::routes) async fn create(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    keep(&state, None, &entries).await
}

pub(in crate::routes) async fn save(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    keep(&state, Some(&id), &entries).await
}

async fn keep(state: &AppState, id: Option<&str>, entries: &Entries) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let before = match id {
        Some(id) => on_shelf(&shop, id)?.resin.clone(),
        None => fresh(),
    };
    let mut reader = Reader::new(entries, shop.shown.system);
    let read = sheet_form::read(&mut reader, &before);
    let mut refusals = reader.refusals;
    let mut fitted = None;
    if refusals.is_empty() {
        let before = before.clone();
        match state.compute(move || fit(read, &before)).await? {
            Ok(resin) => fitted = Some(resin),
            Err(error) => refusals.add("pot", error.to_string()),
        }
    }
    let mut notice = String::new();
    if let Some(mut resin) = fitted {
        if id.is_none() {
            resin.id = shop.shelf.free_id(&resin.name);
        }
        let slug = resin.id.0.clone();
        let is_put_away = id.is_some_and(|id| on_shelf(&shop, id).is_ok_and(|on| on.is_put_away));
        let own = OwnResin { resin, is_put_away };
        let expected = entries.number("revision").unwrap_or_default();
        match state.store.put_on_shelf(shop.id, &slug, expected, &own, state.now()).await {
            Ok(()) => return Ok(Redirect::to(&format!("/shelf/{slug}")).into_response()),
            Err(StoreError::Stale { .. }) => {
                notice = "This resin was changed in another tab since you opened it here. Your \
                          entries are still in the fields; keep them once more to put them over it."
                    .to_owned();
            }
            Err(error) => return Err(error.into()),
        }
    }
    let refused = Refused { entries, refusals: &refusals, notice };
    page(state, &shop, id, &before, Some(refused)).await
}

/// The model of its class fitted to the sheet. A sheet without times leaves it
/// as it is; one that has not changed keeps what was fitted and learnt.
fn fit(read: Resin, before: &Resin) -> Result<Resin, SheetError> {
    let times = |sheet: &Sheet| Sheet { rule_of_thumb: None, ..*sheet };
    if read.class == before.class && times(&read.sheet) == times(&before.sheet) {
        let cure = before.cure;
        return Ok(Resin { cure, learnt: before.learnt.clone(), ..read });
    }
    match sheet::fit(&read, &times(&read.sheet)) {
        Ok(fit) => Ok(Resin { sheet: read.sheet, ..fit.resin }),
        Err(SheetError::Nothing) => Ok(read),
        Err(error) => Err(error),
    }
}

/// Puts a resin away, or brings it back.
pub(in crate::routes) async fn put_away(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let on = on_shelf(&shop, &id)?;
    let own = OwnResin { resin: on.resin.clone(), is_put_away: !on.is_put_away };
    let expected = revision(&state, &shop, &id).await?;
    state.store.put_on_shelf(shop.id, &id, expected, &own, state.now()).await?;
    Ok(Redirect::to("/shelf").into_response())
}

/// Takes the shop's own record of a generic resin off, so that it stands as it ships.
pub(in crate::routes) async fn restore(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    shipped::find(&ResinId(id.clone())).map_err(|_| WebError::NotFound("generic resin"))?;
    state.store.take_off_shelf::<OwnResin>(shop.id, &id).await?;
    Ok(Redirect::to(&format!("/shelf/{id}")).into_response())
}

pub(in crate::routes) async fn export(
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let resin = &on_shelf(&shop, &id)?.resin;
    let text =
        serde_json::to_string_pretty(resin).map_err(|e| WebError::Internal(e.to_string()))?;
    let name = format!("attachment; filename=\"{id}.json\"");
    let headers = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, name),
    ];
    Ok((headers, text).into_response())
}

pub(in crate::routes) async fn import(
    State(state): State<AppState>,
    multipart: Multipart,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut upload = Upload::read(multipart, FILE_LIMIT).await?;
    let read = upload.file(FILE_LIMIT).map_err(|error| error.to_string()).and_then(|bytes| {
        serde_json::from_slice::<Resin>(&bytes).map_err(|error| {
            format!("“{}” is no resin as Fondant writes it: {error}.", upload.name)
        })
    });
    let checked = read.and_then(|resin| {
        resin.check().map(|()| resin).map_err(|error| format!("“{}”: {error}", upload.name))
    });
    let entries = Entries::default();
    match checked {
        Ok(mut resin) => {
            resin.id = shop.shelf.free_id(&resin.id.0);
            let slug = resin.id.0.clone();
            let own = OwnResin { resin, is_put_away: false };
            state.store.put_on_shelf(shop.id, &slug, 0, &own, state.now()).await?;
            Ok(Redirect::to(&format!("/shelf/{slug}")).into_response())
        }
        Err(notice) => {
            let refusals = Refusals::default();
            let refused =
                super::Refused { entries: &entries, refusals: &refusals, notice, lot: None };
            super::page(&state, Some(refused)).await
        }
    }
}

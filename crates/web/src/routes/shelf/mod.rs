//! The shelf: resins, colours and what is in the bottles.
//!
//! - this file: the list
//! - [`resin`]: a resin by its datasheet, its JSON in and out
//! - [`sheet_form`]: the fields of a datasheet
//! - [`learn`]: what a cup's log teaches it
//! - [`stock`]: lots and colours

pub(super) mod learn;
pub(super) mod resin;
mod sheet_form;
pub(super) mod stock;

use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use fondant_materials::resin::shelf::{Colour, Lot, OnShelf};
use fondant_materials::resin::{Hazard, ResinClass, Sunlight};

use crate::entries::{Entries, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::format::Shown;
use crate::{AppState, WebError};

pub(super) const CLASSES: [(&str, &str, ResinClass); 7] = [
    ("slow_casting", "slow casting epoxy", ResinClass::SlowCasting),
    ("medium_casting", "medium casting epoxy", ResinClass::MediumCasting),
    ("coating", "coating epoxy", ResinClass::Coating),
    ("small_batch", "small-batch casting epoxy", ResinClass::SmallBatch),
    ("fast_casting", "fast casting epoxy", ResinClass::FastCasting),
    ("urethane", "casting urethane", ResinClass::Urethane),
    ("polyester", "polyester casting resin", ResinClass::Polyester),
];
pub(super) const SUNLIGHT: [(&str, &str, Sunlight); 3] = [
    ("poor", "ambers within months", Sunlight::Poor),
    ("fair", "ambers within years", Sunlight::Fair),
    ("good", "hardly ambers", Sunlight::Good),
];
pub(super) const HAZARDS: [(&str, &str, Hazard); 6] = [
    ("sensitiser", "sensitises the skin", Hazard::Sensitiser),
    ("corrosive", "burns skin and eyes", Hazard::Corrosive),
    ("isocyanate", "isocyanate vapour", Hazard::Isocyanate),
    ("vapour", "strong vapour", Hazard::Vapour),
    ("flammable", "flammable: no flame, no heat gun", Hazard::Flammable),
    ("moisture", "foams with moisture", Hazard::HatesMoisture),
];

/// The words for something, from a table of names, words and values.
pub(super) fn words_of<T: PartialEq>(
    table: &[(&'static str, &'static str, T)],
    value: &T,
) -> &'static str {
    table.iter().find(|row| row.2 == *value).map_or("", |row| row.1)
}

/// The name for something in a form.
fn name_of<T: PartialEq>(table: &[(&'static str, &'static str, T)], value: &T) -> &'static str {
    table.iter().find(|row| row.2 == *value).map_or("", |row| row.0)
}

#[derive(Template)]
#[template(path = "shelf/list.html")]
struct ShelfPage {
    title: &'static str,
    place: &'static str,
    resins: Vec<ResinRow>,
    lots: Vec<LotRow>,
    colours: Vec<ColourRow>,
    lot_fields: Vec<Field>,
    colour_fields: Vec<Field>,
    lot_refused: bool,
    colour_refused: bool,
    notice: String,
}

struct ResinRow {
    id: String,
    name: String,
    about: String,
    deepest: String,
    learnt: String,
    origin: &'static str,
    is_away: bool,
}

struct LotRow {
    slug: String,
    revision: i32,
    resin: String,
    lot: String,
    about: String,
    left: Field,
    is_old: bool,
}

struct ColourRow {
    slug: String,
    name: String,
    about: String,
}

/// A form of this page that was refused.
struct Refused<'a> {
    entries: &'a Entries,
    refusals: &'a Refusals,
    notice: String,
    /// Only the lot whose litres were typed.
    lot: Option<String>,
}

pub(super) async fn show(State(state): State<AppState>) -> Result<Response, WebError> {
    page(&state, None).await
}

async fn page(state: &AppState, refused: Option<Refused<'_>>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let lots = state.store.shelf_items::<Lot>(shop.id).await?;
    let colours = state.store.shelf_items::<Colour>(shop.id).await?;
    let none = Refusals::default();
    let fields = Fields {
        shown: shop.shown,
        typed: refused.as_ref().filter(|r| r.lot.is_none()).map(|r| r.entries),
        refusals: refused.as_ref().map_or(&none, |r| r.refusals),
    };
    let today = state.now().to_zoned_datetime(shop.hours.zone().clone()).date();
    let lot_fields = stock::lot_fields(&fields, &shop, today);
    let colour_fields = stock::colour_fields(&fields);
    let any_refused = |all: &[Field]| all.iter().any(Field::is_refused);
    let page = ShelfPage {
        title: "Shelf",
        place: "shelf",
        resins: shop.shelf.all().iter().map(|on| resin_row(on, shop.shown)).collect(),
        lots: lots
            .iter()
            .map(|kept| {
                let typed = refused.as_ref().filter(|r| r.lot.as_ref() == Some(&kept.slug));
                let fields = Fields {
                    shown: shop.shown,
                    typed: typed.map(|r| r.entries),
                    refusals: typed.map_or(&none, |r| r.refusals),
                };
                stock::lot_row(kept, &shop, &fields, today)
            })
            .collect(),
        colours: colours.iter().map(stock::colour_row).collect(),
        lot_refused: any_refused(&lot_fields),
        colour_refused: any_refused(&colour_fields),
        lot_fields,
        colour_fields,
        notice: refused.as_ref().map(|r| r.notice.clone()).unwrap_or_default(),
    };
    let status = if refused.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    Ok((status, Html(page.render()?)).into_response())
}

fn resin_row(on: &OnShelf, shown: Shown) -> ResinRow {
    let resin = &on.resin;
    ResinRow {
        id: resin.id.0.clone(),
        name: resin.name.clone(),
        about: words_of(&CLASSES, &resin.class).to_owned(),
        deepest: resin.sheet.deepest.map_or_else(
            || format!("limit {}", shown.temperature(resin.working.peak_limit)),
            |d| format!("datasheet: {} a layer", shown.length(d.depth)),
        ),
        learnt: resin.learnt.as_ref().map_or_else(
            || "has not learnt yet".to_owned(),
            |learnt| {
                format!(
                    "learnt from lot {}",
                    if learnt.lot.is_empty() { "unknown" } else { &learnt.lot }
                )
            },
        ),
        origin: if on.is_own { "yours" } else { "generic" },
        is_away: on.is_put_away,
    }
}

/// Whether the shop may change a resin in the way it is asked, and its record.
fn on_shelf<'a>(shop: &'a Shop, id: &str) -> Result<&'a OnShelf, WebError> {
    shop.shelf.all().iter().find(|on| on.resin.id.0 == id).ok_or(WebError::NotFound("resin"))
}

//! The list of casts, beginning a new one, and what belongs to one beside its
//! stations.
//!
//! - this file: the list, and the few questions of a beginning
//! - [`stations`]: a cast's stations
//! - [`field`]: a section or block as a field of temperatures
//! - [`files`]: photos and files brought in
//! - [`photos`]: a photo squared up, and the timber found in it
//! - [`pouring`]: pour times moved, taken, mended and written down
//! - [`prints`]: what is taken to the saw, the printer and other programs

pub(super) mod field;
pub(super) mod files;
pub(super) mod photos;
pub(super) mod pouring;
pub(super) mod prints;
pub(super) mod stations;

use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::{AirFrom, Kind, Plan, measure, refusals as refusals_of};
use fondant_quantities::bounds;
use fondant_store::repos::CastSummary;
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;

use super::extract::Typed;
use crate::entries::{Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::format::Shown;
use crate::views::{kinds, strip, words};
use crate::{AppState, WebError};

#[derive(Template)]
#[template(path = "casts/list.html")]
struct ListPage {
    title: &'static str,
    place: &'static str,
    workshop: String,
    rows: Vec<ListRow>,
}

/// One cast in the list.
struct ListRow {
    href: String,
    mini: String,
    name: String,
    kind: &'static str,
    size: String,
    volume: String,
    resin: String,
    changed: String,
}

pub(super) async fn list(State(state): State<AppState>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let casts = state.store.casts(shop.id).await?;
    let rows = casts.iter().map(|cast| row(cast, &shop)).collect();
    let workshop = shop.workshop.settings.name.clone();
    let page = ListPage { title: "Casts", place: "casts", workshop, rows };
    Ok(Html(page.render()?).into_response())
}

fn row(cast: &CastSummary, shop: &Shop) -> ListRow {
    let (plan, shown) = (&cast.plan, shop.shown);
    let measured = measure(plan).ok();
    let (mini, volume) = measured.as_ref().map_or((String::new(), "–".to_owned()), |measured| {
        (strip::mini(measured, shown), shown.volume(measured.sizing.total))
    });
    ListRow {
        href: format!("/casts/{}", cast.id.0),
        mini,
        name: plan.name.clone(),
        kind: kinds::name(plan.kind),
        size: size(plan, shown),
        volume,
        resin: shop.shelf.find(&plan.resin).map_or_else(|e| e.to_string(), |r| r.name.clone()),
        changed: shown.date_and_time(cast.updated_at, shop.hours.zone()),
    }
}

fn size(plan: &Plan, shown: Shown) -> String {
    let piece = &plan.piece;
    if plan.kind.has_moulds() {
        let (length, _) = plan.moulding.hollow.mouth();
        let depth = plan.moulding.hollow.depth();
        let across = shown.length_figure(length);
        return format!("{} × {across} across, {} deep", plan.moulding.count, shown.length(depth));
    }
    format!(
        "{} × {} × {}",
        shown.length_figure(piece.length),
        shown.length_figure(piece.width),
        shown.length(piece.thickness)
    )
}

/// What a beginning asks for.
#[derive(Debug, Deserialize)]
pub(super) struct Beginning {
    kind: Option<String>,
}

#[derive(Template)]
#[template(path = "casts/kinds.html")]
struct KindsPage {
    title: &'static str,
    place: &'static str,
    kinds: Vec<KindRow>,
}

struct KindRow {
    slug: &'static str,
    name: &'static str,
    sentence: &'static str,
    mini: String,
}

#[derive(Template)]
#[template(path = "casts/new.html")]
struct NewPage {
    title: &'static str,
    place: &'static str,
    kind: &'static str,
    sentence: &'static str,
    act: String,
    refusal: String,
    name: Field,
    fields: Vec<Field>,
}

impl NewPage {
    fn new(fields: &Fields<'_>, kind: Kind, name: &str) -> Self {
        Self {
            title: kinds::name(kind),
            place: "casts",
            kind: kind.slug(),
            sentence: kinds::sentence(kind),
            act: format!("On to the {}", kinds::contents(kind).to_lowercase()),
            refusal: fields.refusals.of(""),
            name: fields
                .text("name", "What do you call it?", name)
                .hint("A customer, a place, a board: what you will look for later."),
            fields: stations::begin_fields(fields, kind),
        }
    }
}

pub(super) async fn new(
    State(state): State<AppState>,
    Query(beginning): Query<Beginning>,
) -> Result<Response, WebError> {
    let shown = state.shop().await?.shown;
    let Some(slug) = beginning.kind else {
        return Ok(Html(kinds_page(&state, shown).render()?).into_response());
    };
    let kind = Kind::from_slug(&slug).ok_or(WebError::NotFound("kind of cast"))?;
    let fields = Fields { shown, typed: None, refusals: &Refusals::default() };
    Ok(Html(NewPage::new(&fields, kind, "").render()?).into_response())
}

fn kinds_page(state: &AppState, shown: Shown) -> KindsPage {
    let begin = next_hour(state.now());
    KindsPage {
        title: "A new cast",
        place: "casts",
        kinds: Kind::ALL
            .into_iter()
            .map(|kind| {
                let plan = Plan::begin(kind, "x".into(), stations::usual_piece(kind), begin);
                KindRow {
                    slug: kind.slug(),
                    name: kinds::name(kind),
                    sentence: kinds::sentence(kind),
                    mini: measure(&plan).map(|m| strip::mini(&m, shown)).unwrap_or_default(),
                }
            })
            .collect(),
    }
}

pub(super) async fn create(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let kind = entries.get("kind").map_or(Some(Kind::River), Kind::from_slug);
    let kind = kind.ok_or(WebError::NotFound("kind of cast"))?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let mut name = String::new();
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut name);
    let (piece, count) = stations::read_begin(&mut reader, kind);
    let mut refusals = reader.refusals;
    let mut plan = Plan::begin(kind, name.clone(), piece, next_hour(state.now()));
    plan.moulding.count = count;
    plan.conditions.air_from = AirFrom::Shop;
    if refusals.is_empty() {
        for conflict in refusals_of(&plan) {
            refusals.add("", words::conflict(&conflict, shop.shown));
        }
    }
    if !refusals.is_empty() {
        let fields = Fields { shown: shop.shown, typed: Some(&entries), refusals: &refusals };
        let page = NewPage::new(&fields, kind, &name).render()?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page)).into_response());
    }
    let id = state.store.create_cast(shop.id, &plan, state.now()).await?;
    Ok(Redirect::to(&format!("/casts/{}/timber", id.0)).into_response())
}

/// The next full hour: nobody pours in the minute in which a cast is begun.
fn next_hour(now: Timestamp) -> Timestamp {
    let past = now.as_second().rem_euclid(3600);
    now + SignedDuration::from_secs(3600 - past)
        - SignedDuration::from_nanos(now.subsec_nanosecond().into())
}

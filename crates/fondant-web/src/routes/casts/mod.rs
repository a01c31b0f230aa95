//! The list of casts, and beginning a new one.

pub(super) mod stations;

use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_core::form::Piece;
use fondant_core::plan::Plan;
use fondant_core::quantities::{Length, bounds};
use fondant_core::resin::shipped;
use fondant_store::repos::CastSummary;
use jiff::{SignedDuration, Timestamp};

use super::extract::Typed;
use crate::drawings::section::{Extent, Section, draw};
use crate::drawings::{Frame, NARROW};
use crate::entries::{Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::format::Shown;
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
    let piece = &plan.piece;
    let measured = fondant_core::plan::evaluation::measure(plan).ok();
    let (mini, volume) = match &measured {
        Some(measured) => {
            let section = Section {
                river: &measured.river,
                fill: &measured.fill,
                boards: [plan.timber.near.thickness, plan.timber.far.thickness],
                station: measured.river.widest(),
                layers: &[],
                shown,
            };
            let wide = Frame { width: 214.0, class: "wide" };
            let mini = draw(&section, Extent::Mini, wide) + &draw(&section, Extent::Mini, NARROW);
            (mini, shown.volume(measured.sizing.total))
        }
        None => (String::new(), "–".to_owned()),
    };
    ListRow {
        href: format!("/casts/{}", cast.id.0),
        mini,
        name: plan.name.clone(),
        size: format!(
            "{} × {} × {}",
            shown.length_figure(piece.length),
            shown.length_figure(piece.width),
            shown.length(piece.thickness)
        ),
        volume,
        resin: shipped::find(&plan.resin).map_or_else(|e| e.to_string(), |resin| resin.name),
        changed: shown.date_and_time(cast.updated_at, shop.hours.zone()),
    }
}

#[derive(Template)]
#[template(path = "casts/new.html")]
struct NewPage {
    title: &'static str,
    place: &'static str,
    fields: Vec<Field>,
}

impl NewPage {
    fn new(fields: &Fields<'_>, name: &str, piece: &Piece) -> Self {
        Self {
            title: "A new river top",
            place: "casts",
            fields: vec![
                fields
                    .text("name", "What do you call it?", name)
                    .hint("A customer, a place, a board: what you will look for later."),
                fields.length("length", "Finished length", piece.length),
                fields.length("width", "Finished width", piece.width),
                fields.length("thickness", "Finished thickness", piece.thickness),
                fields
                    .length("trim_margin", "Trim margin, every side", piece.trim_margin)
                    .hint("Sawn off once it is cured."),
            ],
        }
    }
}

/// A coffee table, to be typed over.
fn usual_piece() -> Piece {
    Piece::slab(Length::from_mm(1200.0), Length::from_mm(600.0), Length::from_mm(34.0), Length::from_mm(10.0))
}

pub(super) async fn new(State(state): State<AppState>) -> Result<Response, WebError> {
    let shown = state.shop().await?.shown;
    let fields = Fields { shown, typed: None, refusals: &Refusals::default() };
    Ok(Html(NewPage::new(&fields, "", &usual_piece()).render()?).into_response())
}

pub(super) async fn create(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let shown: Shown = shop.shown;
    let mut reader = Reader::new(&entries, shown.system);
    let mut piece = usual_piece();
    let mut name = String::new();
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut name);
    stations::read_piece(&mut reader, &mut piece);
    if !reader.refusals.is_empty() {
        let fields = Fields { shown, typed: Some(&entries), refusals: &reader.refusals };
        let page = NewPage::new(&fields, &name, &piece).render()?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page)).into_response());
    }
    let plan = Plan::river_top(name, piece, next_hour(state.now()));
    let id = state.store.create_cast(shop.id, &plan, state.now()).await?;
    Ok(Redirect::to(&format!("/casts/{}/timber", id.0)).into_response())
}

/// The next full hour: nobody pours in the minute in which a cast is begun.
fn next_hour(now: Timestamp) -> Timestamp {
    let past = now.as_second().rem_euclid(3600);
    now + SignedDuration::from_secs(3600 - past)
        - SignedDuration::from_nanos(now.subsec_nanosecond().into())
}

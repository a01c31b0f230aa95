//! A cast's workspace: one page with a station in it.

use std::sync::Arc;

use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::document::SCHEMA_VERSION;
use fondant_cast::{Evaluation, Plan, Shaping};
use fondant_quantities::Length;
use fondant_shapes::geometry::Point;
use fondant_store::StoreError;
use fondant_store::repos::{CastId, CastRecord, Step};
use serde::Deserialize;

use super::casts::photos::squared_href;
use super::casts::stations::{self, Asked, Backdrop, HeatExtras, InResin, PoursExtras, slower};
use super::extract::{Typed, WantsFragment};
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::rail::{Station, Tick, ticks};
use crate::views::strip::{Strip, StripInput, strip};
use crate::views::words;
use crate::{AppState, WebError};

/// What a page's address asks for.
#[derive(Debug, Clone, Copy, Default, Deserialize)]
pub(super) struct Looking {
    /// The station at which the section is cut, from 1.
    section: Option<usize>,
    /// Where the section is cut, millimetres from the left end.
    cut: Option<f64>,
}

impl Looking {
    /// The query of an address that looks at the same.
    fn query(self) -> String {
        match (self.section, self.cut) {
            (Some(number), _) => format!("?section={number}"),
            (None, Some(mm)) => format!("?cut={mm}"),
            (None, None) => String::new(),
        }
    }
}

/// A save that came too late.
#[derive(Debug, Clone, Copy)]
struct Stale {
    /// The revision that it was made on.
    expected: i32,
}

#[derive(Template)]
#[template(path = "workspace_page.html")]
struct WorkspacePage {
    title: String,
    place: &'static str,
    w: Workspace,
}

#[derive(Template)]
#[template(path = "workspace.html")]
struct WorkspaceFragment {
    w: Workspace,
}

/// Everything on the page but its frame.
struct Workspace {
    cast: i64,
    name: String,
    slug: &'static str,
    /// Query of the address that keeps the section where it is cut.
    query: String,
    /// The revision that this page's forms change.
    revision: i32,
    /// The newest revision, where that is another one.
    newer: Option<i32>,
    can_undo: bool,
    can_redo: bool,
    ticks: Vec<Tick>,
    strip: Strip,
    body: String,
}

pub(super) async fn begin(Path(cast): Path<i64>) -> Redirect {
    Redirect::to(&format!("/casts/{cast}/piece"))
}

/// Who asks for what.
struct Visit {
    shop: Shop,
    record: CastRecord,
    station: Station,
    looking: Looking,
}

impl Visit {
    async fn read(
        state: &AppState,
        cast: &str,
        station: &str,
        looking: Looking,
    ) -> Result<Self, WebError> {
        let station = Station::from_slug(station).ok_or(WebError::NotFound("station"))?;
        let id = CastId(cast.parse().map_err(|_| WebError::NotFound("cast"))?);
        let shop = state.shop().await?;
        let record = state.store.cast(shop.id, id).await?;
        Ok(Self { shop, record, station, looking })
    }
}

pub(super) async fn show(
    State(state): State<AppState>,
    Path((cast, station)): Path<(String, String)>,
    Query(looking): Query<Looking>,
    WantsFragment(fragment): WantsFragment,
) -> Result<Response, WebError> {
    let visit = Visit::read(&state, &cast, &station, looking).await?;
    answer(&state, visit, fragment, Showing::kept(&Refusals::default())).await
}

/// What is shown beside what is kept.
struct Showing<'a> {
    /// What was typed, where the form is shown again.
    typed: Option<&'a Entries>,
    refusals: &'a Refusals,
    /// Places to mark on the drawing.
    marks: Vec<Point>,
    stale: Option<Stale>,
}

impl<'a> Showing<'a> {
    /// Nothing but what is kept.
    fn kept(none: &'a Refusals) -> Self {
        Self { typed: None, refusals: none, marks: Vec::new(), stale: None }
    }
}

pub(super) async fn save(
    State(state): State<AppState>,
    Path((cast, station)): Path<(String, String)>,
    Query(looking): Query<Looking>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let mut visit = Visit::read(&state, &cast, &station, looking).await?;
    // The line is dragged without a new address of the form.
    if let Some(mm) = entries.get("cut").and_then(|text| text.parse().ok()) {
        visit.looking.cut = Some(mm);
    }
    // "Put mine over it" names the newer revision that the maker was shown.
    let expected = entries.number("over").or_else(|| entries.number("revision"));
    let expected = expected.ok_or_else(|| WebError::BadForm("no revision".to_owned()))?;
    let none = Refusals::default();
    let late = Showing {
        typed: Some(&entries),
        refusals: &none,
        marks: Vec::new(),
        stale: Some(Stale { expected }),
    };
    if visit.record.revision != expected {
        return answer(&state, visit, fragment, late).await;
    }
    let mut plan = visit.record.plan.clone();
    let mut reader = Reader::new(&entries, visit.shop.shown.system);
    stations::apply(visit.station, &mut reader, &mut plan, &visit.shop);
    let mut refusals = reader.refusals;
    let mut marks = Vec::new();
    plan.schema = SCHEMA_VERSION;
    if refusals.is_empty() {
        for conflict in fondant_cast::refusals(&plan) {
            let field = stations::field_of(visit.station, plan.kind, &conflict, &entries);
            refusals.add(&field, words::conflict(&conflict, visit.shop.shown));
            marks.extend(conflict.place());
        }
    }
    if !refusals.is_empty() {
        let shown = Showing { typed: Some(&entries), refusals: &refusals, marks, stale: None };
        return answer(&state, visit, fragment, shown).await;
    }
    let saved =
        state.store.save_plan(visit.shop.id, visit.record.id, expected, &plan, state.now()).await;
    match saved {
        Ok(_) => {}
        // Somebody was faster between reading and saving.
        Err(StoreError::Stale { .. }) => {
            visit.record = state.store.cast(visit.shop.id, visit.record.id).await?;
            return answer(&state, visit, fragment, late).await;
        }
        Err(error) => return Err(error.into()),
    }
    saved_answer(&state, visit, fragment).await
}

pub(super) async fn step(
    State(state): State<AppState>,
    Path((cast, station, step)): Path<(String, String, String)>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let step = match step.as_str() {
        "undo" => Step::Undo,
        "redo" => Step::Redo,
        _ => return Err(WebError::NotFound("page")),
    };
    let visit = Visit::read(&state, &cast, &station, Looking::default()).await?;
    let expected = entries.number("revision").unwrap_or_default();
    state.store.step(visit.shop.id, visit.record.id, expected, step, state.now()).await?;
    saved_answer(&state, visit, fragment).await
}

/// The workspace as it is now kept; without htmx, by way of a redirect, so
/// that a reload does not send the form again.
async fn saved_answer(
    state: &AppState,
    mut visit: Visit,
    fragment: bool,
) -> Result<Response, WebError> {
    state.refresh_agenda(&visit.shop, visit.record.id).await?;
    if !fragment {
        let query = visit.looking.query();
        let address = format!("/casts/{}/{}{query}", visit.record.id.0, visit.station.slug());
        return Ok(Redirect::to(&address).into_response());
    }
    visit.record = state.store.cast(visit.shop.id, visit.record.id).await?;
    answer(state, visit, true, Showing::kept(&Refusals::default())).await
}

/// The station of a cast as it is now kept, after a change made beside its form.
pub(super) async fn shown_anew(
    state: &AppState,
    cast: CastId,
    station: &str,
    fragment: bool,
) -> Result<Response, WebError> {
    let visit = Visit::read(state, &cast.0.to_string(), station, Looking::default()).await?;
    saved_answer(state, visit, fragment).await
}

/// The station of a cast with what was typed and why it was refused.
pub(super) async fn refused(
    state: &AppState,
    cast: CastId,
    station: &str,
    fragment: bool,
    typed: &Entries,
    refusals: &Refusals,
) -> Result<Response, WebError> {
    let visit = Visit::read(state, &cast.0.to_string(), station, Looking::default()).await?;
    let showing = Showing { typed: Some(typed), refusals, marks: Vec::new(), stale: None };
    answer(state, visit, fragment, showing).await
}

async fn answer(
    state: &AppState,
    visit: Visit,
    fragment: bool,
    showing: Showing<'_>,
) -> Result<Response, WebError> {
    let Visit { shop, record, station, looking } = visit;
    let Showing { typed, refusals, marks, stale } = showing;
    let evaluated = state.evaluate(&record.plan, &shop).await?;
    // What is reckoned in steady air shows the mean of the shop's.
    let in_air = shop.site.in_mean_air(&record.plan);
    // Plans are kept without conflicts; one with them was written by other code.
    let evaluation = evaluated.map_err(|conflicts| {
        let all: Vec<_> = conflicts.iter().map(|c| words::conflict(c, shop.shown)).collect();
        WebError::Internal(all.join(" "))
    })?;
    let in_each_resin = match station {
        Station::Resin => in_each_resin(state, &record.plan, &shop).await?,
        _ => Vec::new(),
    };
    let heat_extras = match station {
        Station::Heat => {
            let (plan, evaluation) = (in_air.clone(), Arc::clone(&evaluation));
            let shelf = Arc::clone(&shop.shelf);
            let work = move || {
                let generic = shelf.find(&plan.resin).unwrap_or(&evaluation.resin);
                let slower = slower(generic, shelf.offered());
                HeatExtras::work(&plan, &evaluation, generic, slower)
            };
            Some(state.compute(work).await?)
        }
        _ => None,
    };
    let facts = state.store.facts(record.id).await?;
    let poured = fondant_cast::facts::poured(&facts);
    let pours_extras = match station {
        Station::Pours => {
            let observed = match evaluation.standing {
                fondant_cast::Standing::Taken => state.by_facts(&evaluation, facts.clone()).await?,
                _ => None,
            };
            let in_plan = Arc::clone(&evaluation);
            let narrowest = state.compute(move || stations::narrowest(&in_plan)).await?;
            Some(PoursExtras { observed, facts, narrowest })
        }
        _ => None,
    };
    let asked = Asked {
        pours_extras,
        cast: record.id,
        plan: &in_air,
        evaluation: &evaluation,
        shop: &shop,
        now: state.now(),
        typed,
        refusals,
        marks,
        section: looking.section,
        cut: looking.cut.filter(|mm| mm.is_finite()).map(Length::from_mm),
        in_each_resin,
        heat_extras,
        forms: match station {
            Station::Form => state.store.forms(shop.id).await?,
            _ => Vec::new(),
        },
        backdrop: match station {
            Station::Timber if record.plan.timber.shaping == Shaping::Outlines => {
                backdrop(state, record.id).await?
            }
            _ => None,
        },
    };
    let body = stations::body(station, &asked)?;
    let cast = Cast { record: &record, evaluation: &evaluation, poured };
    let w = workspace(state, &shop, &cast, (station, looking), body, stale);
    let status = match (stale, refusals.is_empty()) {
        (Some(_), _) => StatusCode::CONFLICT,
        (None, false) => StatusCode::UNPROCESSABLE_ENTITY,
        (None, true) => StatusCode::OK,
    };
    let html = if fragment {
        WorkspaceFragment { w }.render()?
    } else {
        let title = format!("{}, {}", record.plan.name, station.name());
        WorkspacePage { title, place: "casts", w }.render()?
    };
    Ok((status, Html(html)).into_response())
}

/// The newest photo that was squared up, to draw over.
async fn backdrop(state: &AppState, cast: CastId) -> Result<Option<Backdrop>, WebError> {
    let photos = state.store.photos(cast).await?;
    Ok(photos.into_iter().find_map(|photo| {
        let squaring = photo.squaring?;
        Some(Backdrop {
            href: squared_href(cast, photo.id, &squaring),
            length: squaring.length,
            width: squaring.width,
        })
    }))
}

/// The cast in each resin, worked out side by side and kept, so that the
/// resin then chosen is there at once.
async fn in_each_resin(
    state: &AppState,
    plan: &Plan,
    shop: &Shop,
) -> Result<Vec<InResin>, WebError> {
    let mut works = Vec::new();
    for resin in shop.shelf.offered().cloned() {
        let (state, shop) = (state.clone(), shop.clone());
        let plan = Plan { resin: resin.id.clone(), ..plan.clone() };
        let work = tokio::spawn(async move { state.evaluate(&plan, &shop).await });
        works.push((resin, work));
    }
    let mut all = Vec::new();
    for (resin, work) in works {
        let worked = work.await.map_err(|error| WebError::Internal(error.to_string()))??;
        all.push(InResin { resin, evaluation: worked.ok() });
    }
    Ok(all)
}

/// A cast, worked out, and how far it is.
struct Cast<'a> {
    record: &'a CastRecord,
    evaluation: &'a Evaluation,
    poured: usize,
}

fn workspace(
    state: &AppState,
    shop: &Shop,
    cast: &Cast<'_>,
    (station, looking): (Station, Looking),
    body: String,
    stale: Option<Stale>,
) -> Workspace {
    let Cast { record, evaluation, poured } = *cast;
    Workspace {
        cast: record.id.0,
        name: record.plan.name.clone(),
        slug: station.slug(),
        query: looking.query(),
        revision: stale.map_or(record.revision, |stale| stale.expected),
        newer: stale.map(|_| record.revision),
        can_undo: record.can_undo && stale.is_none(),
        can_redo: record.can_redo && stale.is_none(),
        ticks: ticks(record.id.0, station, &record.plan, evaluation),
        strip: strip(StripInput {
            cast: record.id.0,
            plan: &record.plan,
            evaluation,
            zone: shop.hours.zone(),
            now: state.now(),
            poured,
            shown: shop.shown,
        }),
        body,
    }
}

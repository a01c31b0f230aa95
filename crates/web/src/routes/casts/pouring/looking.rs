//! Fragments that change nothing: a pour while it is dragged, and the
//! alternatives once they are worked out.

use std::sync::Arc;

use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::header;
use axum::response::{Html, IntoResponse, Response};
use fondant_cast::Offer;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::Deserialize;

use super::{Worked, moved, offers};
use crate::routes::casts::stations::pours::{AxisPart, Card, Showing, cards};
use crate::views::format::Shown;
use crate::views::{pour_words, words};
use crate::{AppState, WebError};

#[derive(Debug, Deserialize)]
pub(in crate::routes) struct Tried {
    pour: usize,
    at: i64,
}

/// What moving a pour would do.
pub(in crate::routes) async fn tried(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    Query(tried): Query<Tried>,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let at =
        Timestamp::from_second(tried.at).map_err(|error| WebError::BadForm(error.to_string()))?;
    let schedule = moved(&state, &worked, tried.pour, at).await?;
    let rows = state.store.facts(worked.record.id).await?;
    let showing = Showing {
        plan: &worked.record.plan,
        shop: &worked.shop,
        schedule: &schedule,
        resin: &worked.evaluation.resin,
        facts: &rows,
        now: state.now(),
    };
    Ok(Html(AxisPart::new(&showing).render()?).into_response())
}

#[derive(Template)]
#[template(path = "parts/alternatives.html")]
struct Alternatives {
    cast: i64,
    /// Still at work: how far, percent.
    percent: Option<u32>,
    trouble: String,
    cards: Vec<Card>,
}

/// The alternatives, or how far the search is: the page asks again.
pub(in crate::routes) async fn alternatives(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let (shown, zone) = (worked.shop.shown, worked.shop.hours.zone());
    let mut page = Alternatives { cast, percent: None, trouble: String::new(), cards: Vec::new() };
    match &worked.evaluation.pour_task {
        Some(task) => {
            let task = task.untaken();
            let (job, is_new) = state.pour_jobs.job(cast, &task);
            if is_new {
                let job = Arc::clone(&job);
                let state = state.clone();
                tokio::spawn(async move { state.compute(move || job.work(&task)).await });
            }
            match job.done() {
                None => page.percent = Some((job.progress() * 100.0) as u32),
                Some(Ok(all)) => page.cards = cards(all, shown, zone),
                Some(Err(trouble)) => page.trouble = words::pours(trouble, shown),
            }
        }
        None => page.trouble = "Without a safe depth there is nothing to compare.".to_owned(),
    }
    Ok(Html(page.render()?).into_response())
}

#[derive(Template)]
#[template(path = "parts/offers.html")]
struct Offers {
    cast: i64,
    rows: Vec<OfferRow>,
}

/// A change that would help, and its button.
struct OfferRow {
    number: usize,
    what: String,
    then: String,
}

/// The smallest changes that would help, each checked.
pub(in crate::routes) async fn offered(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let (shown, zone) = (worked.shop.shown, worked.shop.hours.zone());
    let offers = offers(&state, &worked).await?;
    let row = |(number, offer): (usize, &Offer)| OfferRow {
        number,
        what: pour_words::fix(&offer.fix, shown, zone),
        then: outcome(offer, shown, zone),
    };
    let rows = offers.iter().enumerate().map(row).collect();
    Ok(Html(Offers { cast, rows }.render()?).into_response())
}

fn outcome(offer: &Offer, shown: Shown, zone: &TimeZone) -> String {
    let sanded = match offer.sanded {
        0 => "no sanding".to_owned(),
        1 => "one joint sanded".to_owned(),
        count => format!("{count} joints sanded"),
    };
    format!("{} pours, {sanded}, hard {}", offer.pours, shown.date_and_time(offer.hard, zone))
}

/// The plan as a table for other programs.
pub(in crate::routes) async fn csv(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    let schedule = worked.evaluation.pours.as_ref().map_err(|_| WebError::NotFound("pour plan"))?;
    let zone = worked.shop.hours.zone();
    let local = |at: Timestamp| {
        at.to_zoned_datetime(zone.clone()).strftime("%Y-%m-%dT%H:%M%:z").to_string()
    };
    let mut out = csv::Writer::from_writer(Vec::new());
    let failed = |error: csv::Error| WebError::Internal(error.to_string());
    out.write_record([
        "layer",
        "pour_at",
        "done_by",
        "depth_mm",
        "volume_l",
        "buckets",
        "sticky_from",
        "sticky_to",
        "peak_c",
        "cover_from",
        "hard_at",
    ])
    .map_err(failed)?;
    for (index, pour) in schedule.pours.iter().enumerate() {
        let name = crate::views::strip::layer_name(index, schedule);
        out.write_record([
            name.trim_start_matches("the ").to_owned(),
            local(pour.at),
            local(pour.done),
            format!("{:.1}", pour.layer.depth().mm()),
            format!("{:.3}", worked.evaluation.measured.mixed(pour.layer.volume).l()),
            pour.batches.to_string(),
            local(pour.opens),
            local(pour.closes),
            format!("{:.1}", pour.peak.celsius()),
            local(pour.cover_from()),
            local(schedule.hard),
        ])
        .map_err(failed)?;
    }
    let body = out.into_inner().map_err(|error| WebError::Internal(error.to_string()))?;
    let name = "attachment; filename=\"pours.csv\"";
    let headers =
        [(header::CONTENT_TYPE, "text/csv; charset=utf-8"), (header::CONTENT_DISPOSITION, name)];
    Ok((headers, body).into_response())
}

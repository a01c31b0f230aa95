//! A pour while it is dragged; the plan as a table for other programs.

use axum::extract::{Query, State};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use fondant_app::App;
use fondant_app::casts::open::poured;
use fondant_app::casts::pours::{Move, try_move};
use fondant_cast::mix::parts;
use fondant_pours::Schedule;
use fondant_quantities::Mass;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use crate::pages::stations::asked::{Looking, Visit};
use crate::pages::stations::pours::ids;
use crate::pages::stations::pours::part::{AxisPart, Showing};
use crate::paths::casts::{PoursCsv, TryMove};
use crate::ui::error::WebError;
use crate::words::layers;

#[derive(Debug, Deserialize)]
pub(super) struct Tried {
    pour: usize,
    /// Seconds since 1970.
    at: i64,
}

/// What moving a pour would do.
pub(super) async fn tried(
    path: TryMove,
    State(app): State<App>,
    Query(tried): Query<Tried>,
) -> Result<AxisPart, WebError> {
    let visit = Visit::of(&app, path.cast, Looking::default()).await?;
    let at = Timestamp::from_second(tried.at);
    let at = at.map_err(|error| WebError::BadForm(error.to_string()))?;
    let schedule =
        try_move(&app, &visit.planned, &visit.facts, Move { pour: tried.pour, at }).await?;
    Ok(AxisPart::new(&Showing {
        document: &visit.document,
        shop: &visit.open.shop,
        schedule: &schedule,
        resin: &visit.worked.evaluation.resin,
        facts: &visit.facts,
        ids: &ids(&visit.worked.evaluation),
        poured: poured(&visit.worked, &visit.facts),
        now: visit.now,
    }))
}

/// A pour as a line of the table. Times bear their offset; figures have a point.
#[derive(Serialize)]
struct Line {
    layer: String,
    pour_at: String,
    done_by: String,
    depth_mm: String,
    volume_l: String,
    buckets: u32,
    sticky_from: String,
    sticky_to: String,
    peak_c: String,
    cover_from: String,
    hard_at: String,
    form_opens_at: String,
    resin: String,
    a_g: String,
    b_g: String,
}

/// The plan as a table for other programs.
pub(super) async fn csv(path: PoursCsv, State(app): State<App>) -> Result<Response, WebError> {
    let visit = Visit::of(&app, path.cast, Looking::default()).await?;
    let schedule =
        visit.worked.evaluation.pours.as_ref().map_err(|_| WebError::NotFound("pour plan"))?;
    let fault = |error: String| WebError::Fault(error);
    let mut out = csv::Writer::from_writer(Vec::new());
    for index in 0..schedule.pours.len() {
        let line = line(&visit, schedule, index);
        out.serialize(line).map_err(|error| fault(error.to_string()))?;
    }
    let body = out.into_inner().map_err(|error| fault(error.to_string()))?;
    let name = "attachment; filename=\"pours.csv\"";
    let headers =
        [(header::CONTENT_TYPE, "text/csv; charset=utf-8"), (header::CONTENT_DISPOSITION, name)];
    Ok((headers, body).into_response())
}

fn line(visit: &Visit, schedule: &Schedule, index: usize) -> Line {
    let pour = &schedule.pours[index];
    let zone = visit.open.shop.hours().zone();
    let time = |at| local(at, zone);
    let resin = &visit.worked.evaluation.need_of(&pour.layer).resin;
    let mixed = parts(pour.mixed, resin);
    let grams = |mass: Mass| format!("{:.1}", mass.kg() * 1e3);
    Line {
        layer: layers::of(index, schedule).trim_start_matches("the ").to_owned(),
        pour_at: time(pour.at),
        done_by: time(pour.done),
        depth_mm: format!("{:.1}", pour.layer.depth().mm()),
        volume_l: format!("{:.3}", pour.mixed.l()),
        buckets: pour.batches,
        sticky_from: time(pour.opens),
        sticky_to: time(pour.closes),
        peak_c: format!("{:.1}", pour.peak.celsius()),
        cover_from: time(pour.cover_from()),
        hard_at: time(schedule.hard),
        form_opens_at: time(schedule.form_opens()),
        resin: resin.name.clone(),
        a_g: grams(mixed.a_mass),
        b_g: grams(mixed.b_mass),
    }
}

fn local(at: Timestamp, zone: &TimeZone) -> String {
    at.to_zoned_datetime(zone.clone()).strftime("%Y-%m-%dT%H:%M%:z").to_string()
}

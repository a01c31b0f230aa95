//! A run begun, shown and written down.

use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum_htmx::HxRequest;
use fondant_app::bench;
use fondant_app::records::{CastId, KeptRun, RunId};
use fondant_app::{App, AppError, devices, shelf};
use fondant_cast::PourId;
use fondant_materials::resin::shelf::Lot;

use super::form;
use super::model::{modelled, with_waits};
use super::view::{Beside, page, part};
use crate::assets;
use crate::pages::stations::asked::{Looking, Visit};
use crate::paths::casts::{BeginRun, Run, RunRows};
use crate::paths::shop::{AppManifest, BenchWorker, Today};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::units::InUnits;
use crate::words::bench as words;

type Answer = Result<Response, WebError>;

/// What keeps the bench at hand without a connection. It stands at the root, since a worker looks after
/// what lies beside and below it.
pub(super) async fn worker(_: BenchWorker) -> Response {
    let headers = [
        (header::CONTENT_TYPE, "text/javascript; charset=utf-8"),
        (header::CACHE_CONTROL, "no-cache"),
    ];
    (headers, include_str!("worker.js")).into_response()
}

/// What a tablet installs Fondant by: it then opens without a browser's bars.
pub(super) async fn manifest(_: AppManifest) -> Response {
    let icon = assets::path("/favicon.svg");
    let manifest = serde_json::json!({
        "name": "Fondant",
        "short_name": "Fondant",
        "start_url": Today.to_string(),
        "display": "standalone",
        "background_color": "#F3EEE3",
        "theme_color": "#F3EEE3",
        "icons": [{ "src": icon, "sizes": "any", "type": "image/svg+xml", "purpose": "any" }],
    });
    ([(header::CONTENT_TYPE, "application/manifest+json")], manifest.to_string()).into_response()
}

/// Begins a run, or goes on with the one that is in hand.
pub(super) async fn begin(
    BeginRun { cast }: BeginRun,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let pour = entries.get("pour").and_then(|pour| pour.parse().ok()).map(PourId);
    match bench::begin(&app, cast, pour).await {
        Ok(run) => Ok(Redirect::to(&Run { cast, run }.to_string()).into_response()),
        Err(error) => Err(error.into()),
    }
}

/// The bench of a run; the part that changes alone, where a script asks for it.
pub(super) async fn show(
    Run { cast, run }: Run,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
) -> Answer {
    let (visit, kept) = opened(&app, cast, run).await?;
    let modelled = modelled(&app, &kept, visit.now).await?;
    let modelled = with_waits(&app, &visit, &kept, modelled).await?;
    let observed = app.by_facts(&visit.planned, &visit.facts).await?;
    let lots = shelf::items::<Lot>(&app, &visit.open.shop).await?.items;
    let observed = (*observed).as_ref();
    // The shop's swirls are looked for where cups are joined alone.
    let swirls = match kept.plan.join {
        Some(_) => bench::swirls(&app, visit.open.shop.id).await?,
        None => Vec::new(),
    };
    let instruments = devices::places(&app, &visit.open.shop).await?;
    let (modelled, swirls) = (&modelled, &swirls);
    let beside = Beside { modelled, observed, swirls, lots: &lots, instruments: &instruments };
    Ok(if is_fragment {
        part(&visit, &kept, &beside).into_response()
    } else {
        page(&visit, &kept, &beside).into_response()
    })
}

/// Writes a row down. A script gets the part of the page that has changed, or one sentence.
pub(super) async fn write_down(
    path: RunRows,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Answer {
    let RunRows { cast, run } = path;
    let (visit, kept) = opened(&app, cast, run).await.map_err(gone)?;
    let state = bench::folded(&kept);
    let shown = visit.open.shop.shown();
    let row = match form::read(&entries, &state, shown.system, app.now()) {
        Ok(row) => row,
        Err(sentence) => {
            return Err(WebError::NotWritten(StatusCode::UNPROCESSABLE_ENTITY, sentence));
        }
    };
    match bench::write_down(&app, (cast, run), row).await {
        Ok(()) => {}
        Err(AppError::AtBench(why)) => {
            return Err(WebError::NotWritten(StatusCode::CONFLICT, words::refused(&why, shown)));
        }
        Err(error) => return Err(error.into()),
    }
    if !is_fragment {
        return Ok(Redirect::to(&Run { cast, run }.to_string()).into_response());
    }
    show(Run { cast, run }, State(app), HxRequest(true)).await
}

/// A cast that somebody deleted while its bench stood open.
fn gone(error: WebError) -> WebError {
    match error {
        WebError::App(AppError::NotFound("cast")) => {
            WebError::NotWritten(StatusCode::NOT_FOUND, words::DELETED.to_owned())
        }
        other => other,
    }
}

pub(super) async fn opened(
    app: &App,
    cast: CastId,
    run: RunId,
) -> Result<(Visit, KeptRun), WebError> {
    let visit = Visit::of(app, cast, Looking::default()).await?;
    let kept = bench::runs(app, &visit.open).await?;
    let kept = kept.into_iter().find(|kept| kept.id == run);
    Ok((visit, kept.ok_or(WebError::NotFound("run"))?))
}

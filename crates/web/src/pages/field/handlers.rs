//! The field asked for, joined, abandoned.

use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::{Json, Router};
use fondant_app::jobs::{self, JobKind, JobView};
use fondant_app::{App, casts};
use fondant_cast::planning::Followed;
use serde::Deserialize;

use super::map;
use super::view::Answer;
use crate::Web;
use crate::pages::stations::asked::{Looking, Visit};
use crate::paths::casts::{AbandonField, Field};
use crate::routing::Routes;
use crate::ui::error::WebError;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(abandon).typed_get(map::show)
}

#[derive(Debug, Deserialize)]
struct Which {
    /// Where the section is cut, mm from the left end.
    cut: Option<f64>,
    /// `one` pours all at once; else the planned pours are followed.
    pours: Option<String>,
    /// Retry one that has failed.
    again: Option<u8>,
}

/// Asks for the field: says how far it is, or gives it.
async fn show(
    Field { cast }: Field,
    State(app): State<App>,
    Query(which): Query<Which>,
) -> Result<Json<Answer>, WebError> {
    let looking = Looking { section: None, cut: which.cut };
    let visit = Visit::of(&app, cast, looking).await?;
    let followed = match which.pours.as_deref() {
        Some("one") => Followed::InOne,
        _ => Followed::Planned,
    };
    let cut = visit.cut_along();
    let whose = (visit.open.shop.id, cast);
    let asked =
        jobs::field(&app, whose, &visit.worked, (cut, followed), which.again.is_some()).await?;
    Ok(Json(match asked {
        None => Answer::depth_alone(),
        Some((task, JobView::Done(done))) => Answer::done(&visit, &task, &done),
        Some((_, JobView::Working(working))) => Answer::working(&working),
        Some((_, JobView::Failed(why))) => Answer::failed(why),
        Some((_, JobView::Unknown)) => Answer::given_up(),
    }))
}

/// Nobody waits for it any more: the work ends.
async fn abandon(
    AbandonField { cast }: AbandonField,
    State(app): State<App>,
) -> Result<StatusCode, WebError> {
    let open = casts::open(&app, cast).await?;
    jobs::abandon(&app, open.shop.id, cast, JobKind::Field).await?;
    Ok(StatusCode::NO_CONTENT)
}

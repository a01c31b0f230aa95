//! The page of the day.

use axum::Router;
use axum::extract::State;
use axum::response::Redirect;
use fondant_app::{App, bench};

use super::finishing::finishing;
use super::runs::runs;
use super::view::{MISSED, TodayPage};
use crate::Web;
use crate::paths::shop::{Home, Today};
use crate::routing::Routes;
use crate::ui::error::WebError;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(home).typed_get(show)
}

async fn home(_: Home) -> Redirect {
    Redirect::to(&Today.to_string())
}

async fn show(_: Today, State(app): State<App>) -> Result<TodayPage, WebError> {
    let shop = app.shop().await?;
    let now = app.now();
    let casts = app.agendas(&shop, now - MISSED).await?;
    let runs = runs(&app, &shop, &casts, now).await?;
    let finishing = finishing(&app, &shop, now).await?;
    let busy = bench::at_bench(&app, &shop, &casts).await?;
    Ok(TodayPage::new(&shop, (&casts, runs, finishing), &busy, now))
}

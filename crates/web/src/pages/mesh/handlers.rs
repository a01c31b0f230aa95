//! A mesh looked at, and taken.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::casts::{self, meshes};
use fondant_app::{App, AppError};
use fondant_cast::Document;
use fondant_files::stl::UNTIL_SAID;
use fondant_quantities::{Length, Mass, bounds};

use super::view::{MeshPage, UNITS};
use crate::Web;
use crate::paths::casts::{Mesh, Station, TakeMesh};
use crate::routing::Routes;
use crate::ui::entries::Refusals;
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::conflicts;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(take)
}

async fn show(path: Mesh, State(app): State<App>) -> Result<Response, WebError> {
    let open = casts::open(&app, path.cast).await?;
    let looked = meshes::look(&app, &open, path.mesh).await?;
    Ok(MeshPage::new(&open, (path.mesh, &looked), (None, &Refusals::none())).into_response())
}

const STALE: &str = "The cast was changed in another tab since this page was opened. Nothing was \
    taken: look at it once more and take it again.";

async fn take(
    path: TakeMesh,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let open = casts::open(&app, path.cast).await?;
    let looked = meshes::look(&app, &open, path.mesh).await?;
    let mut reader = Reader::new(&entries, open.shop.shown().system);
    let (mut mass, mut unit) = (Mass::ZERO, UNTIL_SAID);
    reader.quantity("mass", &bounds::MASS, &mut mass);
    let units = UNITS.map(|(word, _, mm)| (word, Length::from_mm(mm)));
    reader.choice("unit", &units, &mut unit);
    let mut refusals = reader.refusals;
    if refusals.is_empty() {
        let solid = looked.solid.in_unit(UNTIL_SAID, unit);
        let edit = |open: &casts::Open| {
            let mut document: Document = open.record.document.clone();
            document.bring_object(&looked.name, &solid, mass);
            Ok::<_, AppError>(document)
        };
        match casts::change(&app, path.cast, expected(&entries)?, edit).await {
            Ok(_) => {
                let timber = Station::of(path.cast, "timber");
                return Ok(Redirect::to(&timber.to_string()).into_response());
            }
            Err(AppError::Stale { .. }) => refusals.add("", STALE),
            Err(AppError::Conflicts(all)) => {
                let shown = open.shop.shown();
                let first = all.first().map(|one| conflicts::without_drawing(one, shown));
                refusals.add("", first.unwrap_or_default());
            }
            Err(error) => return Err(error.into()),
        }
    }
    let open = casts::open(&app, path.cast).await?;
    let page = MeshPage::new(&open, (path.mesh, &looked), (Some(&entries), &refusals));
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

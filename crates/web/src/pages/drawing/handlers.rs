//! A drawing looked at, and taken.

use std::sync::Arc;

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::casts::drawings::{self, Looked};
use fondant_app::casts::{self, Open};
use fondant_app::records::{CastId, DrawingId};
use fondant_app::{App, AppError};
use fondant_cast::Document;
use fondant_cast::document::{Drawn, Origin, Read, Role, proposed};
use fondant_files::FLATTENED_TO;
use fondant_files::drawing::Drawing;
use fondant_files::reading::Format;
use fondant_quantities::Length;
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::Bounds;

use super::form::{Said, role};
use super::view::{Asked, DrawingPage};
use crate::Web;
use crate::paths::casts::{Drawing as DrawingPath, Station, TakeDrawing};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::units::InUnits;
use crate::words::{conflicts, files};

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(take)
}

/// A drawing as it is looked at, with what its lines are.
struct Visit {
    open: Open,
    id: DrawingId,
    said: Said,
    looked: Arc<Looked>,
    roles: Vec<Role>,
}

impl Visit {
    async fn of(
        app: &App,
        (cast, id): (CastId, DrawingId),
        entries: &Entries,
    ) -> Result<Self, WebError> {
        let open = casts::open(app, cast).await?;
        let mut said = Said::read(entries, open.shop.shown());
        let mut looked = drawings::look(app, &open, id, &said.options).await?;
        if let (Some(fit), Ok(drawing)) = (said.fit, &looked.read)
            && let Some(unit) = fitted(drawing, &roles(drawing, &open, &said, entries), fit)
        {
            said.options.unit = Some(unit);
            looked = drawings::look(app, &open, id, &said.options).await?;
        }
        let roles =
            looked.read.as_ref().map_or(Vec::new(), |read| roles(read, &open, &said, entries));
        Ok(Self { open, id, said, looked, roles })
    }

    fn page(&self, entries: &Entries, refusals: &Refusals) -> Response {
        let asked = Asked { id: self.id, said: &self.said, entries, refusals };
        let page = DrawingPage::new(&self.open, &self.looked, &self.roles, &asked);
        let status =
            if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        (status, page).into_response()
    }
}

/// What the lines of a drawing are: as proposed, or as the form says that was made for the same
/// reading.
fn roles(drawing: &Drawing, open: &Open, said: &Said, entries: &Entries) -> Vec<Role> {
    let read: Vec<Read<'_>> = drawing
        .rings
        .iter()
        .map(|closed| Read { ring: &closed.ring, layer: layer_name(drawing, closed.layer) })
        .collect();
    let cast = CastSize::of(&open.record.document.piece);
    let mut roles = proposed(&read, drawing.sheet, cast);
    if said.are_undersides {
        for role in roles.iter_mut().filter(|role| matches!(role, Role::Board | Role::Hole)) {
            *role = if *role == Role::Board { Role::Underside } else { Role::LeftOut };
        }
    }
    if entries.get("reading") == Some(said.reading().as_str()) {
        for (index, place) in roles.iter_mut().enumerate() {
            *place = role(entries, index).unwrap_or(*place);
        }
    }
    roles
}

fn layer_name(drawing: &Drawing, layer: usize) -> &str {
    drawing.layers.get(layer).map_or("", |layer| layer.name.as_str())
}

/// The unit in which what is taken is as wide as is known.
fn fitted(drawing: &Drawing, roles: &[Role], fit: Length) -> Option<Length> {
    let taken = drawing.rings.iter().zip(roles).filter(|(_, role)| **role != Role::LeftOut);
    let bounds = Bounds::of(taken.flat_map(|(closed, _)| &closed.ring));
    let width = bounds.max.x_m - bounds.min.x_m;
    (width > 0.0).then(|| drawing.unit * (fit.m() / width))
}

async fn show(path: DrawingPath, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app, (path.cast, path.drawing), &entries).await?;
    let refusals = visit.said.refusals.clone();
    Ok(visit.page(&entries, &refusals))
}

const STALE: &str = "The cast was changed in another tab since this page was opened. Nothing was \
    taken: look at it once more and take it again.";
const NO_UNIT: &str = "Say first which unit the drawing is in.";
const NOTHING: &str = "Nothing is taken yet: choose what at least one outline is.";

async fn take(path: TakeDrawing, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app, (path.cast, path.drawing), &entries).await?;
    let mut refusals = visit.said.refusals.clone();
    match &visit.looked.read {
        Err(error) => refusals.add("", files::file(error)),
        Ok(drawing) if drawing.said.is_none() && visit.said.options.unit.is_none() => {
            refusals.add("unit", NO_UNIT);
        }
        Ok(_) if !visit.roles.iter().any(|r| matches!(r, Role::Board | Role::Underside)) => {
            refusals.add("", NOTHING);
        }
        Ok(_) => {}
    }
    if !refusals.is_empty() {
        return Ok(visit.page(&entries, &refusals));
    }
    let drawn = drawn(&visit);
    let origin = match visit.looked.format {
        Format::Svg => Origin::UpperLeft,
        Format::Dxf => Origin::LowerLeft,
    };
    let placing = visit.said.placing;
    let edit = |open: &Open| {
        let mut document: Document = open.record.document.clone();
        document.take_drawing(&drawn, origin, placing, FLATTENED_TO);
        Ok::<_, AppError>(document)
    };
    let sentence = match casts::change(&app, path.cast, expected(&entries)?, edit).await {
        Ok(_) => {
            let timber = Station::of(path.cast, "timber");
            return Ok(Redirect::to(&timber.to_string()).into_response());
        }
        Err(AppError::Stale { .. }) => STALE.to_owned(),
        Err(AppError::Conflicts(all)) => {
            let shown = visit.open.shop.shown();
            all.first().map(|one| conflicts::conflict(one, shown)).unwrap_or_default()
        }
        Err(error) => return Err(error.into()),
    };
    let again = Visit { open: casts::open(&app, path.cast).await?, ..visit };
    Ok(again.page(&entries, &Refusals::at("", sentence)))
}

/// The lines that are something.
fn drawn(visit: &Visit) -> Vec<Drawn> {
    let rings = visit.looked.read.as_ref().map_or(&[][..], |drawing| &drawing.rings);
    let taken = rings.iter().zip(&visit.roles).filter(|(_, role)| **role != Role::LeftOut);
    taken.map(|(closed, role)| Drawn { ring: closed.ring.clone(), role: *role }).collect()
}

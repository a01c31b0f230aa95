//! A photo squared up, traced, taken for boards, removed.

use axum::Router;
use axum::extract::{Query, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::App;
use fondant_app::casts::{self, Open, photos};
use fondant_app::records::{CastId, PhotoId, PhotoRecord, Picture, Shows};
use fondant_cast::Document;
use fondant_cast::document::Placing;
use fondant_shapes::picture::trace::TimberIs;
use serde::Deserialize;

use super::form::read;
use super::view::{Found, PhotoPage};
use crate::Web;
use crate::pages::files::brought;
use crate::paths::casts::{Files, Photo, PhotoBytes, RemovePhoto, Station, TakeTimber};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::files;

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(show)
        .typed_post(square)
        .typed_post(take)
        .typed_post(remove)
        .typed_get(picture)
}

/// Which half of the colours is timber.
#[derive(Debug, Clone, Copy, Deserialize)]
struct Choosing {
    cooler: Option<u8>,
}

impl Choosing {
    fn timber(self) -> TimberIs {
        if self.cooler == Some(1) { TimberIs::Cooler } else { TimberIs::Warmer }
    }
}

/// A cast and one of its photos.
struct Visit {
    open: Open,
    photo: PhotoRecord,
}

impl Visit {
    async fn of(app: &App, cast: CastId, photo: PhotoId) -> Result<Self, WebError> {
        let open = casts::open(app, cast).await?;
        let photo = photos::one(app, &open, photo).await?;
        Ok(Self { open, photo })
    }

    async fn found(&self, app: &App, timber: TimberIs) -> Result<Option<Found>, WebError> {
        let Some(squaring) = &self.photo.squaring else { return Ok(None) };
        let photo = (self.photo.id, squaring);
        let outlines = photos::trace(app, &self.open, photo, timber).await?;
        Ok(Some(Found { outlines, timber }))
    }
}

async fn show(
    Photo { cast, photo }: Photo,
    State(app): State<App>,
    Query(choosing): Query<Choosing>,
) -> Answer {
    let visit = Visit::of(&app, cast, photo).await?;
    let found = visit.found(&app, choosing.timber()).await?;
    let typed = (None, &Refusals::none());
    Ok(PhotoPage::new(&visit.open, &visit.photo, found.as_ref(), typed).into_response())
}

async fn square(path: Photo, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app, path.cast, path.photo).await?;
    let mut reader = Reader::new(&entries, visit.open.shop.shown().system);
    let rectangle = read(&mut reader);
    let mut refusals = reader.refusals;
    if refusals.is_empty() {
        match photos::square(&app, &visit.open, visit.photo.id, rectangle).await? {
            Ok(()) => return Ok(Redirect::to(&format!("{path}#found")).into_response()),
            Err(error) => refusals.add("corners", files::corners(error)),
        }
    }
    Ok(refused(&visit, &entries, &refusals))
}

fn refused(visit: &Visit, entries: &Entries, refusals: &Refusals) -> Response {
    let page = PhotoPage::new(&visit.open, &visit.photo, None, (Some(entries), refusals));
    (StatusCode::UNPROCESSABLE_ENTITY, page).into_response()
}

async fn take(
    TakeTimber { cast, photo }: TakeTimber,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let visit = Visit::of(&app, cast, photo).await?;
    let cooler = (entries.get("cooler") == Some("1")).then_some(1);
    let found = visit.found(&app, Choosing { cooler }.timber()).await?;
    let found = found.ok_or(WebError::NotFound("squared photo"))?;
    let bring = |document: &mut Document| {
        document.set_outlines(found.outlines.clone(), Placing::Instead);
    };
    brought(&app, (cast, expected(&entries)?), "photo", bring).await
}

async fn remove(
    RemovePhoto { cast, photo }: RemovePhoto,
    State(app): State<App>,
) -> Result<Redirect, WebError> {
    let open = casts::open(&app, cast).await?;
    let shown = photos::one(&app, &open, photo).await?.shows;
    photos::remove(&app, &open, photo).await?;
    let back = match shown {
        Shows::Bench => Files { cast }.to_string(),
        Shows::Step(_) => Station::of(cast, "finish").to_string(),
        Shows::Fault(_) => Station::of(cast, "record").to_string(),
    };
    Ok(Redirect::to(&back))
}

async fn picture(path: PhotoBytes, State(app): State<App>) -> Answer {
    let which = match path.which.as_str() {
        "photo.jpg" => Picture::Photo,
        "squared.jpg" => Picture::Squared,
        "small.jpg" => Picture::Small,
        _ => return Err(WebError::NotFound("page")),
    };
    let bytes = match which {
        Picture::Small => photos::small(&app, path.cast, path.photo).await?,
        which => photos::picture(&app, path.cast, path.photo, which).await?,
    };
    // A photo never changes; a squared-up one has an address of its own.
    let kept = "private, max-age=31536000, immutable";
    let headers = [(header::CONTENT_TYPE, "image/jpeg"), (header::CACHE_CONTROL, kept)];
    Ok((headers, bytes).into_response())
}

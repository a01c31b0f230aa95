//! Photos, drawings and meshes read and brought in.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_typed_multipart::TryFromMultipart;
use fondant_app::casts::{self, Open, drawings, meshes, photos};
use fondant_app::records::{CastId, Shows};
use fondant_app::{App, AppError, Request};
use fondant_cast::Document;
use fondant_files::reading::Format;
use fondant_files::{DXF_LIMIT, MESH_LIMIT, PHOTO_LIMIT};

use super::view::FilesPage;
use crate::Web;
use crate::paths::casts::{AddMesh, AddOutlines, AddPhoto, Drawing, Files, Mesh, Photo, Station};
use crate::routing::Routes;
use crate::ui::entries::Refusals;
use crate::ui::error::WebError;
use crate::ui::units::InUnits;
use crate::ui::upload::{File, Uploaded};
use crate::words::{conflicts, files};

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show)
}

/// Routes that take files.
pub(crate) fn uploads() -> Router<Web> {
    Router::new().typed_post(add_photo).typed_post(add_outlines).typed_post(add_mesh)
}

async fn show(Files { cast }: Files, State(app): State<App>) -> Answer {
    let open = casts::open(&app, cast).await?;
    page(&app, &open, &Refusals::none()).await
}

async fn page(app: &App, open: &Open, refusals: &Refusals) -> Answer {
    let photos = photos::of_bench(app, open).await?;
    let status =
        if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    let page = FilesPage::new(open, &photos, refusals, Request::new_key()?);
    Ok((status, page).into_response())
}

/// The page with a sentence at a file.
async fn refused(app: &App, cast: CastId, field: &str, sentence: String) -> Answer {
    let open = casts::open(app, cast).await?;
    page(app, &open, &Refusals::at(field, sentence)).await
}

#[derive(TryFromMultipart)]
struct PhotoForm {
    photo: File<PHOTO_LIMIT>,
    request: Option<String>,
}

async fn add_photo(
    AddPhoto { cast }: AddPhoto,
    State(app): State<App>,
    form: Uploaded<PhotoForm>,
) -> Answer {
    let open = casts::open(&app, cast).await?;
    let request = Request::keyed(form.data.request.as_deref());
    let bytes = match form.data.photo.bytes() {
        Ok(bytes) => bytes,
        Err(error) => return refused(&app, cast, "photo", files::file(&error)).await,
    };
    match photos::add(&app, &open, (bytes, Shows::Bench), &request).await? {
        Ok(photo) => Ok(Redirect::to(&Photo { cast, photo }.to_string()).into_response()),
        Err(error) => refused(&app, cast, "photo", files::file(&error)).await,
    }
}

#[derive(TryFromMultipart)]
struct OutlinesForm {
    outlines: File<DXF_LIMIT>,
    place: Option<String>,
    request: Option<String>,
}

/// Keeps a drawing to be looked at.
async fn add_outlines(
    AddOutlines { cast }: AddOutlines,
    State(app): State<App>,
    form: Uploaded<OutlinesForm>,
) -> Answer {
    let OutlinesForm { outlines: file, place, request } = form.data;
    let open = casts::open(&app, cast).await?;
    let name = file.name.clone();
    let kept = match file.bytes() {
        Ok(bytes) => {
            let format = if looks_like_dxf(&name, &bytes) { Format::Dxf } else { Format::Svg };
            let request = Request::keyed(request.as_deref());
            drawings::keep(&app, &open, (name, format, bytes), &request).await?
        }
        Err(error) => Err(error),
    };
    match kept {
        Ok(drawing) => {
            let place = place.filter(|place| matches!(place.as_str(), "beside" | "under"));
            let query = place.map(|place| format!("?place={place}")).unwrap_or_default();
            let to = format!("{}{query}", Drawing { cast, drawing });
            Ok(Redirect::to(&to).into_response())
        }
        Err(error) => refused(&app, cast, "outlines", files::file(&error)).await,
    }
}

/// Whether a file is DXF: by its name, or by how it begins where the name says nothing.
fn looks_like_dxf(name: &str, bytes: &[u8]) -> bool {
    let name = name.to_lowercase();
    let head = bytes.trim_ascii_start();
    let begins = head.starts_with(b"0\n") || head.starts_with(b"0\r") || head.starts_with(b"999");
    name.ends_with(".dxf") || (!name.ends_with(".svg") && begins)
}

const STALE: &str = "The cast was changed in another tab since this page was opened. Nothing was \
    brought in: choose the file once more.";

/// Changes a cast by what was brought in. What does not fit is said at the field of its file, and
/// nothing is kept.
pub(crate) async fn brought(
    app: &App,
    (cast, expected): (CastId, i32),
    field: &str,
    bring: impl Fn(&mut Document) + Sync,
) -> Answer {
    let edit = |open: &Open| {
        let mut document = open.record.document.clone();
        bring(&mut document);
        Ok::<_, AppError>(document)
    };
    match casts::change(app, cast, expected, edit).await {
        Ok(_) => Ok(Redirect::to(&Station::of(cast, "timber").to_string()).into_response()),
        Err(AppError::Stale { .. }) => refused(app, cast, field, STALE.to_owned()).await,
        Err(AppError::Conflicts(all)) => {
            let shown = casts::open(app, cast).await?.shop.shown();
            let first = all.first().map(|conflict| conflicts::without_drawing(conflict, shown));
            refused(app, cast, field, first.unwrap_or_default()).await
        }
        Err(error) => Err(error.into()),
    }
}

#[derive(TryFromMultipart)]
struct MeshForm {
    mesh: File<MESH_LIMIT>,
    request: Option<String>,
}

/// Keeps a mesh to be looked at.
async fn add_mesh(
    AddMesh { cast }: AddMesh,
    State(app): State<App>,
    form: Uploaded<MeshForm>,
) -> Answer {
    let MeshForm { mesh: file, request } = form.data;
    let open = casts::open(&app, cast).await?;
    let (name, request) = (file.name.clone(), Request::keyed(request.as_deref()));
    let kept = match file.bytes() {
        Ok(bytes) => meshes::keep(&app, &open, (name, bytes), &request).await?,
        Err(error) => Err(error),
    };
    match kept {
        Ok(mesh) => Ok(Redirect::to(&Mesh { cast, mesh }.to_string()).into_response()),
        Err(error) => refused(&app, cast, "mesh", files::file(&error)).await,
    }
}

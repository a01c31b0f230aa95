//! Meshes that are being looked at: kept with a cast like drawings, until their unit is said.

use std::sync::Arc;

use fondant_files::FileError;
use fondant_store::repos::{DrawingFile, DrawingId};

use crate::app::App;
use crate::casts::drawings::keep_file;
use crate::casts::open::Open;
use crate::compute::Key;
use crate::error::AppError;
pub use crate::looked::LookedMesh;
use crate::request::Request;

/// The word for the format of meshes.
const FORMAT: &str = "stl";

/// Keeps a mesh with a cast, to be looked at. The same request sent twice keeps it once.
///
/// # Errors
/// The inner error says why the file is not a solid.
pub async fn keep(
    app: &App,
    open: &Open,
    (name, bytes): (String, Vec<u8>),
    request: &Request,
) -> Result<Result<DrawingId, FileError>, AppError> {
    let bytes = Arc::new(bytes);
    if let Err(error) = app.read_solid(Arc::clone(&bytes)).await? {
        return Ok(Err(error));
    }
    let bytes = Arc::unwrap_or_clone(bytes);
    let file = DrawingFile { name, format: FORMAT.to_owned(), bytes };
    keep_file(app, open, file, request).await.map(Ok)
}

/// A mesh that was kept.
///
/// # Errors
/// [`AppError::NotFound`] where it is not kept any more.
pub async fn look(app: &App, open: &Open, id: DrawingId) -> Result<Arc<LookedMesh>, AppError> {
    let (shop, cast) = (open.shop.id, open.record.id);
    let (name, format) = app.store.read().drawing_about(shop, cast, id).await?;
    if format != FORMAT {
        return Err(AppError::NotFound("mesh"));
    }
    let key = Key::of(&("mesh", id))?;
    let work = async {
        let bytes = app.store.read().drawing_bytes(shop, cast, id).await?;
        let solid = app.read_solid(Arc::new(bytes)).await?.map_err(AppError::fault)?;
        Ok(LookedMesh { name, solid })
    };
    app.results.meshes.get_or(&key, work).await
}

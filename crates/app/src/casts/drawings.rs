//! Drawings that are being looked at: kept with a cast for a day, read as the maker says, and taken
//! only when they say so.

use std::sync::Arc;

use fondant_files::FileError;
use fondant_files::drawing::Options;
use fondant_files::reading::{Asked, Format};
use fondant_store::repos::{DrawingFile, DrawingId};

use crate::app::App;
use crate::casts::open::Open;
use crate::compute::Key;
use crate::error::AppError;
pub use crate::looked::Looked;
use crate::request::Request;

fn word(format: Format) -> &'static str {
    match format {
        Format::Svg => "svg",
        Format::Dxf => "dxf",
    }
}

/// Keeps a drawing with a cast, to be looked at. The same request sent twice keeps it once.
///
/// # Errors
/// The inner error says why the file cannot be read.
pub async fn keep(
    app: &App,
    open: &Open,
    (name, format, bytes): (String, Format, Vec<u8>),
    request: &Request,
) -> Result<Result<DrawingId, FileError>, AppError> {
    let bytes = Arc::new(bytes);
    if let Err(error) = app.read_drawing(format, Options::default(), Arc::clone(&bytes)).await? {
        return Ok(Err(error));
    }
    let bytes = Arc::unwrap_or_clone(bytes);
    let file = DrawingFile { name, format: word(format).to_owned(), bytes };
    keep_file(app, open, file, request).await.map(Ok)
}

/// Keeps a file with a cast that can be read.
pub(super) async fn keep_file(
    app: &App,
    open: &Open,
    file: DrawingFile,
    request: &Request,
) -> Result<DrawingId, AppError> {
    let (shop, cast, now) = (&open.shop, open.record.id, app.now());
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(DrawingId(before));
    }
    transaction.lock_cast(shop.id, cast).await?;
    let id = transaction.add_drawing(cast, file, now).await?;
    request.keep_answer(&transaction, shop.id, id.0, now).await?;
    transaction.commit().await?;
    Ok(id)
}

/// A drawing read as the maker says; the same again is not read again.
///
/// # Errors
/// [`AppError::NotFound`] where it is not kept any more.
pub async fn look(
    app: &App,
    open: &Open,
    id: DrawingId,
    options: &Options,
) -> Result<Arc<Looked>, AppError> {
    let (shop, cast) = (open.shop.id, open.record.id);
    let (name, format) = app.store.read().drawing_about(shop, cast, id).await?;
    let format = if format == word(Format::Svg) { Format::Svg } else { Format::Dxf };
    let asked = Asked::Drawing(format, options.clone()).to_string();
    let key = Key::of(&("drawing", id, asked))?;
    let work = async {
        let bytes = app.store.read().drawing_bytes(shop, cast, id).await?;
        let read = app.read_drawing(format, options.clone(), Arc::new(bytes)).await?;
        Ok(Looked { name, format, read })
    };
    app.results.drawings.get_or(&key, work).await
}

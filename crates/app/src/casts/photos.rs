//! Photos of the bench, squared up and traced.

use fondant_files::{FileError, photo};
use fondant_quantities::Length;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::homography::{CornersError, Homography, Pixel};
use fondant_shapes::geometry::overlay::simplified;
use fondant_shapes::picture::square_up;
use fondant_shapes::picture::squaring::{KnownLength, Squaring};
use fondant_shapes::picture::trace::{TimberIs, outlines};
use fondant_store::repos::{CastId, NewPhoto, PhotoId, PhotoRecord, Picture};

use crate::app::App;
use crate::casts::open::Open;
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::shop::Shop;

/// Longest side of a squared-up picture, pixels.
const LONGEST_PX: f64 = 1600.0;
/// Most pixels of it per metre: finer than a camera sees across a bench.
const MOST_PX_PER_M: f64 = 2500.0;
/// The outline that is proposed is straightened to this.
const STRAIGHTENED: Length = Length::from_mm(0.8);

/// A rectangle on the bench, by its corners in a photo.
#[derive(Debug, Clone, PartialEq)]
pub struct Rectangle {
    /// Its corners, clockwise from the upper left.
    pub corners: [Pixel; 4],
    /// True length from the first to the second.
    pub length: Length,
    /// True width from the second to the third.
    pub width: Length,
    /// A length that was measured on the bench, to check the rest by.
    pub check: Option<KnownLength>,
}

/// The photos of a cast, newest first.
///
/// # Errors
/// [`AppError`].
pub async fn all(app: &App, open: &Open) -> Result<Vec<PhotoRecord>, AppError> {
    Ok(app.store.read().photos(open.shop.id, open.record.id).await?)
}

/// One of them.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn one(app: &App, open: &Open, photo: PhotoId) -> Result<PhotoRecord, AppError> {
    let found = all(app, open).await?.into_iter().find(|p| p.id == photo);
    found.ok_or(AppError::NotFound("photo"))
}

/// The bytes of a photo, or of what was squared up of it.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn picture(
    app: &App,
    cast: CastId,
    photo: PhotoId,
    which: Picture,
) -> Result<Vec<u8>, AppError> {
    let shop = app.shop().await?;
    Ok(app.store.read().picture(shop.id, cast, photo, which).await?)
}

/// Reads a photo as it came from a camera and keeps it with a cast. The same request sent twice
/// keeps it once.
///
/// # Errors
/// The inner error says why the file is not a photo.
pub async fn add(
    app: &App,
    open: &Open,
    file: Vec<u8>,
    request: &Request,
) -> Result<Result<PhotoId, FileError>, AppError> {
    let read = match app.read_photo(file).await? {
        Ok(read) => read,
        Err(error) => return Ok(Err(error)),
    };
    let new =
        NewPhoto { jpeg: read.jpeg, width: read.width, height: read.height, sha256: read.sha256 };
    let (shop, cast, now) = (&open.shop, open.record.id, app.now());
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(Ok(PhotoId(before)));
    }
    let revision = transaction.lock_cast(shop.id, cast).await?;
    let id = transaction.add_photo(cast, &new, now).await?;
    request.keep_answer(&transaction, shop.id, id.0, now).await?;
    changed(&transaction, shop, (cast, revision)).await?;
    transaction.commit().await?;
    Ok(Ok(id))
}

async fn changed(
    transaction: &fondant_store::Transaction,
    shop: &Shop,
    (cast, revision): (CastId, i32),
) -> Result<(), AppError> {
    tell(transaction, &Event::CastChanged { workshop: shop.id, cast, revision }).await
}

/// Squares a photo up by a rectangle in it.
///
/// # Errors
/// The inner one says why the corners square nothing up.
pub async fn square(
    app: &App,
    open: &Open,
    photo: PhotoId,
    rectangle: Rectangle,
) -> Result<Result<(), CornersError>, AppError> {
    let Rectangle { corners, length, width, check } = rectangle;
    let plane = match Homography::of_rectangle(corners, length, width) {
        Ok(plane) => plane,
        Err(error) => return Ok(Err(error)),
    };
    let (shop, cast) = (&open.shop, open.record.id);
    let jpeg = app.store.read().picture(shop.id, cast, photo, Picture::Photo).await?;
    let pixels_per_m = (LONGEST_PX / length.max(width).m()).min(MOST_PX_PER_M);
    let squared = app.compute_beside(move |_| {
        let raster = photo::raster(&jpeg)?;
        photo::keep(&square_up(&raster, &plane, length, width, pixels_per_m))
    });
    let squared = squared.await?.map_err(AppError::fault)?;
    let squaring = Squaring { corners, length, width, pixels_per_m, check };
    let transaction = app.store.begin().await?;
    let revision = transaction.lock_cast(shop.id, cast).await?;
    transaction.square_photo(shop.id, cast, photo, &squaring, squared.jpeg).await?;
    changed(&transaction, shop, (cast, revision)).await?;
    transaction.commit().await?;
    Ok(Ok(()))
}

/// Outlines of the timber in a squared-up photo.
///
/// # Errors
/// [`AppError`].
pub async fn trace(
    app: &App,
    open: &Open,
    (photo, squaring): (PhotoId, &Squaring),
    timber: TimberIs,
) -> Result<Vec<Outline>, AppError> {
    let read = app.store.read();
    let jpeg = read.picture(open.shop.id, open.record.id, photo, Picture::Squared).await?;
    let scale = squaring.pixels_per_m;
    let traced = app.compute_beside(move |_| {
        let raster = photo::raster(&jpeg)?;
        let found = outlines(&raster, scale, timber);
        Ok::<_, FileError>(found.iter().map(|o| simplified(o, STRAIGHTENED)).collect())
    });
    traced.await?.map_err(AppError::fault)
}

/// Removes a photo.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn remove(app: &App, open: &Open, photo: PhotoId) -> Result<(), AppError> {
    let (shop, cast) = (&open.shop, open.record.id);
    let transaction = app.store.begin().await?;
    let revision = transaction.lock_cast(shop.id, cast).await?;
    transaction.remove_photo(shop.id, cast, photo).await?;
    changed(&transaction, shop, (cast, revision)).await?;
    Ok(transaction.commit().await?)
}

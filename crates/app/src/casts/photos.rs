//! Photos: of the bench, squared up and traced; of steps of finishing and of faults.

use fondant_files::records::archive::MOST_PHOTOS;
use fondant_files::{FileError, photo};
use fondant_quantities::Length;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::homography::{CornersError, Homography, Pixel};
use fondant_shapes::geometry::overlay::simplified;
use fondant_shapes::picture::square_up;
use fondant_shapes::picture::squaring::{KnownLength, Squaring};
use fondant_shapes::picture::trace::{TimberIs, outlines};
use fondant_store::StoreError;
use fondant_store::repos::{CastId, NewPhoto, PhotoId, PhotoRecord, Picture, Shows};

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

/// Those of them that show the bench from above, newest first.
///
/// # Errors
/// [`AppError`].
pub async fn of_bench(app: &App, open: &Open) -> Result<Vec<PhotoRecord>, AppError> {
    let mut found = all(app, open).await?;
    found.retain(|photo| photo.shows == Shows::Bench);
    Ok(found)
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

/// A photo made small, for a list: made when it is first asked for, and kept.
///
/// # Errors
/// [`AppError::NotFound`].
pub async fn small(app: &App, cast: CastId, photo: PhotoId) -> Result<Vec<u8>, AppError> {
    let shop = app.shop().await?;
    match app.store.read().picture(shop.id, cast, photo, Picture::Small).await {
        Err(StoreError::NotFound(_)) => {}
        found => return Ok(found?),
    }
    let jpeg = app.store.read().picture(shop.id, cast, photo, Picture::Photo).await?;
    let made = app.compute_beside(move |_| photo::small(&jpeg)).await?.map_err(AppError::fault)?;
    let transaction = app.store.begin().await?;
    transaction.keep_small_photo(shop.id, cast, photo, made.clone()).await?;
    transaction.commit().await?;
    Ok(made)
}

/// Reads a photo as it came from a camera and keeps it with a cast. The same request sent twice
/// keeps it once.
///
/// # Errors
/// The inner error says why the file is not a photo, or that the cast has as many as it keeps;
/// [`AppError::NotFound`] for a fault that is not marked.
pub async fn add(
    app: &App,
    open: &Open,
    (file, shows): (Vec<u8>, Shows),
    request: &Request,
) -> Result<Result<PhotoId, FileError>, AppError> {
    let read = match app.read_photo(file).await? {
        Ok(read) => read,
        Err(error) => return Ok(Err(error)),
    };
    let (jpeg, width, height, sha256) = (read.jpeg, read.width, read.height, read.sha256);
    let new = NewPhoto { jpeg, width, height, sha256, shows };
    let (shop, cast, now) = (&open.shop, open.record.id, app.now());
    let transaction = app.store.begin().await?;
    if let Some(before) = request.answered(&transaction, shop.id, now).await? {
        return Ok(Ok(PhotoId(before)));
    }
    let revision = transaction.lock_cast(shop.id, cast).await?;
    if transaction.photos(shop.id, cast).await?.len() >= MOST_PHOTOS {
        return Ok(Err(FileError::Full(MOST_PHOTOS)));
    }
    if let Shows::Fault(fault) = shows {
        let marked = transaction.faults(shop.id, cast).await?;
        marked.iter().find(|kept| kept.id == fault).ok_or(AppError::NotFound("fault"))?;
    }
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

//! A whole workshop into a file and out of one, into an installation that has none yet.

use std::io::{Read, Seek, Write};

use fondant_files::FileError;
use fondant_files::records::whole::{Whole, WholeForm, WholeReader, WholeWriter};
use fondant_files::records::{NotARecord, archive};
use fondant_materials::resin::shelf::Shelf;
use fondant_store::Transaction;
use fondant_store::repos::{CastId, ShelfItem, WorkshopId, WorkshopSettings};
use jiff::Timestamp;
use sha2::{Digest, Sha256};

use crate::app::App;
use crate::beginning::{self, NewWorkshop};
use crate::casts::archived;
use crate::casts::exchange::{self, NoResin};
use crate::error::AppError;
use crate::forms::{self, Booking};
use crate::request::Request;
use crate::shop::Shop;

/// Digits of a checksum that tell a file from others.
const KEY_DIGITS: usize = 16;

/// Why a workshop is not written or read.
#[derive(Debug, thiserror::Error)]
pub enum WholeError {
    /// The records.
    #[error(transparent)]
    App(#[from] AppError),
    /// The file cannot be written or read.
    #[error(transparent)]
    Io(#[from] std::io::Error),
    /// The file is not a workshop's, or something in it cannot be.
    #[error("the file: {0}")]
    File(#[from] NotARecord),
    /// A cast of it.
    #[error("cast {place} of the file: {why}")]
    Cast {
        /// Position of the cast in the file, from 1.
        place: usize,
        /// Reason for the refusal.
        why: String,
    },
    /// There is a workshop already that did not come from this file.
    #[error("there is a workshop already; a whole one comes into an installation that has none")]
    Begun,
}

/// Writes the workshop with all its casts, all as they are in one moment; returns how many those are. Casts
/// that are deleted stay behind.
///
/// # Errors
/// [`WholeError`].
pub async fn write<W: Write + Seek>(app: &App, out: W) -> Result<usize, WholeError> {
    let workshop = app.shop().await?.id;
    let moment = app.store.snapshot().await.map_err(AppError::from)?;
    let ids = moment.cast_ids(workshop).await.map_err(AppError::from)?;
    let told = told(&moment, &ids).await?;
    let shelf = Shelf::new(told.resins.clone());
    let mut writer = WholeWriter::begin(out, &told)?;
    for (place, id) in (1..).zip(&ids) {
        let zipped = archived::zipped_of_moment(app, &moment, &shelf, (workshop, *id)).await?;
        let too_large = |error: FileError| WholeError::Cast { place, why: error.to_string() };
        writer.cast(&zipped.map_err(too_large)?)?;
    }
    writer.end()?.flush()?;
    Ok(ids.len())
}

async fn told(moment: &Transaction, ids: &[CastId]) -> Result<Whole, AppError> {
    let shop = moment.workshop().await?.ok_or(AppError::NotFound("workshop"))?;
    let settings = shop.settings;
    let place = |cast: CastId| ids.iter().position(|id| *id == cast);
    // The one that was added first comes first.
    let forms = moment.forms(shop.id).await?.all.into_iter().rev().map(|record| WholeForm {
        booked_by: record.booked_by.as_ref().and_then(|by| place(by.cast)),
        form: record.form,
    });
    Ok(Whole {
        name: settings.name,
        time_zone: settings.time_zone,
        days: settings.days,
        units: settings.units,
        shop: settings.shop,
        resins: items(moment, shop.id).await?,
        lots: items(moment, shop.id).await?,
        colours: items(moment, shop.id).await?,
        lessons: items(moment, shop.id).await?,
        forms: forms.collect(),
        air: moment.air_since(shop.id, Timestamp::UNIX_EPOCH).await?,
        casts: ids.len(),
    })
}

async fn items<T: ShelfItem>(
    moment: &Transaction,
    workshop: WorkshopId,
) -> Result<Vec<T>, AppError> {
    let kept = moment.shelf_items::<T>(workshop).await?.items;
    Ok(kept.into_iter().map(|kept| kept.item).collect())
}

/// Makes the workshop of a file where there is none; returns how many casts it has. Where that was ended
/// midway, the same file goes on where it was, within the month in which requests are known again.
///
/// # Errors
/// [`WholeError`]; casts that are in stay.
pub async fn read<R: Read + Seek>(app: &App, file: R) -> Result<usize, WholeError> {
    let (mut reader, whole) = WholeReader::open(file)?;
    let (count, forms) = (whole.casts, whole.forms.clone());
    let told = serde_json::to_vec(&whole).map_err(std::io::Error::from)?;
    let new = NewWorkshop { made_by: known_by("whole", &told), ..workshop(whole) };
    sound(&new)?;
    let is_fresh = beginning::begin(app, &new).await?.is_some();
    let shop = app.shop().await?;
    if !is_fresh && !is_of(app, &shop, &new.made_by).await? {
        return Err(WholeError::Begun);
    }
    let mut casts = Vec::new();
    for place in 0..count {
        casts.push(cast(app, place, reader.cast(place)?).await?);
    }
    book(app, &shop, &forms, &casts).await?;
    Ok(count)
}

/// What makes something of bytes, by their checksum.
fn known_by(what: &str, bytes: &[u8]) -> Request {
    let digest = hex::encode(Sha256::digest(bytes));
    Request::keyed(Some(&format!("{what}-{}", &digest[..KEY_DIGITS])))
}

/// Whether a workshop was made by a file.
async fn is_of(app: &App, shop: &Shop, file: &Request) -> Result<bool, AppError> {
    let transaction = app.store.begin().await?;
    // Never committed: a new key stays new.
    Ok(file.answered(&transaction, shop.id, app.now()).await?.is_some())
}

/// Refuses what no page could show: a workshop that is begun cannot be begun again.
fn sound(new: &NewWorkshop) -> Result<(), NotARecord> {
    if let Err(error) = new.settings.hours() {
        return Err(NotARecord::CannotBe(format!("hours that no shop has: {error}")));
    }
    let bad = new.resins.iter().find_map(|own| Some((own, own.resin.check().err()?)));
    match bad {
        Some((own, error)) => {
            Err(NotARecord::CannotBe(format!("a resin {} that cannot be: {error}", own.resin.name)))
        }
        None => Ok(()),
    }
}

/// The workshop of a file before its casts are there.
fn workshop(whole: Whole) -> NewWorkshop {
    let settings = WorkshopSettings {
        name: whole.name,
        time_zone: whole.time_zone,
        days: whole.days,
        units: whole.units,
        shop: whole.shop,
    };
    NewWorkshop {
        resins: whole.resins,
        lots: whole.lots,
        colours: whole.colours,
        lessons: whole.lessons,
        forms: whole.forms.into_iter().map(|each| (each.form, None)).collect(),
        air: whole.air,
        ..NewWorkshop::empty(settings)
    }
}

/// Brings a cast in once, however often it is tried.
async fn cast(app: &App, place: usize, bytes: Vec<u8>) -> Result<CastId, WholeError> {
    let refused = |why: String| WholeError::Cast { place: place + 1, why };
    let request = known_by(&format!("whole-{place}"), &bytes);
    let found = app.compute_beside(move |_| archive::read(&bytes)).await?;
    let found = found.map_err(|error| refused(error.to_string()))?;
    let shop = app.shop().await?;
    let brought = exchange::import(app, &shop, found, &request).await;
    match brought {
        Ok(cast) => cast.map_err(|error: NoResin| refused(error.to_string())),
        Err(error) => Err(refused(error.to_string())),
    }
}

/// Books the forms for the casts that had them.
async fn book(
    app: &App,
    shop: &Shop,
    booked: &[WholeForm],
    casts: &[CastId],
) -> Result<(), AppError> {
    let kept = app.store.read().forms(shop.id).await?.all;
    for (record, form) in kept.iter().rev().zip(booked) {
        let cast = form.booked_by.and_then(|place| casts.get(place));
        let Some(cast) = cast.filter(|_| record.booked_by.is_none()) else { continue };
        forms::book(app, *cast, Booking::Take(record.id)).await?;
    }
    Ok(())
}

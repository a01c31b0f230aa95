//! All that is kept of a cast, from the store into an archive and from an archive into the store.

use fondant_bench::{Row, Run};
use fondant_cast::agenda::{Agenda, Fit};
use fondant_cast::facts::FactRow;
use fondant_files::FileError;
use fondant_files::records::archive::{
    self, ARCHIVE_LIMIT, Archive, ArchivedEnd, ArchivedFact, ArchivedFault, ArchivedPhoto,
    ArchivedRow, ArchivedRun, ArchivedShows, ArchivedTold, Picture, Squared, numbers,
};
use fondant_files::records::cast::CastFile;
use fondant_materials::resin::shelf::Shelf;
use fondant_store::Transaction;
use fondant_store::repos::{
    self, Basis, CastId, FaultId, Keep, KeptRun, NewPhoto, NewRow, Shows, WorkshopId,
};
use jiff::Timestamp;

use super::named::resins;
use crate::app::App;
use crate::bench::folded;
use crate::casts::open::Open;
use crate::courses;
use crate::error::AppError;

/// The agenda of a cast that has been brought in: stale from the beginning, so that it is worked out from
/// the shop that it has come to before anybody sees it.
const STALE: Basis = Basis { cast: 0, workshop: 0, shelf: 0, air: None };

/// A cast with all that is kept of it, and what instruments read while it came about.
///
/// # Errors
/// [`AppError`].
pub async fn archive(app: &App, open: &Open) -> Result<Archive, AppError> {
    // Plan, facts and runs are of one moment.
    let moment = app.store.snapshot().await?;
    of_moment(&moment, open.shop.shelf(), (open.shop.id, open.record.id)).await
}

/// The same as it is in a snapshot.
async fn of_moment(
    transaction: &Transaction,
    shelf: &Shelf,
    (workshop, cast): (WorkshopId, CastId),
) -> Result<Archive, AppError> {
    let document = transaction.cast(workshop, cast).await?.document;
    let resins = resins(shelf, &document);
    let mut archive = Archive::from(CastFile { document, resins });
    let kept = transaction.kept_cast(workshop, cast).await?;
    archive.is_put_away = kept.is_some_and(|(_, keep)| keep == Keep::PutAway);
    archive.forecast = transaction.forecast(workshop, cast).await?;
    let told = transaction.facts(workshop, cast).await?;
    let runs = transaction.runs(workshop, cast).await?;
    let at_bench: Vec<Run> = runs.iter().map(folded).collect();
    let happened = (told.as_slice(), at_bench.as_slice(), archive.forecast.as_ref());
    archive.readings = courses::readings(transaction, (workshop, cast), happened).await?;
    archive.facts = facts(&told);
    archive.runs = runs.into_iter().rev().map(run).collect();
    archive.finishing = finishing(transaction, workshop, cast).await?;
    let record = transaction.record(workshop, cast).await?;
    archive.record = record.map(|kept| ArchivedEnd { is_open: kept.is_open, end: kept.end });
    let fault = |kept: repos::KeptFault| ArchivedFault {
        marked_at: kept.marked_at,
        fault: kept.fault,
        cause: kept.cause,
    };
    let faults = transaction.faults(workshop, cast).await?;
    let marked: Vec<FaultId> = faults.iter().map(|kept| kept.id).collect();
    archive.faults = faults.into_iter().map(fault).collect();
    for photo in transaction.photos(workshop, cast).await?.iter().rev() {
        archive.photos.push(picture(transaction, (workshop, cast), photo, &marked).await?);
    }
    archive.number_pours();
    Ok(archive)
}

/// The same as the bytes of a ZIP; the inner error says that it is larger than any that is read.
///
/// # Errors
/// [`AppError`].
pub async fn zipped(app: &App, open: &Open) -> Result<Result<Vec<u8>, FileError>, AppError> {
    zipped_of(app, archive(app, open).await?).await
}

/// The same of a cast as it is in a snapshot.
pub(crate) async fn zipped_of_moment(
    app: &App,
    moment: &Transaction,
    shelf: &Shelf,
    cast: (WorkshopId, CastId),
) -> Result<Result<Vec<u8>, FileError>, AppError> {
    zipped_of(app, of_moment(moment, shelf, cast).await?).await
}

async fn zipped_of(app: &App, archive: Archive) -> Result<Result<Vec<u8>, FileError>, AppError> {
    let written = app.compute(move |_| archive::write(&archive)).await?;
    let bytes = written.map_err(AppError::fault)?;
    Ok(match bytes.len() {
        bytes if bytes > ARCHIVE_LIMIT => Err(FileError::TooLarge { bytes, most: ARCHIVE_LIMIT }),
        _ => Ok(bytes),
    })
}

fn facts(rows: &[FactRow]) -> Vec<ArchivedFact> {
    let ids: Vec<i64> = rows.iter().map(|row| row.number).collect();
    let told = rows.iter().filter_map(|row| {
        let fact = numbers::fact(row.fact, |number| numbers::place(&ids, number))?;
        Some(ArchivedFact { recorded_at: row.recorded_at, fact })
    });
    told.collect()
}

async fn finishing(
    transaction: &Transaction,
    workshop: WorkshopId,
    cast: CastId,
) -> Result<Vec<ArchivedTold>, AppError> {
    let rows = transaction.finish_rows(workshop, cast).await?;
    let ids: Vec<i64> = rows.iter().map(|row| row.number).collect();
    let told = rows.into_iter().filter_map(|row| {
        let told = numbers::told(row.told, |number| numbers::place(&ids, number))?;
        Some(ArchivedTold { at: row.at, told })
    });
    Ok(told.collect())
}

fn run(kept: KeptRun) -> ArchivedRun {
    let ids: Vec<i64> = kept.rows.iter().map(|row| row.number).collect();
    let told = kept.rows.into_iter().filter_map(|row| {
        let what = numbers::happening(row.what, |number| numbers::place(&ids, number))?;
        Some(ArchivedRow { at: row.at, recorded_at: row.recorded_at, by: row.by, what })
    });
    let rows = told.collect();
    ArchivedRun { plan: kept.plan, begun_at: kept.begun_at, ended_at: kept.ended_at, rows }
}

async fn picture(
    transaction: &Transaction,
    (workshop, cast): (WorkshopId, CastId),
    kept: &repos::PhotoRecord,
    marked: &[FaultId],
) -> Result<ArchivedPhoto, AppError> {
    let bytes = |which| transaction.picture(workshop, cast, kept.id, which);
    let photo = Picture::of(bytes(repos::Picture::Photo).await?);
    let squared = match &kept.squaring {
        Some(squaring) => Some(Squared {
            squaring: squaring.clone(),
            picture: Picture::of(bytes(repos::Picture::Squared).await?),
        }),
        None => None,
    };
    let shows = match kept.shows {
        Shows::Bench => None,
        Shows::Step(step) => Some(ArchivedShows::Step(step)),
        Shows::Fault(fault) => {
            let place = marked.iter().position(|marked| *marked == fault);
            place.map(|place| ArchivedShows::Fault(place + 1))
        }
    };
    Ok(ArchivedPhoto { width: kept.width, height: kept.height, photo, squared, shows })
}

/// Puts what has happened to a cast beside its document, which is there already.
pub(super) async fn put(
    transaction: &Transaction,
    (workshop, cast): (WorkshopId, CastId),
    read: &Archive,
    now: Timestamp,
) -> Result<(), AppError> {
    put_facts(transaction, cast, read).await?;
    for run in &read.runs {
        put_run(transaction, cast, run).await?;
    }
    let mut ids = Vec::with_capacity(read.finishing.len());
    for ArchivedTold { at, told } in &read.finishing {
        if let Some(told) = numbers::told(told.clone(), |place| numbers::number(&ids, place)) {
            ids.push(transaction.add_finish_row(cast, &told, *at).await?);
        }
    }
    let mut marked = Vec::with_capacity(read.faults.len());
    for ArchivedFault { marked_at, fault, cause } in &read.faults {
        let id = transaction.add_fault(cast, fault, *marked_at).await?;
        marked.push(id);
        transaction.confirm_cause(cast, id, *cause).await?;
    }
    if let Some(ArchivedEnd { is_open, end }) = &read.record {
        transaction.keep_record(workshop, cast, (&read.document.name, end, 0)).await?;
        if *is_open {
            transaction.reopen_record(cast).await?;
        }
    }
    if let Some(readings) = &read.readings {
        transaction.bring_readings(cast, readings).await?;
    }
    for photo in &read.photos {
        put_photo(transaction, (workshop, cast), (photo, &marked), now).await?;
    }
    if let Some(forecast) = &read.forecast {
        transaction.keep_forecast(cast, 1, forecast, now).await?;
        if !read.document.pours.taken.is_empty() {
            let agenda = due(read, forecast.hard, now);
            transaction.keep_agenda(workshop, cast, Some((&agenda, STALE))).await?;
        }
    }
    if read.is_put_away {
        transaction.keep_cast(workshop, cast, Keep::PutAway, now).await?;
    }
    Ok(())
}

fn due(read: &Archive, hard: Timestamp, changed: Timestamp) -> Agenda {
    Agenda {
        resin: read.document.resin.clone(),
        pours: Vec::new(),
        hard,
        form_opens: None,
        in_pot: false,
        poured: 0,
        fit: Fit::Whole,
        changed,
        sequence: 0,
    }
}

async fn put_facts(
    transaction: &Transaction,
    cast: CastId,
    read: &Archive,
) -> Result<(), AppError> {
    let mut ids = Vec::with_capacity(read.facts.len());
    for kept in &read.facts {
        if let Some(fact) = numbers::fact(kept.fact, |place| numbers::number(&ids, place)) {
            ids.push(transaction.add_fact(cast, &fact, kept.recorded_at).await?);
        }
    }
    Ok(())
}

async fn put_run(
    transaction: &Transaction,
    cast: CastId,
    read: &ArchivedRun,
) -> Result<(), AppError> {
    let begun = transaction.begin_run(cast, &read.plan, read.begun_at).await?;
    let Some(run) = begun else { return Ok(()) };
    let mut ids = Vec::with_capacity(read.rows.len());
    let mut rows = Vec::with_capacity(read.rows.len());
    for (place, row) in read.rows.iter().enumerate() {
        let what = numbers::happening(row.what.clone(), |place| numbers::number(&ids, place));
        let Some(what) = what else { continue };
        // Devices make keys of their own: none looks like this.
        let key = format!("archive-{}", place + 1);
        let new = NewRow { key, at: row.at, by: row.by.clone(), what };
        let number = transaction.add_run_row(run, &new, row.recorded_at).await?;
        ids.push(number);
        let NewRow { at, by, what, .. } = new;
        rows.push(Row { number, at, recorded_at: row.recorded_at, by, what });
    }
    if let Some(ended_at) = read.ended_at {
        let hard_at = Run::of(read.plan.clone(), &rows).hard_at();
        transaction.end_run(run, ended_at, hard_at).await?;
    }
    Ok(())
}

async fn put_photo(
    transaction: &Transaction,
    (workshop, cast): (WorkshopId, CastId),
    (read, marked): (&ArchivedPhoto, &[FaultId]),
    now: Timestamp,
) -> Result<(), AppError> {
    let fault = |place: usize| marked.get(place.checked_sub(1)?).copied();
    let shows = match read.shows {
        None => Shows::Bench,
        Some(ArchivedShows::Step(step)) => Shows::Step(step),
        Some(ArchivedShows::Fault(place)) => fault(place).map_or(Shows::Bench, Shows::Fault),
    };
    let photo = NewPhoto {
        jpeg: read.photo.jpeg.clone(),
        width: read.width,
        height: read.height,
        sha256: read.photo.sha256.clone(),
        shows,
    };
    let id = transaction.add_photo(cast, &photo, now).await?;
    if let Some(Squared { squaring, picture }) = &read.squared {
        let jpeg = picture.jpeg.clone();
        transaction.square_photo(workshop, cast, id, squaring, jpeg).await?;
    }
    Ok(())
}

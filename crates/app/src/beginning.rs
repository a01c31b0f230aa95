//! How an installation begins: its records, and its first workshop, made with everything in it or
//! not at all.

use fondant_cast::agenda::Agenda;
use fondant_cast::facts::Fact;
use fondant_cast::{Document, Forecast};
use fondant_heat::climate::AirAt;
use fondant_materials::resin::shelf::{Colour, LessonRecord, Lot, OwnResin};
use fondant_shapes::form::owned::OwnedForm;
use fondant_shapes::picture::squaring::Squaring;
use fondant_store::repos::{Basis, CastId, NewLog, NewPhoto, WorkshopId, WorkshopSettings};
use fondant_store::{SetUpTurn, Transaction};
use jiff::Timestamp;

use crate::app::App;
use crate::error::AppError;
use crate::jobs;
use crate::request::Request;

/// A workshop and everything in it.
#[derive(Debug, Clone)]
pub struct NewWorkshop {
    /// Settings of the workshop.
    pub settings: WorkshopSettings,
    /// Resins of its own.
    pub resins: Vec<OwnResin>,
    /// What is in the bottles.
    pub lots: Vec<Lot>,
    /// Colours on the shelf.
    pub colours: Vec<Colour>,
    /// What logs have taught of its resins.
    pub lessons: Vec<LessonRecord>,
    /// Casts of the workshop.
    pub casts: Vec<NewCast>,
    /// Its forms, and which of the casts uses one.
    pub forms: Vec<(OwnedForm, Option<usize>)>,
    /// Readings of its air.
    pub air: Vec<AirAt>,
    /// What made it, where that is to be known again.
    pub made_by: Request,
}

/// A cast and what has happened to it.
#[derive(Debug, Clone)]
pub struct NewCast {
    /// Document of the cast.
    pub document: Document,
    /// When it was changed last.
    pub changed: Timestamp,
    /// What has happened, and when it was written down.
    pub facts: Vec<(Fact, Timestamp)>,
    /// What its plan asks of the shop, where one is taken. It is worked out again before anybody
    /// sees it.
    pub agenda: Option<Agenda>,
    /// What that plan promised.
    pub forecast: Option<Forecast>,
    /// A photo of it, squared up.
    pub photo: Option<SquaredPhoto>,
}

/// A photo that was squared up.
#[derive(Debug, Clone)]
pub struct SquaredPhoto {
    /// The photo.
    pub photo: NewPhoto,
    /// How it was squared up.
    pub squaring: Squaring,
    /// What came of it, as JPEG.
    pub squared: Vec<u8>,
}

/// No agenda is of this: it is worked out again before anybody sees it.
const NO_BASIS: Basis = Basis { cast: 0, workshop: 0, shelf: 0, air: None };

impl NewWorkshop {
    /// A workshop with nothing in it yet.
    #[must_use]
    pub fn empty(settings: WorkshopSettings) -> Self {
        Self {
            settings,
            resins: Vec::new(),
            lots: Vec::new(),
            colours: Vec::new(),
            lessons: Vec::new(),
            casts: Vec::new(),
            forms: Vec::new(),
            air: Vec::new(),
            made_by: Request::default(),
        }
    }
}

/// Brings the records up to date with this version of Fondant, one process after the other.
///
/// # Errors
/// [`AppError::Unavailable`].
pub async fn migrate(app: &App) -> Result<(), AppError> {
    // Two processes that start at once would make the same tables.
    let _turn = turn(app).await?;
    app.store.migrate().await?;
    jobs::set_up(&app.store).await
}

/// A turn to set an installation up, as long as it is held: of the processes that begin at once on one
/// database, the others wait.
///
/// # Errors
/// [`AppError::Unavailable`].
pub async fn turn(app: &App) -> Result<SetUpTurn, AppError> {
    Ok(app.store.turn_to_set_up().await?)
}

/// Whether there is a workshop already.
///
/// # Errors
/// [`AppError`].
pub async fn has_begun(app: &App) -> Result<bool, AppError> {
    Ok(app.store.read().workshop().await?.is_some())
}

/// Makes the workshop of this installation with everything in it. Where another process has made
/// one meanwhile, that one stays, and the answer is `None`.
///
/// # Errors
/// [`AppError`]; nothing is written then.
pub async fn begin(app: &App, new: &NewWorkshop) -> Result<Option<WorkshopId>, AppError> {
    let transaction = app.store.begin().await?;
    transaction.lock_workshops().await?;
    if transaction.workshop().await?.is_some() {
        return Ok(None);
    }
    let id = transaction.create_workshop(&new.settings).await?;
    new.made_by.answered(&transaction, id, app.now()).await?;
    new.made_by.keep_answer(&transaction, id, 0, app.now()).await?;
    fill_shelf(&transaction, id, new, app.now()).await?;
    if !new.air.is_empty() {
        let log = NewLog { heading: "", date_order: None, rows: new.air.len(), readings: &new.air };
        transaction.add_air(id, &log, app.now()).await?;
    }
    let mut casts = Vec::with_capacity(new.casts.len());
    for cast in &new.casts {
        casts.push(add_cast(&transaction, id, cast).await?);
    }
    for (form, booked_by) in &new.forms {
        let form = transaction.add_form(id, form).await?;
        if let Some(cast) = booked_by.and_then(|index| casts.get(index)) {
            transaction.book_form(id, form, *cast).await?;
        }
    }
    transaction.commit().await?;
    Ok(Some(id))
}

async fn fill_shelf(
    transaction: &Transaction,
    id: WorkshopId,
    new: &NewWorkshop,
    now: Timestamp,
) -> Result<(), AppError> {
    for own in &new.resins {
        transaction.put_on_shelf(id, &own.resin.id.0, 0, own, now).await?;
    }
    for (index, lot) in new.lots.iter().enumerate() {
        transaction.put_on_shelf(id, &format!("lot-{index}"), 0, lot, now).await?;
    }
    for (index, colour) in new.colours.iter().enumerate() {
        transaction.put_on_shelf(id, &format!("colour-{index}"), 0, colour, now).await?;
    }
    for (index, lesson) in new.lessons.iter().enumerate() {
        transaction.put_on_shelf(id, &format!("lesson-{index}"), 0, lesson, now).await?;
    }
    Ok(())
}

async fn add_cast(
    transaction: &Transaction,
    workshop: WorkshopId,
    cast: &NewCast,
) -> Result<CastId, AppError> {
    let id = transaction.create_cast(workshop, &cast.document, cast.changed).await?;
    for (fact, written_down) in &cast.facts {
        transaction.add_fact(id, fact, *written_down).await?;
    }
    if let Some(agenda) = &cast.agenda {
        transaction.keep_agenda(workshop, id, Some((agenda, NO_BASIS))).await?;
    }
    if let Some(forecast) = &cast.forecast {
        transaction.keep_forecast(id, 1, forecast, cast.changed).await?;
    }
    if let Some(SquaredPhoto { photo, squaring, squared }) = &cast.photo {
        let photo = transaction.add_photo(id, photo, cast.changed).await?;
        transaction.square_photo(workshop, id, photo, squaring, squared.clone()).await?;
    }
    Ok(id)
}

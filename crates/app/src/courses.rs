//! What a cast went through in time, with what the shop's instruments read meanwhile.

use std::sync::Arc;

use fondant_bench::Run;
use fondant_bench::reading::{Place, Quantity};
use fondant_cast::Forecast;
use fondant_quantities::Span;
use fondant_record::at_once::as_poured;
use fondant_record::course::{Course, Happened};
use fondant_store::repos::CastId;
use jiff::{SignedDuration, Timestamp};

use crate::app::App;
use crate::bench::folded;
use crate::casts::open::{Open, open};
use crate::error::AppError;
use crate::evaluating::Worked;

/// Points of a curve of readings: one for every few pixels of a drawing.
const SLOTS: u32 = 160;
/// Points of a bucket's curve.
const BUCKET_SLOTS: u32 = 40;
/// Longest time after the first pour for which readings are read.
const LONGEST: SignedDuration = SignedDuration::from_hours(60 * 24);

/// What instruments read at a place.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadCurve {
    /// Place of the instrument.
    pub place: Place,
    /// Quantity that it reads.
    pub quantity: Quantity,
    /// When, from the first pour on, and how much, in the unit that is kept.
    pub points: Vec<(Span, f64)>,
}

/// What a cast went through.
#[derive(Debug, Clone, PartialEq)]
pub struct Lived {
    /// Promised and happened.
    pub course: Course,
    /// What instruments read meanwhile.
    pub read: Vec<ReadCurve>,
}

/// What a cast went through; `None` where nothing was poured.
///
/// # Errors
/// [`AppError`].
pub async fn lived(
    app: &App,
    open: &Open,
    worked: &Worked,
    forecast: Option<&Forecast>,
) -> Result<Option<Lived>, AppError> {
    let kept = app.store.read().runs(open.shop.id, open.record.id).await?;
    let facts = open.facts(app).await?;
    let (evaluation, forecast) = (Arc::clone(&worked.evaluation), forecast.cloned());
    let found = app.compute(move |stop| {
        let runs: Vec<Run> = kept.iter().map(folded).collect();
        let poured = as_poured(&evaluation, &runs, stop);
        let from = Happened {
            evaluation: poured.as_ref().unwrap_or(&evaluation),
            forecast: forecast.as_ref(),
            facts: &facts,
            runs: &runs,
        };
        let buckets: Vec<[Timestamp; 2]> = runs.iter().filter_map(buckets).collect();
        Course::of(&from).map(|course| (course, buckets))
    });
    let Some((course, buckets)) = found.await? else { return Ok(None) };
    let read = read(app, open, &course, &buckets).await?;
    Ok(Some(Lived { course, read }))
}

/// What a cast of which nothing is read yet went through; `None` also where its document contradicts
/// itself today.
///
/// # Errors
/// [`AppError`].
pub async fn of_cast(app: &App, cast: CastId) -> Result<Option<Lived>, AppError> {
    let open = open(app, cast).await?;
    let planned = match open.worked(app).await {
        Ok(planned) => planned,
        Err(AppError::Conflicts(_)) => return Ok(None),
        Err(other) => return Err(other),
    };
    let worked = app.happened(&planned, &open.facts(app).await?).await?;
    let forecast = app.store.read().forecast(open.shop.id, cast).await?;
    lived(app, &open, &worked, forecast.as_ref()).await
}

/// From when A first met B in a run until the last bucket was empty.
fn buckets(run: &Run) -> Option<[Timestamp; 2]> {
    let met = run.batches.iter().filter_map(|batch| Some(batch.met?.0)).min()?;
    let empty = run.batches.iter().filter_map(|batch| Some(batch.poured.as_ref()?.0)).max()?;
    (met < empty).then_some([met, empty])
}

async fn read(
    app: &App,
    open: &Open,
    course: &Course,
    buckets: &[[Timestamp; 2]],
) -> Result<Vec<ReadCurve>, AppError> {
    let session = app.store.read();
    let end = course.begun + course.ends().signed().min(LONGEST);
    let mut curves: Vec<ReadCurve> = Vec::new();
    let mut keep = |quantity, thinned: fondant_store::repos::Thinned| {
        let point = (Span::between(course.begun, thinned.at), thinned.mean);
        let same =
            |curve: &&mut ReadCurve| (curve.place, curve.quantity) == (thinned.place, quantity);
        match curves.iter_mut().find(same) {
            Some(curve) => curve.points.push(point),
            None => curves.push(ReadCurve { place: thinned.place, quantity, points: vec![point] }),
        }
    };
    for quantity in [Quantity::Temperature, Quantity::Pressure] {
        let all = session.thinned(open.shop.id, quantity, [course.begun, end], SLOTS).await?;
        // A bucket is read at the bench alone; what its probe reads later is no bucket.
        all.into_iter()
            .filter(|one| one.place != Place::Bucket)
            .for_each(|one| keep(quantity, one));
    }
    for span in buckets {
        let all = session.thinned(open.shop.id, Quantity::Temperature, *span, BUCKET_SLOTS).await?;
        all.into_iter()
            .filter(|one| one.place == Place::Bucket)
            .for_each(|one| keep(Quantity::Temperature, one));
    }
    Ok(curves)
}

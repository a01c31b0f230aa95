//! What a cast went through in time, with what the shop's instruments read meanwhile.

use std::sync::Arc;

use fondant_bench::Run;
use fondant_cast::Forecast;
use fondant_cast::facts::{Fact, FactRow, standing};
use fondant_record::at_once::as_poured;
use fondant_record::course::{Course, Happened, begun};
use fondant_record::readings::{CourseReadings, LONGEST, ReadCurve};
use fondant_store::Transaction;
use fondant_store::repos::{CastId, ReadIn, WorkshopId};
use jiff::Timestamp;

use crate::app::App;
use crate::bench::folded;
use crate::casts::open::{Open, open};
use crate::error::AppError;
use crate::evaluating::Worked;

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
    let ends = course.begun + course.ends().signed().min(LONGEST);
    let asked = ReadIn { course: [course.begun, ends], buckets: &buckets };
    let cast = (open.shop.id, open.record.id);
    let read = app.store.read().course_readings(cast, &asked).await?;
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

/// What instruments read while a cast came about, to go with it to another shop: from its first pour on,
/// for as long as it was to take and a quarter more, or as anything is told of it. `None` where nothing was
/// read.
///
/// # Errors
/// [`AppError`].
pub(crate) async fn readings(
    moment: &Transaction,
    cast: (WorkshopId, CastId),
    (facts, runs, forecast): (&[FactRow], &[Run], Option<&Forecast>),
) -> Result<Option<CourseReadings>, AppError> {
    let Some(begun) = begun(facts, runs) else { return Ok(None) };
    let promised = forecast.and_then(|forecast| {
        Some(begun + forecast.hard.duration_since(forecast.pours.first()?.at))
    });
    let told = standing(facts).into_iter().filter_map(|row| match row.fact {
        Fact::Poured { at, .. } | Fact::Touched { at, .. } => Some(at),
        _ => None,
    });
    let by_run = runs.iter().filter_map(Run::hard_at);
    let hard = told.chain(by_run).chain(promised).fold(begun, Timestamp::max);
    let takes = hard.duration_since(begun);
    let ends = begun + (takes + takes / 4).min(LONGEST);
    let buckets: Vec<[Timestamp; 2]> = runs.iter().filter_map(buckets).collect();
    let asked = ReadIn { course: [begun, ends], buckets: &buckets };
    let curves = moment.course_readings(cast, &asked).await?;
    Ok((!curves.is_empty()).then_some(CourseReadings { begun, curves }))
}

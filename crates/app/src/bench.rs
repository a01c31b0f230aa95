//! Runs at the bench: begun, written down row by row, read.
//!
//! A row comes with a key that its device made, and with the time at which it happened: a phone that
//! was away sends what it kept, and each row is written once. What cannot have happened as things
//! stand is refused, so that two people at one bench take no part twice.

use fondant_bench::bucket::clock;
use fondant_bench::run::Batch;
use fondant_bench::swirl::{Edges, thickness_pa_s};
use fondant_bench::{Happening, Prepared, Run, RunPlan, prepare};
use fondant_cast::PourId;
use fondant_cast::agenda::AtBench;
use fondant_cast::facts::{Fact, FactRow, resins, standing};
use fondant_materials::resin::shelf::Colour;
use fondant_quantities::Span;
use fondant_store::repos::{CastId, KeptRun, NewRow, RowsOf, RunId, WorkshopId};
use jiff::{SignedDuration, Timestamp};

use crate::agendas::CastAgenda;
use crate::app::App;
use crate::casts::open::{Open, open};
use crate::casts::write::{Act, Draft, write};
use crate::error::AppError;
use crate::events::{Event, tell};
use crate::request::Request;
use crate::run_rows::append;
use crate::shelf;
use crate::shop::Shop;

/// The clock of a device may be fast by this.
const FAST_CLOCK: SignedDuration = SignedDuration::from_mins(2);
/// Tries while others change the cast.
const TRIES: usize = 6;

/// The runs of a cast, the newest first.
///
/// # Errors
/// [`AppError`].
pub async fn runs(app: &App, open: &Open) -> Result<Vec<KeptRun>, AppError> {
    Ok(app.store.read().runs(open.shop.id, open.record.id).await?)
}

/// The runs of a workshop that are in hand.
///
/// # Errors
/// [`AppError`].
pub async fn in_hand(app: &App, workshop: WorkshopId) -> Result<Vec<KeptRun>, AppError> {
    Ok(app.store.read().runs_in_hand(workshop).await?)
}

/// Begins a run of a pour of the taken plan, or of the whole cast where that needs no schedule. One
/// that is in hand already is gone on with.
///
/// # Errors
/// [`AppError::NotPrepared`] where there is nothing to run; [`AppError::Stale`] where the cast has
/// changed meanwhile, again and again.
pub async fn begin(app: &App, cast: CastId, pour: Option<PourId>) -> Result<RunId, AppError> {
    for _ in 0..TRIES {
        let open = open(app, cast).await?;
        // What is in hand is gone on with, also where the plan has changed since.
        if let Some(run) = of_pour(app, &open, pour).await? {
            return Ok(run);
        }
        let plan = planned(app, &open, pour).await?;
        let transaction = app.store.begin().await?;
        let locked = transaction.lock_cast_at(open.shop.id, cast, open.record.revision).await;
        match locked.map_err(AppError::from) {
            Err(AppError::Stale { .. }) => continue,
            other => other?,
        }
        if let Some(run) = transaction.begin_run(cast, &plan, app.now()).await? {
            let workshop = open.shop.id;
            tell(&transaction, &Event::RunChanged { workshop, cast, run }).await?;
            transaction.commit().await?;
            return Ok(run);
        }
    }
    Err(AppError::Busy)
}

/// The run of a pour that is in hand.
async fn of_pour(app: &App, open: &Open, pour: Option<PourId>) -> Result<Option<RunId>, AppError> {
    let kept = runs(app, open).await?;
    let same = kept.iter().find(|run| run.plan.pour == pour && run.ended_at.is_none());
    Ok(same.map(|run| run.id))
}

async fn planned(app: &App, open: &Open, pour: Option<PourId>) -> Result<RunPlan, AppError> {
    let planned = open.worked(app).await?;
    let facts = open.facts(app).await?;
    let worked = app.happened(&planned, &facts).await?;
    let document = open.shop.site().in_mean_air(&open.record.document);
    let shop = open.shop.workshop.settings.shop.clone();
    let colours = shelf::items::<Colour>(app, &open.shop).await?.items;
    let colours: Vec<Colour> = colours.into_iter().map(|kept| kept.item).collect();
    let prepared = app.compute(move |_| {
        prepare(
            &Prepared {
                document: &document,
                evaluation: &worked.evaluation,
                shop: &shop,
                colours: &colours,
            },
            pour,
        )
    });
    Ok(prepared.await??)
}

/// Writes down what happened in a run. The same row sent again is written once. That a bucket went
/// in, or that a layer was touched, is a fact of its pour from then on, and the plan follows it.
///
/// # Errors
/// [`AppError::AtBench`] for what cannot happen as things stand; nothing is written then.
pub async fn write_down(
    app: &App,
    (cast, run): (CastId, RunId),
    row: NewRow,
) -> Result<(), AppError> {
    // Kept to the microsecond everywhere, so that a fact and its row say the same moment.
    let at = row.at.min(app.now() + FAST_CLOCK);
    let row = NewRow { at: Timestamp::from_microsecond(at.as_microsecond()).unwrap_or(at), ..row };
    if !is_of_pour(&row.what) {
        return write_row(app, (cast, run), &row).await;
    }
    let request = Request::keyed(Some(&row.key));
    for _ in 0..TRIES {
        let revision = open(app, cast).await?.record.revision;
        let act = WrittenDown { run, row: row.clone() };
        match write(app, cast, revision, &request, act).await {
            Err(AppError::Stale { .. }) => {}
            other => return other.map(|_| ()),
        }
    }
    Err(AppError::Busy)
}

/// Whether something that happens may be a fact of the pour.
const fn is_of_pour(what: &Happening) -> bool {
    matches!(
        what,
        Happening::PourBegun { .. } | Happening::Touched { .. } | Happening::Withdrawn { .. }
    )
}

async fn write_row(app: &App, ids: (CastId, RunId), row: &NewRow) -> Result<(), AppError> {
    let shop = app.shop().await?;
    let transaction = app.store.begin().await?;
    append(&transaction, shop.id, ids, row, app.now()).await?;
    Ok(transaction.commit().await?)
}

/// Something at the bench that may be a fact of its pour.
struct WrittenDown {
    run: RunId,
    row: NewRow,
}

impl Act for WrittenDown {
    async fn draft(&self, app: &App, open: &Open, rows: &[FactRow]) -> Result<Draft, AppError> {
        let kept = runs(app, open).await?;
        let kept = kept.into_iter().find(|kept| kept.id == self.run);
        let kept = kept.ok_or(AppError::NotFound("run"))?;
        let fact = self.fact(open, &kept, rows);
        let mut document = open.record.document.clone();
        if let Some(Fact::Poured { pour, .. }) = fact {
            resins::keep_weighed(&mut document, pour, &kept.plan.resin.id);
        }
        let at_bench = Some((self.run, self.row.clone()));
        Ok(Draft { fact, at_bench, ..Draft::document(document) })
    }
}

impl WrittenDown {
    /// What it means for the pour; `None` where the run belongs to none, or the plan has that pour
    /// no more.
    fn fact(&self, open: &Open, kept: &KeptRun, rows: &[FactRow]) -> Option<Fact> {
        let pour = kept.plan.pour?;
        let is_planned = open.record.document.pours.taken.iter().any(|taken| taken.id == pour);
        is_planned.then_some(())?;
        let run = Run::of(kept.plan.clone(), &kept.rows);
        let at = self.row.at;
        match &self.row.what {
            Happening::PourBegun { batch } if run.first_poured().is_none() => {
                let read = run.batch(*batch).and_then(|batch| batch.readings.last());
                Some(Fact::Poured { pour, at, resin_at: read.map(|(_, read)| *read) })
            }
            Happening::Touched { found, cup } => {
                Some(Fact::Touched { pour, at, found: *found, cup: *cup })
            }
            Happening::Withdrawn { row, .. } => withdrawn(kept, *row, rows),
            _ => None,
        }
    }
}

/// The withdrawal of the fact that a row of a run was.
fn withdrawn(kept: &KeptRun, number: i64, rows: &[FactRow]) -> Option<Fact> {
    let row = kept.rows.iter().find(|row| row.number == number)?;
    let pour = kept.plan.pour?;
    let is_it = |fact: &Fact| match (fact, &row.what) {
        (Fact::Poured { pour: of, at, .. }, Happening::PourBegun { .. }) => {
            *of == pour && *at == row.at
        }
        (Fact::Touched { pour: of, at, found, .. }, Happening::Touched { found: felt, .. }) => {
            *of == pour && *at == row.at && found == felt
        }
        _ => false,
    };
    let fact = standing(rows).into_iter().find(|row| is_it(&row.fact))?;
    Some(Fact::Withdrawn { row: fact.number })
}

/// Swirls of a shop that are looked back at.
const SWIRLS: u64 = 40;

/// The shop's swirls whose edges were rated: how they came out, and how thick the resin was when the
/// cups were joined, Pa·s.
///
/// # Errors
/// [`AppError`].
pub async fn swirls(app: &App, workshop: WorkshopId) -> Result<Vec<(Edges, f64)>, AppError> {
    let kept = app.store.read().runs_with(workshop, RowsOf::Rating, SWIRLS).await?;
    let found =
        app.compute(move |_| kept.iter().map(folded).filter_map(|run| swirl(&run)).collect());
    found.await
}

/// How a swirl came out, and its mean thickness at the join on a scale of ratios.
fn swirl(run: &Run) -> Option<(Edges, f64)> {
    let thickness = |batch: &Batch| {
        let (met, mixed) = batch.bucket(&run.plan)?;
        let resin = &run.plan.resin;
        let rate = clock(resin, mixed, &batch.read()).ok()?.rate;
        let after = Span::between(met, batch.pouring?);
        thickness_pa_s(resin, mixed, rate, after).ok().filter(|thick| thick.is_finite())
    };
    let all: Vec<f64> = run.batches.iter().filter_map(thickness).map(f64::ln).collect();
    let mean = all.iter().sum::<f64>() / all.len() as f64;
    (!all.is_empty()).then_some((run.rated?, mean.exp()))
}

/// The runs in hand that keep hands busy now, with their casts: places of casts and pours are those in
/// `casts`.
///
/// # Errors
/// [`AppError`].
pub async fn at_bench(
    app: &App,
    shop: &Shop,
    casts: &[CastAgenda],
) -> Result<Vec<(CastId, AtBench)>, AppError> {
    let (kept, now) = (in_hand(app, shop.id).await?, app.now());
    let settings = &shop.workshop.settings.shop;
    let busy = |kept: &KeptRun| {
        let last = kept.rows.last().map_or(kept.begun_at, |row| row.at);
        let until = folded(kept).hands_until(settings, last, now)?;
        let pour = kept.plan.pour.and_then(|pour| {
            let cast = casts.iter().position(|cast| cast.cast == kept.cast)?;
            let place = casts[cast].agenda.pours.iter().position(|one| one.id == pour)?;
            Some((cast, place))
        });
        Some((kept.cast, AtBench { until, pour }))
    };
    Ok(kept.iter().filter_map(busy).collect())
}

/// A run folded from its rows.
#[must_use]
pub fn folded(kept: &KeptRun) -> Run {
    Run::of(kept.plan.clone(), &kept.rows)
}

//! The buckets in which A has met B, as the model sees them now.

use fondant_app::records::KeptRun;
use fondant_app::{App, AppError, bench};
use fondant_bench::bucket::{BucketClock, Runaway, clock, runaway};
use fondant_bench::run::Batch;
use fondant_bench::swirl::{Join, join};
use fondant_cast::planning::peak_of;
use fondant_quantities::{Span, Temperature};
use jiff::Timestamp;

use crate::pages::stations::asked::Visit;

/// An open bucket as the model sees it now.
#[derive(Debug, Clone)]
pub(crate) struct Modelled {
    /// The batch, from 1.
    pub(crate) batch: u32,
    /// When A met B.
    pub(crate) met: Timestamp,
    pub(crate) clock: BucketClock,
    /// Its temperature now.
    pub(crate) now: Temperature,
    pub(crate) rise_k_min: f64,
    pub(crate) runaway: Option<Runaway>,
    /// What waiting makes its layer hotter by, K in [`WAIT`]; `None` where that is not known.
    pub(crate) waits_k: Option<f64>,
    /// Its way to the join, where it is a cup of a swirl that is not in yet.
    pub(crate) join: Option<Join>,
}

impl Modelled {
    /// When it can no longer be poured; `None` for two weeks or more.
    pub(crate) fn ends(&self) -> Option<Timestamp> {
        Some(self.met + self.clock.life?.signed())
    }
}

impl Modelled {
    /// When a cup is warm enough to be joined; `None` where it never is, or is not to be.
    pub(crate) fn joins(&self) -> Option<Timestamp> {
        Some(self.met + self.join?.reaches?.signed())
    }

    /// When it gels; `None` for days to come.
    pub(crate) fn gels(&self) -> Option<Timestamp> {
        Some(self.met + self.join?.gels?.signed())
    }
}

/// Wait in the bucket for which the rise of its layer's peak is told.
pub(super) const WAIT: Span = Span::from_s(600.0);

/// What each bucket that is not poured yet loses by waiting: its layer gets hotter of resin that has
/// warmed itself.
pub(super) async fn with_waits(
    app: &App,
    visit: &Visit,
    kept: &KeptRun,
    modelled: Vec<Modelled>,
) -> Result<Vec<Modelled>, AppError> {
    let run = bench::folded(kept);
    let (document, worked) = (visit.document.clone(), visit.worked.clone());
    let now = visit.now;
    let work = app.compute(move |stop| {
        let waits_k = |one: &Modelled| {
            let batch = run.batch(one.batch).filter(|batch| batch.pouring.is_none())?;
            let (met, mixed) = batch.bucket(&run.plan)?;
            let (resin, depth) = (&run.plan.resin, run.plan.to - run.plan.from);
            let faster = resin.scaled(one.clock.rate, 1.0);
            let cast = (&document, &*worked.evaluation);
            let peak = |after: Span| {
                let poured = one.clock.poured_after(resin, mixed, after).ok()?;
                peak_of(cast, &faster, depth, poured, stop).ok()
            };
            let stood = Span::between(met, now);
            Some((peak(stood + WAIT)? - peak(stood)?).k())
        };
        let with = |one: Modelled| Modelled { waits_k: waits_k(&one), ..one };
        modelled.into_iter().map(with).collect()
    });
    work.await
}

/// The open buckets of a run. A bucket that the model cannot follow has no clock.
pub(crate) async fn modelled(
    app: &App,
    kept: &KeptRun,
    now: Timestamp,
) -> Result<Vec<Modelled>, AppError> {
    let run = bench::folded(kept);
    let is_open = |batch: &Batch| !batch.is_over() && batch.met.is_some();
    if !run.batches.iter().any(is_open) {
        return Ok(Vec::new());
    }
    let worked = app.compute(move |_| {
        let of = |batch: &Batch| {
            let (met, mixed) = batch.bucket(&run.plan)?;
            let (resin, readings) = (&run.plan.resin, batch.read());
            let clock = clock(resin, mixed, &readings).ok()?;
            let (at, rise_k_min) = clock.after(resin, mixed, Span::between(met, now)).ok()?;
            let runaway = runaway((at, rise_k_min), &readings);
            let waits = run.plan.join.filter(|_| batch.pouring.is_none());
            let join = waits.and_then(|warm| join(resin, mixed, clock.rate, warm).ok());
            let number = batch.number;
            Some(Modelled {
                batch: number,
                met,
                clock,
                now: at,
                rise_k_min,
                runaway,
                waits_k: None,
                join,
            })
        };
        run.batches.iter().filter(|batch| is_open(batch)).filter_map(of).collect()
    });
    worked.await
}

//! The buckets in which A has met B, as the model sees them now.

use fondant_app::records::KeptRun;
use fondant_app::{App, AppError, bench};
use fondant_bench::bucket::{BucketClock, Runaway, clock, runaway};
use fondant_bench::run::Batch;
use fondant_quantities::{Span, Temperature};
use jiff::Timestamp;

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
}

impl Modelled {
    /// When it can no longer be poured; `None` for two weeks or more.
    pub(crate) fn ends(&self) -> Option<Timestamp> {
        Some(self.met + self.clock.life?.signed())
    }
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
            Some(Modelled { batch: batch.number, met, clock, now: at, rise_k_min, runaway })
        };
        run.batches.iter().filter(|batch| is_open(batch)).filter_map(of).collect()
    });
    worked.await
}

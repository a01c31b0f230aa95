//! The model's inputs from the conditions of a pour: the surroundings of the resin, and the state in
//! which it leaves the bucket.

use fondant_heat::bucket::BUCKET_FILM_W_M2K;
use fondant_heat::{Air, Bucket, HeatError, Lumped, Poured, Surroundings};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Span};

use crate::document::Conditions;
use crate::measure::Measured;

/// Surroundings of a column of resin.
pub(crate) fn surroundings(conditions: &Conditions) -> Surroundings {
    conditions.cooling.surroundings(Air::Steady(conditions.air.k()))
}

/// Most that is mixed at a time of the cast's own resin: a bucket, or all that the cast takes.
pub(crate) fn largest_batch(
    conditions: &Conditions,
    measured: &Measured,
    resin: &Calibrated,
) -> Mass {
    conditions.bucket.min(measured.sizing.total * resin.density)
}

/// The resin of a batch as it leaves the bucket in which it has waited.
pub(crate) fn poured(
    conditions: &Conditions,
    batch: Mass,
    resin: &Calibrated,
    stop: &Stop,
) -> Result<Poured, HeatError> {
    let mixed_k = conditions.resin.k();
    if conditions.waits <= Span::ZERO || batch <= Mass::ZERO {
        return Ok(Poured::fresh(mixed_k));
    }
    let bucket = Bucket::as_high_as_wide(resin, batch, conditions.air, BUCKET_FILM_W_M2K);
    let mut waiting = Lumped::new(resin, bucket, mixed_k, 0.0).until(stop);
    waiting.run(conditions.waits.s(), |_| {})?;
    let aged = waiting.now();
    Ok(Poured { t_k: aged.temperature_k, conversion: aged.conversion })
}

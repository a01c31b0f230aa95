//! A witness cup: a little of a pour set aside, which is touched in its place. It is smaller than the
//! layer, so that it turns sticky at a time of its own.

use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Temperature};

use crate::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped, LumpedMoment};
use crate::conventions::CLOSE_MARGIN_K;
use crate::cure::CureRate;
use crate::{HeatError, Poured};

/// Longest time that a cup is simulated, s.
const HORIZON_S: f64 = 14.0 * 86_400.0;

/// When the resin of a cup of a mass has gelled and when it has set, s after it was filled; `None`
/// where that takes two weeks or more. The cup is one lump as high as it is wide, in still air.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn window_s(
    resin: &Calibrated,
    mass: Mass,
    air: Temperature,
    poured: Poured,
    stop: &Stop,
) -> Result<Option<(f64, f64)>, HeatError> {
    let cure = CureRate::new(&resin.cure);
    let bucket = Bucket::as_high_as_wide(resin, mass, air, BUCKET_FILM_W_M2K);
    let mut cup = Lumped::new(resin, bucket, poured.t_k, poured.conversion).until(stop);
    let has_gelled = |moment: LumpedMoment| moment.conversion >= cure.gel_conversion();
    let has_set = |moment: LumpedMoment| {
        let sets_k = moment.temperature_k - CLOSE_MARGIN_K;
        has_gelled(moment) && cure.glass_k(moment.conversion) >= sets_k
    };
    let Some(opens) = cup.run_until(HORIZON_S, has_gelled)? else { return Ok(None) };
    let closes = cup.run_until(HORIZON_S, has_set)?;
    Ok(closes.map(|closes| (opens, closes)))
}

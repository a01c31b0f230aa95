//! A resin that cures faster or slower than the model says.

use fondant_materials::resin::Resin;

/// The resin curing faster or slower.
pub(super) fn at_rate(resin: &Resin, factor: f64) -> Resin {
    let mut resin = resin.clone();
    resin.cure.a1_per_s *= factor;
    resin.cure.a2_per_s *= factor;
    resin
}

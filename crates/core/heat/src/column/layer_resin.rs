//! A resin as the cells of a layer need it.

use fondant_materials::resin::Calibrated;
use fondant_quantities::Temperature;

use crate::conventions::FULL_HEADROOM_K;
use crate::cure::CureRate;

/// Glass-transition temperature of a resin that has cured through in air of a mean temperature: without
/// heat it stops short of the one that its datasheet gives.
#[must_use]
pub fn glass_when_cured(resin: &Calibrated, air_mean: Temperature) -> Temperature {
    let by_air = air_mean.k() + resin.working.full_margin.k();
    Temperature::from_k(by_air.min(resin.cure.tg_cured_k - FULL_HEADROOM_K))
}

/// What the cells of a layer need of their resin.
#[derive(Debug, Clone, Copy)]
pub(super) struct LayerResin {
    pub(super) cure: CureRate,
    /// H / cp, K.
    pub(super) rise_k: f64,
    /// ρ cp, J/(m³·K).
    pub(super) capacity_j_m3k: f64,
    pub(super) conductivity_w_mk: f64,
    /// Glass-transition temperature over its own temperature at which it can be demoulded, K.
    pub(super) hard_k: f64,
    /// Glass-transition temperature at which it is fully cured, K.
    pub(super) full_tg_k: f64,
}

impl LayerResin {
    /// Of a resin in air of a mean temperature, K.
    pub(super) fn new(resin: &Calibrated, air_mean_k: f64) -> Self {
        Self {
            cure: CureRate::new(&resin.cure),
            rise_k: resin.adiabatic_rise().k(),
            capacity_j_m3k: resin.density.kg_m3() * resin.heat_capacity_j_kg_k,
            conductivity_w_mk: resin.conductivity_w_m_k,
            hard_k: resin.working.demould_margin.k(),
            full_tg_k: glass_when_cured(resin, Temperature::from_k(air_mean_k)).k(),
        }
    }
}

//! A resin as the elements of a layer need it.

use fondant_materials::resin::Calibrated;

use crate::conventions::FULL_HEADROOM_K;
use crate::cure::CureRate;

/// What the elements of a layer need of their resin.
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
        let full_tg_k = (air_mean_k + resin.working.full_margin.k())
            .min(resin.cure.tg_cured_k - FULL_HEADROOM_K);
        Self {
            cure: CureRate::new(&resin.cure),
            rise_k: resin.adiabatic_rise().k(),
            capacity_j_m3k: resin.density.kg_m3() * resin.heat_capacity_j_kg_k,
            conductivity_w_mk: resin.conductivity_w_m_k,
            hard_k: resin.working.demould_margin.k(),
            full_tg_k,
        }
    }
}

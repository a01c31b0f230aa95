//! Solids that heat goes through: timber, metal, stone, and resin as such.

use serde::{Deserialize, Serialize};

use crate::resin::Calibrated;

/// A material that heat goes through. Values are for room temperature.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Material {
    /// Thermal conductivity, W/(m·K).
    pub conductivity_w_m_k: f64,
    /// Density times heat capacity, J/(m³·K).
    pub capacity_j_m3_k: f64,
}

impl Material {
    /// Brass: 115 W/(m·K), 8500 kg/m³, 380 J/(kg·K).
    pub const BRASS: Self = Self { conductivity_w_m_k: 115.0, capacity_j_m3_k: 8500.0 * 380.0 };
    /// Steel: 50 W/(m·K), 7850 kg/m³, 470 J/(kg·K).
    pub const STEEL: Self = Self { conductivity_w_m_k: 50.0, capacity_j_m3_k: 7850.0 * 470.0 };
    /// Stone, as granite: 2.8 W/(m·K), 2650 kg/m³, 790 J/(kg·K).
    pub const STONE: Self = Self { conductivity_w_m_k: 2.8, capacity_j_m3_k: 2650.0 * 790.0 };

    /// Silicone of moulds: 0.22 W/(m·K), 1120 kg/m³, 1375 J/(kg·K). Expect 0.20–0.25,
    /// 1100–1150 and 1300–1450.
    pub const SILICONE: Self = Self { conductivity_w_m_k: 0.22, capacity_j_m3_k: 1120.0 * 1375.0 };

    /// A brass tube with air in it, spread over its whole cross-section. Its wall conducts across
    /// as `k (1 − h²) / (1 + h²)` of a cylinder with a hole of this share of its diameter (J. C.
    /// Maxwell's hollow inclusion, in two dimensions).
    #[must_use]
    pub fn brass_tube(outside_m: f64) -> Self {
        /// Wall of a pen's tube, m; expect 0.3–0.5.
        const WALL_M: f64 = 0.4e-3;
        let hole_ratio = (1.0 - 2.0 * WALL_M / outside_m).max(0.0);
        let metal_ratio = 1.0 - hole_ratio * hole_ratio;
        Self {
            conductivity_w_m_k: Self::BRASS.conductivity_w_m_k * metal_ratio / (2.0 - metal_ratio),
            capacity_j_m3_k: Self::BRASS.capacity_j_m3_k * metal_ratio,
        }
    }

    /// Timber across the grain by its density as weighed and its moisture:
    /// `k = G (0.1941 + 0.004064 M) + 0.01864` with G the oven-dry density in
    /// g/cm³ and M the moisture in percent (*Wood Handbook*, Forest Products
    /// Laboratory, 2010, eq. 4-15); heat capacity 1240 J/(kg·K) dry and 1560 at
    /// 10 %, by a straight line.
    #[must_use]
    pub fn timber(density_kg_m3: f64, moisture_percent: f64) -> Self {
        let dry = density_kg_m3 / (1.0 + moisture_percent * 1e-2);
        let conductivity = dry * 1e-3 * (0.1941 + 0.004_064 * moisture_percent) + 0.018_64;
        let heat_capacity = 1240.0 + 32.0 * moisture_percent;
        Self { conductivity_w_m_k: conductivity, capacity_j_m3_k: density_kg_m3 * heat_capacity }
    }

    /// Cured or curing resin.
    #[must_use]
    pub fn resin(resin: &Calibrated) -> Self {
        Self {
            conductivity_w_m_k: resin.conductivity_w_m_k,
            capacity_j_m3_k: resin.density.kg_m3() * resin.heat_capacity_j_kg_k,
        }
    }
}

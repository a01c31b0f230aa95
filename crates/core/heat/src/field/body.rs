//! What a section or block is made of, and what stands around it.

use crate::air::Air;
use crate::surroundings::{FORM_BOARD_M2K_W, STILL_AIR_TOP_W_M2K};
use fondant_materials::resin::Resin;

use super::mesh::Mesh;

/// A material that heat goes through. Values are for room temperature.
#[derive(Debug, Clone, Copy, PartialEq)]
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
    pub fn resin(resin: &Resin) -> Self {
        Self {
            conductivity_w_m_k: resin.conductivity_w_m_k,
            capacity_j_m3_k: resin.density.kg_m3() * resin.heat_capacity_j_kg_k,
        }
    }
}

/// What a cell holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Content {
    /// Resin, once it has been poured to there; nothing before.
    Resin,
    /// Timber, metal, stone.
    Solid(Material),
    /// Air, always.
    Nothing,
}

/// What lies beyond a face of the box.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Face {
    /// Thermal resistance from the face to what lies beyond, m²K/W; infinite
    /// for a face that no heat passes, as at a line of symmetry.
    pub resistance_m2k_w: f64,
    /// Temperature beyond, K, where it is not the air's.
    pub beyond_k: Option<f64>,
}

impl Face {
    /// Passes no heat: a line of symmetry, the far edge of a board.
    pub const CLOSED: Self = Self { resistance_m2k_w: f64::INFINITY, beyond_k: None };

    /// A wall of a thickness and conductivity with a film beyond it.
    #[must_use]
    pub fn wall(thickness_m: f64, conductivity_w_m_k: f64, film_w_m2k: f64) -> Self {
        Self {
            resistance_m2k_w: thickness_m / conductivity_w_m_k + 1.0 / film_w_m2k,
            beyond_k: None,
        }
    }
}

/// Everything around the box.
#[derive(Debug, Clone, PartialEq)]
pub struct Around {
    /// The air.
    pub air: Air,
    /// Faces at the low and the high end across.
    pub x: [Face; 2],
    /// Faces at the low and the high end along.
    pub y: [Face; 2],
    /// Below.
    pub base: Face,
    /// Film of the free surface, of resin and of whatever else reaches the
    /// top, W/(m²K); 0 passes no heat.
    pub top_film_w_m2k: f64,
    /// Film of bare solid beside resin not yet poured, W/(m²K). It hardly
    /// matters: 10 against 0 moves a river's peak by a thousandth of a kelvin.
    pub bare_film_w_m2k: f64,
    /// From this time after the first pour, s, this is around it instead.
    pub then: Option<Box<(f64, Around)>>,
}

impl Around {
    /// Closed all round but for a free top in still air and a form board below.
    #[must_use]
    pub fn on_a_board(air: Air) -> Self {
        Self {
            air,
            x: [Face::CLOSED; 2],
            y: [Face::CLOSED; 2],
            base: Face { resistance_m2k_w: FORM_BOARD_M2K_W, beyond_k: None },
            top_film_w_m2k: STILL_AIR_TOP_W_M2K,
            bare_film_w_m2k: 0.0,
            then: None,
        }
    }
}

/// A mesh and what each of its cells holds.
#[derive(Debug, Clone, PartialEq)]
pub struct Body {
    pub(super) mesh: Mesh,
    pub(super) contents: Vec<Content>,
}

impl Body {
    /// Fills the cells by what is at their middles (x, y, z in m).
    #[must_use]
    pub fn new(mesh: Mesh, content: impl Fn([f64; 3]) -> Content) -> Self {
        let contents = (0..mesh.cells()).map(|cell| content(mesh.middle_m(cell))).collect();
        Self { mesh, contents }
    }

    /// The mesh.
    #[must_use]
    pub fn mesh(&self) -> &Mesh {
        &self.mesh
    }

    /// What each cell holds, in the mesh's order.
    #[must_use]
    pub fn contents(&self) -> &[Content] {
        &self.contents
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn timber_conducts_as_the_handbook_says() {
        // Oven-dry densities 0.40 to 0.75 at 10 % moisture.
        for (dry, expected) in [(400.0, 0.112), (500.0, 0.136), (650.0, 0.171), (750.0, 0.195)] {
            let timber = Material::timber(dry * 1.1, 10.0);
            assert!((timber.conductivity_w_m_k - expected).abs() < 0.0015, "{dry}");
        }
        let ash = Material::timber(650.0, 10.0);
        assert!((ash.capacity_j_m3_k - 650.0 * 1560.0).abs() < 1e-6);
    }
}

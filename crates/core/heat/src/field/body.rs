//! Materials of a section or block, and its surroundings.

use crate::air::Air;
use crate::surroundings::{FORM_BOARD_M2K_W, STILL_AIR_TOP_W_M2K};
use fondant_materials::Material;

use super::mesh::Mesh;

/// Content of a cell.
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
    /// Face below.
    pub base: Face,
    /// Film of the free surface, of resin and of whatever else reaches the
    /// top, W/(m²K); 0 passes no heat.
    pub top_film_w_m2k: f64,
    /// Film of bare solid beside resin not yet poured, W/(m²K). It hardly
    /// matters: 10 against 0 moves a river's peak by a thousandth of a kelvin.
    pub bare_film_w_m2k: f64,
    /// From this time after a pour, s, this is around it instead.
    pub then: Option<Box<(f64, Around)>>,
}

impl Around {
    /// The same with its change delayed, s.
    pub(super) fn delayed(mut self, by_s: f64) -> Self {
        self.then = self.then.map(|then| Box::new((then.0 + by_s, then.1)));
        self
    }

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

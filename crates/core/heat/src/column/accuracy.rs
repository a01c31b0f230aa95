//! How finely a column is computed, and for how long it is wanted.

use fondant_numerics::Stop;

/// How finely a column is computed, and for how long it is wanted.
#[derive(Debug, Clone, PartialEq)]
pub struct Accuracy {
    /// Equal cells in each layer. The error of the peak falls as their square:
    /// 20 give 0.04 K or better on the layers that workshops pour, 40 give 0.01 K.
    pub cells_per_layer: usize,
    /// Thin layers take fewer cells where they would be thinner than this, m,
    /// but [`FEWEST_CELLS`] at least; 0 gives every layer the full number.
    pub thinnest_cell_m: f64,
    /// Error of temperature allowed in one step, K.
    pub temperature_k: f64,
    /// Error of conversion allowed in one step.
    pub conversion: f64,
    /// Ends the run where its answer is no longer wanted.
    pub stop: Stop,
}

/// Fewest cells of a layer: three carry the parabola at the peak.
pub const FEWEST_CELLS: usize = 4;

impl Accuracy {
    /// For thousands of runs. Against 40 cells windows move by less than five
    /// minutes and peaks by less than 0.3 K, which pours on the quarter hour do
    /// not notice; 20 cells would more than double the time. A base layer of
    /// 2 mm needs no cells of a sixth of a millimetre.
    #[must_use]
    pub const fn coarse() -> Self {
        Self {
            cells_per_layer: 9,
            thinnest_cell_m: 1.5e-3,
            temperature_k: 0.03,
            conversion: 3e-4,
            stop: Stop::NEVER,
        }
    }

    /// The same for as long as an answer is wanted.
    #[must_use]
    pub fn until(self, stop: &Stop) -> Self {
        Self { stop: stop.clone(), ..self }
    }

    /// Cells of a layer.
    pub(super) fn cells(&self, depth_m: f64) -> usize {
        if self.thinnest_cell_m <= 0.0 {
            return self.cells_per_layer;
        }
        let thinnest = (depth_m / self.thinnest_cell_m).ceil() as usize;
        thinnest.max(FEWEST_CELLS).min(self.cells_per_layer)
    }
}

impl Default for Accuracy {
    /// Peaks within 0.05 K of the converged value. The tolerances were found by
    /// loosening them until the error of time stepping reached a quarter of
    /// that of the grid; early errors of conversion grow towards the peak,
    /// so these look stricter than the result is.
    fn default() -> Self {
        Self {
            cells_per_layer: 20,
            thinnest_cell_m: 0.0,
            temperature_k: 0.01,
            conversion: 1e-4,
            stop: Stop::NEVER,
        }
    }
}

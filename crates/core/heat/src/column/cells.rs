//! A column of cells with conduction and cure, as a stiff system.
//!
//! State: `n` temperatures, `n` conversions, then the conversion at the true
//! top surface. Finite volumes, values at cell centres; between cells of
//! different height the half cells are in series.

use std::ops::Range;

use fondant_numerics::rosenbrock::StiffSystem;
use fondant_numerics::tridiagonal::Tridiagonal;

use super::layer_resin::LayerResin;
use crate::cure::{CureRate, Slopes, SlopesOf};
use crate::surroundings::Surroundings;

/// The cells of one layer, which are of one resin.
#[derive(Debug, Clone)]
pub(super) struct LayerCells {
    pub(super) cells: Range<usize>,
    pub(super) resin: LayerResin,
}

/// Cells that cure alike: of one layer, or of several of one resin.
#[derive(Debug, Clone)]
struct Alike {
    cells: Range<usize>,
    cure: CureRate,
}

/// The cells of all layers poured so far.
#[derive(Debug, Clone)]
pub(super) struct Column {
    layers: Vec<LayerCells>,
    alike: Vec<Alike>,
    surroundings: Surroundings,
    heights_m: Vec<f64>,
    /// H / cp of each cell, K.
    rise_k: Vec<f64>,
    /// 1/s towards the neighbour above, per capacity of the lower cell.
    up_per_s: Vec<f64>,
    /// 1/s towards the neighbour below, per capacity of the upper cell.
    down_per_s: Vec<f64>,
    base_per_s: f64,
    top_per_s: f64,
    /// 1/s sideways, of each cell.
    side_per_s: Vec<f64>,
    /// Ts = weight · T_top + (1 − weight) · air.
    surface_weight: f64,
    /// Slopes of each cell's rate against conversion, 1/s, and against temperature, 1/(s·K).
    by_conversion_per_s: Vec<f64>,
    by_temperature_per_s_k: Vec<f64>,
    surface_slopes: Slopes,
    solver: Solver,
}

/// What a factorised step keeps.
#[derive(Debug, Clone, Default)]
struct Solver {
    matrix: Tridiagonal,
    diagonal: Vec<f64>,
    lower: Vec<f64>,
    upper: Vec<f64>,
    /// 1 / (shift − ∂r/∂α) for each cell.
    inverse_conversion: Vec<f64>,
    /// What a cell's conversion brings to its temperature, K.
    warmed_k: Vec<f64>,
    inverse_surface: f64,
}

const NO_SLOPES: Slopes =
    Slopes { rate_per_s: 0.0, by_conversion_per_s: 0.0, by_temperature_per_s_k: 0.0 };

impl Column {
    pub(super) fn new(surroundings: Surroundings) -> Self {
        Self {
            layers: Vec::new(),
            alike: Vec::new(),
            surroundings,
            heights_m: Vec::new(),
            rise_k: Vec::new(),
            up_per_s: Vec::new(),
            down_per_s: Vec::new(),
            base_per_s: 0.0,
            top_per_s: 0.0,
            side_per_s: Vec::new(),
            surface_weight: 1.0,
            by_conversion_per_s: Vec::new(),
            by_temperature_per_s_k: Vec::new(),
            surface_slopes: NO_SLOPES,
            solver: Solver::default(),
        }
    }

    /// The layers from below.
    pub(super) fn layers(&self) -> &[LayerCells] {
        &self.layers
    }

    /// The resin at the surface; `None` before any pour.
    pub(super) fn top_resin(&self) -> Option<&LayerResin> {
        self.layers.last().map(|layer| &layer.resin)
    }

    pub(super) fn cells(&self) -> usize {
        self.heights_m.len()
    }

    /// Adds a layer of equal cells on top.
    pub(super) fn add_layer(&mut self, resin: LayerResin, depth_m: f64, cells: usize) {
        let first = self.cells();
        let height = depth_m / cells as f64;
        self.heights_m.extend(std::iter::repeat_n(height, cells));
        self.rise_k.extend(std::iter::repeat_n(resin.rise_k, cells));
        match self.alike.last_mut().filter(|alike| alike.cure.is_of(&resin.cure)) {
            Some(alike) => alike.cells.end = first + cells,
            None => self.alike.push(Alike { cells: first..first + cells, cure: resin.cure }),
        }
        self.layers.push(LayerCells { cells: first..first + cells, resin });
        self.by_conversion_per_s = vec![0.0; self.heights_m.len()];
        self.by_temperature_per_s_k = vec![0.0; self.heights_m.len()];
        self.prepare_conduction();
    }

    /// Conductances between cells, the half cells of two resins in series.
    fn prepare_conduction(&mut self) {
        let of_cells = |of: fn(&LayerResin) -> f64| -> Vec<f64> {
            let all = self.layers.iter();
            all.flat_map(|layer| layer.cells.clone().map(|_| of(&layer.resin))).collect()
        };
        let capacity = of_cells(|resin| resin.capacity_j_m3k);
        let k = of_cells(|resin| resin.conductivity_w_mk);
        let height = &self.heights_m;
        let half = |cell: usize| height[cell] / (2.0 * k[cell]);
        let top = height.len() - 1;
        let between = |lower: usize| 1.0 / (half(lower) + half(lower + 1));
        self.up_per_s = (0..top).map(|i| between(i) / (capacity[i] * height[i])).collect();
        self.down_per_s =
            (0..top).map(|i| between(i) / (capacity[i + 1] * height[i + 1])).collect();
        let below = self.surroundings.base_resistance_m2k_w + half(0);
        self.base_per_s = 1.0 / (below * capacity[0] * height[0]);
        let side_loss = self.surroundings.side_loss_w_m3k;
        self.side_per_s = capacity.iter().map(|capacity| side_loss / capacity).collect();
        let film = self.surroundings.top_film_w_m2k;
        // An insulated top (no film) has an infinite resistance.
        let above = 1.0 / film + half(top);
        self.top_per_s = 1.0 / (above * capacity[top] * height[top]);
        self.surface_weight = if film > 0.0 { 1.0 / (film * above) } else { 1.0 };
    }

    /// Puts the cells poured so far into other surroundings.
    pub(super) fn surround(&mut self, surroundings: Surroundings) {
        self.surroundings = surroundings;
        if !self.layers.is_empty() {
            self.prepare_conduction();
        }
    }

    /// Temperature of the true top surface.
    pub(super) fn surface_k(&self, t_s: f64, top_cell_k: f64) -> f64 {
        let air_k = self.surroundings.air.at(t_s);
        air_k + self.surface_weight * (top_cell_k - air_k)
    }

    /// Temperature of the underside of the resin, where the board begins.
    pub(super) fn underside_k(&self, t_s: f64, bottom_cell_k: f64) -> f64 {
        let conductivity = self.layers[0].resin.conductivity_w_mk;
        let half = self.heights_m[0] / (2.0 * conductivity);
        let share = half / (half + self.surroundings.base_resistance_m2k_w);
        bottom_cell_k + share * (self.surroundings.under_at(t_s) - bottom_cell_k)
    }

    fn conduct(&self, t_s: f64, y: &[f64], dydt: &mut [f64]) {
        let n = self.cells();
        let (air, under) = (self.surroundings.air.at(t_s), self.surroundings.under_at(t_s));
        let t_k = &y[..n];
        let (dydt, cured) = dydt.split_at_mut(n);
        let own = t_k.iter().zip(&self.side_per_s).zip(&self.rise_k).zip(cured.iter());
        for (dydt, (((t, side), rise), cured)) in dydt.iter_mut().zip(own) {
            *dydt = side * (under - t) + rise * cured;
        }
        dydt[0] += self.base_per_s * (under - t_k[0]);
        dydt[n - 1] += self.top_per_s * (air - t_k[n - 1]);
        let pairs = || t_k.iter().zip(&t_k[1..]);
        for ((dydt, up), (low, high)) in dydt.iter_mut().zip(&self.up_per_s).zip(pairs()) {
            *dydt += up * (high - low);
        }
        for ((dydt, down), (low, high)) in dydt[1..].iter_mut().zip(&self.down_per_s).zip(pairs()) {
            *dydt += down * (low - high);
        }
    }
}

impl StiffSystem for Column {
    fn rates(&mut self, t_s: f64, y: &[f64], dydt: &mut [f64]) {
        let n = self.cells();
        let (t_k, conversions) = y.split_at(n);
        for Alike { cells, cure } in &self.alike {
            let of = || cells.clone();
            let rates = &mut dydt[n..][of()];
            cure.rates_of(&conversions[of()], &t_k[of()], rates);
        }
        let surface_k = self.surface_k(t_s, y[n - 1]);
        dydt[2 * n] = self.top_resin().map_or(0.0, |top| top.cure.rate_per_s(y[2 * n], surface_k));
        self.conduct(t_s, y, dydt);
    }

    fn linearise(&mut self, t_s: f64, y: &[f64], dydt: &mut [f64], by_time: &mut [f64]) -> bool {
        let n = self.cells();
        let (t_k, conversions) = y.split_at(n);
        for Alike { cells, cure } in &self.alike {
            let of = || cells.clone();
            let mut to = SlopesOf {
                rate_per_s: &mut dydt[n..][of()],
                by_conversion_per_s: &mut self.by_conversion_per_s[of()],
                by_temperature_per_s_k: &mut self.by_temperature_per_s_k[of()],
            };
            cure.slopes_of(&conversions[of()], &t_k[of()], &mut to);
        }
        let surface_k = self.surface_k(t_s, y[n - 1]);
        self.surface_slopes =
            self.top_resin().map_or(NO_SLOPES, |top| top.cure.slopes(y[2 * n], surface_k));
        dydt[2 * n] = self.surface_slopes.rate_per_s;
        self.conduct(t_s, y, dydt);
        if self.surroundings.air.is_steady() {
            return false;
        }
        let slope = self.surroundings.air.slope(t_s);
        by_time.fill(0.0);
        if self.surroundings.under_k.is_none() {
            for (by_time, side) in by_time.iter_mut().zip(&self.side_per_s) {
                *by_time = side * slope;
            }
            by_time[0] += self.base_per_s * slope;
        }
        by_time[n - 1] += self.top_per_s * slope;
        by_time[2 * n] =
            self.surface_slopes.by_temperature_per_s_k * (1.0 - self.surface_weight) * slope;
        true
    }

    /// Conversions couple only to the temperature of their own cell, so they
    /// are eliminated and a tridiagonal system of temperatures is left.
    fn factorise(&mut self, shift: f64) -> bool {
        let n = self.cells();
        let s = &mut self.solver;
        s.diagonal.clear();
        s.lower.clear();
        s.upper.clear();
        s.inverse_conversion.clear();
        s.warmed_k.clear();
        for i in 0..n {
            let pivot = shift - self.by_conversion_per_s[i];
            if pivot <= 0.0 {
                return false;
            }
            let inverse = 1.0 / pivot;
            s.inverse_conversion.push(inverse);
            s.warmed_k.push(self.rise_k[i] * self.by_conversion_per_s[i] * inverse);
            let below = if i > 0 { self.down_per_s[i - 1] } else { self.base_per_s };
            let above = if i + 1 < n { self.up_per_s[i] } else { self.top_per_s };
            let release = self.rise_k[i] * self.by_temperature_per_s_k[i] * shift * inverse;
            s.diagonal.push(shift + below + above + self.side_per_s[i] - release);
        }
        s.upper.extend(self.up_per_s.iter().map(|c| -c));
        s.lower.extend(self.down_per_s.iter().map(|c| -c));
        let surface = shift - self.surface_slopes.by_conversion_per_s;
        s.inverse_surface = 1.0 / surface;
        surface > 0.0 && s.matrix.factorise(&s.lower, &s.diagonal, &s.upper)
    }

    fn solve(&self, x: &mut [f64]) {
        let n = self.cells();
        let (temperatures, conversions) = x.split_at_mut(n);
        let warmed = conversions.iter().zip(&self.solver.warmed_k);
        for (t, (conversion, warmed)) in temperatures.iter_mut().zip(warmed) {
            *t += warmed * conversion;
        }
        self.solver.matrix.solve(temperatures);
        let slopes = self.by_temperature_per_s_k.iter().zip(&self.solver.inverse_conversion);
        for ((conversion, t), (slope, inverse)) in
            conversions.iter_mut().zip(temperatures.iter()).zip(slopes)
        {
            *conversion = (*conversion + slope * t) * inverse;
        }
        let pull = self.surface_slopes.by_temperature_per_s_k * self.surface_weight;
        conversions[n] =
            (conversions[n] + pull * temperatures[n - 1]) * self.solver.inverse_surface;
    }
}

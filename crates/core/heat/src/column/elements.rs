//! A column of resin with conduction and cure, as a stiff system.
//!
//! State: the temperatures of all nodes from below, then the conversions of all elements. Spectral
//! elements: the temperature of each is a polynomial, tested with the polynomials that are 1 at one of
//! its nodes and integrated by the nodes' own weights, so that no node stores heat for another. Faces
//! are nodes; what flows through a face is added there.
//! Source: G. Karniadakis, S. Sherwin, *Spectral/hp Element Methods for Computational Fluid Dynamics*,
//! 2nd ed. 2005, chapter 2.

use std::ops::Range;

use fondant_numerics::chain::Chain;
use fondant_numerics::lanes::Wide;
use fondant_numerics::rosenbrock::StiffSystem;

use super::accuracy::Pieces;
use super::element::Element;
use super::layer_resin::LayerResin;
use crate::cure::SlopesOf;
use crate::surroundings::Surroundings;

/// The elements of all layers poured so far, from below.
#[derive(Debug, Clone)]
pub(super) struct Column {
    elements: Vec<Element>,
    /// Which elements are of each layer.
    layers: Vec<Range<usize>>,
    surroundings: Surroundings,
    /// Heat that each node stores, J/(m²·K), and one by it.
    capacity_j_m2k: Vec<f64>,
    per_capacity: Vec<f64>,
    /// Lost sideways by each node, W/(m²·K).
    side_w_m2k: Vec<f64>,
    /// Released by the whole cure of what a node stands for, J/m², for each conversion.
    heat_j_m2: Vec<f64>,
    base_w_m2k: f64,
    /// Slopes of each rate against conversion, 1/s, and against temperature, 1/(s·K).
    by_conversion_per_s: Vec<f64>,
    by_temperature_per_s_k: Vec<f64>,
    solver: Solver,
}

/// What a factorised step keeps.
#[derive(Debug, Clone, Default)]
struct Solver {
    /// Conductances between nodes, W/(m²·K).
    conduction: Chain,
    diagonal: Vec<f64>,
    /// 1 / (shift − ∂r/∂α) for each conversion.
    inverse_conversion: Vec<f64>,
    /// What a change of conversion brings to the heat of its node, J/m².
    warmed_j_m2: Vec<f64>,
}

impl Column {
    pub(super) fn new(surroundings: Surroundings) -> Self {
        Self {
            elements: Vec::new(),
            layers: Vec::new(),
            surroundings,
            capacity_j_m2k: Vec::new(),
            per_capacity: Vec::new(),
            side_w_m2k: Vec::new(),
            heat_j_m2: Vec::new(),
            base_w_m2k: 0.0,
            by_conversion_per_s: Vec::new(),
            by_temperature_per_s_k: Vec::new(),
            solver: Solver::default(),
        }
    }

    /// All elements from below.
    pub(super) fn elements(&self) -> &[Element] {
        &self.elements
    }

    /// Those of a layer, from below.
    pub(super) fn layer(&self, index: usize) -> &[Element] {
        &self.elements[self.layers[index].clone()]
    }

    /// The resin at the surface; `None` before any pour.
    pub(super) fn top_resin(&self) -> Option<&LayerResin> {
        self.elements.last().map(|element| &element.resin)
    }

    /// How many temperatures there are.
    pub(super) fn nodes(&self) -> usize {
        self.capacity_j_m2k.len()
    }

    /// How many conversions there are.
    pub(super) fn conversions(&self) -> usize {
        self.heat_j_m2.len()
    }

    /// Adds a layer on top, in equal pieces. Says how much of the heat that the node stores between it and
    /// the layer below was there before, 0…1.
    pub(super) fn add_layer(&mut self, resin: LayerResin, depth_m: f64, pieces: Pieces) -> f64 {
        let joint = self.nodes().saturating_sub(1);
        let stored = self.capacity_j_m2k.get(joint).copied().unwrap_or(0.0);
        let begun = self.elements.len();
        for _ in 0..pieces.count {
            let first = self.elements.last().map_or(0, |below| below.nodes().end - 1);
            let first_cured = self.elements.last().map_or(0, |below| below.cured().end);
            let depth_m = depth_m / pieces.count as f64;
            self.elements.push(Element::new(resin, pieces.lobatto, depth_m, [first, first_cured]));
        }
        self.layers.push(begun..self.elements.len());
        self.prepare();
        stored / self.capacity_j_m2k[joint]
    }

    /// What does not change between pours.
    fn prepare(&mut self) {
        let Some(top) = self.elements.last() else { return };
        let (nodes, cured) = (top.nodes().end, top.cured().end);
        let volumes = || {
            self.elements.iter().flat_map(|e| e.nodes().zip(e.depths_m()).map(move |at| (e, at)))
        };
        let mut capacity = vec![0.0; nodes];
        let mut side = vec![0.0; nodes];
        for (element, (node, depth_m)) in volumes() {
            capacity[node] += depth_m * element.resin.capacity_j_m3k;
            side[node] += depth_m * self.surroundings.side_loss_w_m3k;
        }
        self.heat_j_m2 = volumes()
            .map(|(element, (_, depth_m))| {
                depth_m * element.resin.capacity_j_m3k * element.resin.rise_k
            })
            .collect();
        self.base_w_m2k = 1.0 / self.surroundings.base_resistance_m2k_w;
        self.per_capacity = capacity.iter().map(|capacity| 1.0 / capacity).collect();
        (self.capacity_j_m2k, self.side_w_m2k) = (capacity, side);
        self.by_conversion_per_s = vec![0.0; cured];
        self.by_temperature_per_s_k = vec![0.0; cured];
        let blocks = self.elements.iter().map(|element| element.conduction.clone());
        self.solver.conduction = Chain::new(blocks);
    }

    /// Puts what is poured so far into other surroundings.
    pub(super) fn surround(&mut self, surroundings: Surroundings) {
        self.surroundings = surroundings;
        self.prepare();
    }

    /// Temperatures follow from the rates of cure that stand in `dydt` already.
    fn conduct(&self, t_s: f64, t_k: &[f64], dydt: &mut [f64]) {
        Wide::new().run(
            #[inline(always)]
            || self.conduct_here(t_s, t_k, dydt),
        );
    }

    #[inline(always)]
    fn conduct_here(&self, t_s: f64, t_k: &[f64], dydt: &mut [f64]) {
        let air = self.surroundings.air.at(t_s);
        let under = self.surroundings.under_k.unwrap_or(air);
        let (flow, cured) = dydt.split_at_mut(t_k.len());
        for ((flow, t), side) in flow.iter_mut().zip(t_k).zip(&self.side_w_m2k) {
            *flow = side * (under - t);
        }
        for element in &self.elements {
            let flow = &mut flow[element.nodes()];
            element.conduction.add_product(-1.0, &t_k[element.nodes()], flow);
            let released = self.heat_j_m2[element.cured()].iter().zip(&cured[element.cured()]);
            for (flow, (heat, rate)) in flow.iter_mut().zip(released) {
                *flow += heat * rate;
            }
        }
        let top = t_k.len() - 1;
        flow[0] += self.base_w_m2k * (under - t_k[0]);
        flow[top] += self.surroundings.top_film_w_m2k * (air - t_k[top]);
        for (flow, per_capacity) in flow.iter_mut().zip(&self.per_capacity) {
            *flow *= per_capacity;
        }
    }

    /// How the rates change with the air alone, K/s²; `false` where that stands still.
    fn follow_air(&self, t_s: f64, by_time: &mut [f64]) -> bool {
        if self.surroundings.air.is_steady() {
            return false;
        }
        let slope = self.surroundings.air.slope(t_s);
        by_time.fill(0.0);
        let top = self.nodes() - 1;
        if self.surroundings.under_k.is_none() {
            for (by_time, side) in by_time.iter_mut().zip(&self.side_w_m2k) {
                *by_time = side * slope;
            }
            by_time[0] += self.base_w_m2k * slope;
        }
        by_time[top] += self.surroundings.top_film_w_m2k * slope;
        for (by_time, per_capacity) in by_time.iter_mut().zip(&self.per_capacity) {
            *by_time *= per_capacity;
        }
        true
    }
}

impl StiffSystem for Column {
    fn rates(&mut self, t_s: f64, y: &[f64], dydt: &mut [f64]) {
        let (t_k, conversions) = y.split_at(self.nodes());
        for element in &self.elements {
            let rates = &mut dydt[t_k.len()..][element.cured()];
            let cure = &element.resin.cure;
            cure.rates_of(&conversions[element.cured()], &t_k[element.nodes()], rates);
        }
        self.conduct(t_s, t_k, dydt);
    }

    fn linearise(&mut self, t_s: f64, y: &[f64], dydt: &mut [f64], by_time: &mut [f64]) -> bool {
        let (t_k, conversions) = y.split_at(self.nodes());
        for element in &self.elements {
            let mut to = SlopesOf {
                rate_per_s: &mut dydt[t_k.len()..][element.cured()],
                by_conversion_per_s: &mut self.by_conversion_per_s[element.cured()],
                by_temperature_per_s_k: &mut self.by_temperature_per_s_k[element.cured()],
            };
            let cure = &element.resin.cure;
            cure.slopes_of(&conversions[element.cured()], &t_k[element.nodes()], &mut to);
        }
        self.conduct(t_s, t_k, dydt);
        self.follow_air(t_s, by_time)
    }

    /// Conversions couple only to the temperature of their own node, so they
    /// are eliminated and a system of temperatures is left, symmetric by the heat that each node stores.
    fn factorise(&mut self, shift: f64) -> bool {
        let s = &mut self.solver;
        s.inverse_conversion.clear();
        s.warmed_j_m2.clear();
        s.diagonal.clear();
        let stored = self.capacity_j_m2k.iter().zip(&self.side_w_m2k);
        s.diagonal.extend(stored.map(|(capacity, side)| shift * capacity + side));
        if let Some(below) = s.diagonal.first_mut() {
            *below += self.base_w_m2k;
        }
        if let Some(top) = s.diagonal.last_mut() {
            *top += self.surroundings.top_film_w_m2k;
        }
        for element in &self.elements {
            for (node, i) in element.nodes().zip(element.cured()) {
                let pivot = shift - self.by_conversion_per_s[i];
                if pivot <= 0.0 {
                    return false;
                }
                let inverse = 1.0 / pivot;
                let heat = self.heat_j_m2[i] * inverse;
                s.inverse_conversion.push(inverse);
                s.warmed_j_m2.push(heat * self.by_conversion_per_s[i]);
                s.diagonal[node] -= heat * self.by_temperature_per_s_k[i] * shift;
            }
        }
        s.conduction.factorise(&s.diagonal)
    }

    fn solve(&self, x: &mut [f64]) {
        let (temperatures, conversions) = x.split_at_mut(self.nodes());
        for (t, capacity) in temperatures.iter_mut().zip(&self.capacity_j_m2k) {
            *t *= capacity;
        }
        for element in &self.elements {
            let warmed =
                conversions[element.cured()].iter().zip(&self.solver.warmed_j_m2[element.cured()]);
            for (t, (conversion, warmed)) in temperatures[element.nodes()].iter_mut().zip(warmed) {
                *t += warmed * conversion;
            }
        }
        self.solver.conduction.solve(temperatures);
        for element in &self.elements {
            let slopes = self.by_temperature_per_s_k[element.cured()]
                .iter()
                .zip(&self.solver.inverse_conversion[element.cured()]);
            let at = conversions[element.cured()].iter_mut().zip(&temperatures[element.nodes()]);
            for ((conversion, t), (slope, inverse)) in at.zip(slopes) {
                *conversion = (*conversion + slope * t) * inverse;
            }
        }
    }
}

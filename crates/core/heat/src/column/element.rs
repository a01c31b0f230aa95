//! One piece of a layer, carried by a polynomial.

use std::ops::Range;

use fondant_numerics::lobatto::{Crest, HIGHEST_DEGREE, Lobatto, highest_of};
use fondant_numerics::square::Square;

use super::layer_resin::LayerResin;

/// One piece of a layer, from one face to the other.
///
/// It carries temperature and conversion by their values at the nodes of [`Lobatto`]. Both ends are
/// nodes: the temperature there is that of the piece beside it too, the conversion is its own.
#[derive(Debug, Clone)]
pub(super) struct Element {
    /// Its first temperature among those of the column.
    pub(super) first: usize,
    /// Its first conversion among those of the column.
    pub(super) first_cured: usize,
    pub(super) lobatto: &'static Lobatto,
    pub(super) depth_m: f64,
    pub(super) resin: LayerResin,
    /// Conductances between its nodes: k/d ∫ φᵢ' φⱼ', W/(m²·K); negative between different ones.
    pub(super) conduction: Square,
}

impl Element {
    pub(super) fn new(
        resin: LayerResin,
        lobatto: &'static Lobatto,
        depth_m: f64,
        [first, first_cured]: [usize; 2],
    ) -> Self {
        let across = resin.conductivity_w_mk / depth_m;
        let count = lobatto.nodes().len();
        let mut conduction = Square::zeros(count);
        for (place, stiffness) in lobatto.stiffness().iter().enumerate() {
            conduction.add(place / count, place % count, across * stiffness);
        }
        Self { first, first_cured, lobatto, depth_m, resin, conduction }
    }

    /// How many nodes it has.
    pub(super) fn count(&self) -> usize {
        self.lobatto.nodes().len()
    }

    /// Its temperatures, from below.
    pub(super) fn nodes(&self) -> Range<usize> {
        self.first..self.first + self.count()
    }

    /// Its conversions, from below.
    pub(super) fn cured(&self) -> Range<usize> {
        self.first_cured..self.first_cured + self.count()
    }

    /// Depth of resin that each node stands for, m.
    pub(super) fn depths_m(&self) -> impl Iterator<Item = f64> + '_ {
        self.lobatto.weights().iter().map(|weight| weight * self.depth_m)
    }

    /// The highest point of the polynomial through values at its nodes, where it is higher than that.
    pub(super) fn crest_over(&self, values: &[f64], than: f64) -> Option<Crest> {
        let (at, highest) = highest_of(values);
        let beside = &values[at.saturating_sub(1)..(at + 2).min(values.len())];
        let lowest = beside.iter().copied().fold(highest, f64::min);
        // Between two nodes it is higher by less than the highest is over the nodes beside it.
        if 2.0 * highest - lowest <= than {
            return None;
        }
        let crest = self.lobatto.crest(values);
        (crest.value > than).then_some(crest)
    }

    /// Temperatures by which it falls short of the glass transition, each over what `above_k` says of its
    /// node, K; those after its last node are 0.
    pub(super) fn short_of_glass(
        &self,
        conversions: &[f64],
        above_k: impl Fn(usize) -> f64,
    ) -> [f64; HIGHEST_DEGREE + 1] {
        let mut short = [0.0; HIGHEST_DEGREE + 1];
        for (node, (short, conversion)) in short.iter_mut().zip(conversions).enumerate() {
            *short = above_k(node) - self.resin.cure.glass_k(*conversion);
        }
        short
    }
}

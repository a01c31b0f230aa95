//! One of the directions in which heat moves, as chains of cells.

use fondant_materials::Material;

use crate::field::body::Face;
use crate::field::mesh::Mesh;

/// Chains of neighbouring cells that are gone through side by side: each step along one waits for the
/// step before it.
const SIDE_BY_SIDE: usize = 4;

/// One of the directions in which heat can move.
#[derive(Debug, Clone)]
pub(super) struct Direction {
    /// How far apart its neighbours are in memory, and how many cells a chain has.
    pub(super) stride: usize,
    length: usize,
    /// To the next cell, W/K.
    pub(super) next_w_k: Vec<f64>,
    /// The cells that exchange heat with what is around them, at either end of a chain or at a bare
    /// face, in order; each once.
    pub(super) edges: Vec<Edge>,
    /// What all edges of a cell conduct, W/K.
    out_w_k: Vec<f64>,
    /// The factorised chain: inverse pivots, and what is multiplied by them.
    lower: Vec<f64>,
    inverse: Vec<f64>,
    upper: Vec<f64>,
    /// The scale it is factorised for.
    prepared: f64,
}

/// What a cell exchanges with what is around it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Edge {
    pub(super) cell: usize,
    /// To the air, W/K.
    air_w_k: f64,
    /// To places of fixed temperature, W/K, and the heat that brings at 0 K, W.
    fixed_w_k: f64,
    fixed_w: f64,
}

impl Edge {
    /// Heat that comes in, W.
    pub(super) fn heat_w(&self, t_k: f64, air_k: f64) -> f64 {
        self.air_w_k * (air_k - t_k) + self.fixed_w - self.fixed_w_k * t_k
    }
}

impl Direction {
    pub(super) fn new(
        mesh: &Mesh,
        materials: &[Option<Material>],
        axis: usize,
        ends: [Face; 2],
        open: Face,
    ) -> Self {
        let (cells, stride) = (mesh.cells(), mesh.strides()[axis]);
        let last = mesh.axis(axis).cells() - 1;
        let zeros = || vec![0.0; cells];
        let mut direction = Self {
            stride,
            length: last + 1,
            next_w_k: zeros(),
            edges: Vec::new(),
            out_w_k: zeros(),
            lower: zeros(),
            inverse: zeros(),
            upper: zeros(),
            prepared: 0.0,
        };
        for cell in 0..cells {
            let Some(material) = materials[cell] else { continue };
            let along = mesh.place(cell)[axis];
            let [low, high] = [false, true].map(|is_high| mesh.face_m2(cell, axis, is_high));
            let half = 0.5 * mesh.axis(axis).width_m(along) / material.conductivity_w_m_k;
            match (along < last).then(|| materials[cell + stride]) {
                Some(Some(next)) => {
                    let width = mesh.axis(axis).width_m(along + 1);
                    let resistance = half + 0.5 * width / next.conductivity_w_m_k;
                    direction.next_w_k[cell] = high / resistance;
                }
                Some(None) => direction.open(cell, half, high, open),
                None => direction.open(cell, half, high, ends[1]),
            }
            if along == 0 {
                direction.open(cell, half, low, ends[0]);
            } else if materials[cell - stride].is_none() && axis != 2 {
                direction.open(cell, half, low, open);
            }
        }
        direction
    }

    /// A face at the edge of the mesh.
    fn open(&mut self, cell: usize, half: f64, area: f64, face: Face) {
        if !face.resistance_m2k_w.is_finite() {
            return;
        }
        let conductance = area / (half + face.resistance_m2k_w);
        if self.edges.last().is_none_or(|edge| edge.cell != cell) {
            self.edges.push(Edge { cell, air_w_k: 0.0, fixed_w_k: 0.0, fixed_w: 0.0 });
        }
        let Some(edge) = self.edges.last_mut() else { return };
        match face.beyond_k {
            Some(k) => {
                edge.fixed_w_k += conductance;
                edge.fixed_w += conductance * k;
            }
            None => edge.air_w_k += conductance,
        }
        self.out_w_k[cell] += conductance;
    }

    /// Whether no heat moves this way.
    pub(super) fn is_idle(&self) -> bool {
        [&self.next_w_k, &self.out_w_k].iter().all(|all| all.iter().all(|g| *g <= 0.0))
    }

    /// Factorises (1 − `scale`·L/C) along every chain. Before the first of a chain stands the last of
    /// another, which conducts nothing to it.
    #[inline(always)]
    pub(super) fn prepare(&mut self, scale: f64, inverse_capacity: &[f64]) {
        if (self.prepared - scale).abs() <= 0.0 {
            return;
        }
        self.prepared = scale;
        if self.stride == 1 {
            return self.prepare_neighbours(scale, inverse_capacity);
        }
        // Rows of cells beside one another.
        for start in (0..inverse_capacity.len()).step_by(self.stride) {
            let here = start..start + self.stride;
            let (above, upper) = self.upper.split_at_mut(start);
            let row = Cells {
                next_w_k: &self.next_w_k[here.clone()],
                out_w_k: &self.out_w_k[here.clone()],
                inverse_capacity: &inverse_capacity[here.clone()],
                lower: &mut self.lower[here.clone()],
                inverse: &mut self.inverse[here],
                upper: &mut upper[..self.stride],
            };
            match start.checked_sub(self.stride) {
                None => row.factorise(scale, std::iter::repeat((&0.0, &0.0))),
                Some(from) => {
                    let conducts = &self.next_w_k[from..start];
                    row.factorise(scale, conducts.iter().zip(&above[from..]));
                }
            }
        }
    }

    /// The same for chains whose cells lie beside one another.
    #[inline(always)]
    fn prepare_neighbours(&mut self, scale: f64, inverse_capacity: &[f64]) {
        let most = self.length * SIDE_BY_SIDE;
        let all = Cells {
            next_w_k: &self.next_w_k,
            out_w_k: &self.out_w_k,
            inverse_capacity,
            lower: &mut self.lower,
            inverse: &mut self.inverse,
            upper: &mut self.upper,
        };
        for group in all.parts(most) {
            if group.lower.len() == most {
                group.factorise_chains::<SIDE_BY_SIDE>(scale);
            } else {
                group.parts(self.length).for_each(|chain| chain.factorise_chains::<1>(scale));
            }
        }
    }

    /// Solves along every chain. The first of a chain has no lower neighbour and the last no upper one:
    /// their factors are 0.
    #[inline(always)]
    pub(super) fn solve(&self, x: &mut [f64]) {
        let stride = self.stride;
        for (x, inverse) in x.iter_mut().zip(&self.inverse) {
            *x *= inverse;
        }
        if stride == 1 {
            return self.solve_neighbours(x);
        }
        // Rows of cells beside one another, each row less its part of the row before.
        let last = x.len() - stride;
        for start in (stride..=last).step_by(stride) {
            let (done, rest) = x.split_at_mut(start);
            let before = &done[start - stride..];
            for ((x, before), lower) in rest.iter_mut().zip(before).zip(&self.lower[start..]) {
                *x -= lower * before;
            }
        }
        for start in (0..last).step_by(stride).rev() {
            let (rest, done) = x.split_at_mut(start + stride);
            let row = rest[start..].iter_mut();
            for ((x, next), upper) in row.zip(done.iter()).zip(&self.upper[start..]) {
                *x -= upper * next;
            }
        }
    }

    /// Chains whose cells lie beside one another.
    #[inline(always)]
    fn solve_neighbours(&self, x: &mut [f64]) {
        let (chain, most) = (self.length, self.length * SIDE_BY_SIDE);
        let factors = self.lower.chunks(most).zip(self.upper.chunks(most));
        for (x, (lower, upper)) in x.chunks_mut(most).zip(factors) {
            if x.len() == most {
                substitute::<SIDE_BY_SIDE>(x, lower, upper);
                continue;
            }
            let factors = lower.chunks(chain).zip(upper.chunks(chain));
            for (x, (lower, upper)) in x.chunks_mut(chain).zip(factors) {
                substitute::<1>(x, lower, upper);
            }
        }
    }
}

/// Forwards and backwards along N chains, one after the other in memory.
#[inline(always)]
fn substitute<const N: usize>(x: &mut [f64], lower: &[f64], upper: &[f64]) {
    let length = x.len() / N;
    let mut before = [0.0; N];
    for along in 0..length {
        for (chain, before) in before.iter_mut().enumerate() {
            let cell = chain * length + along;
            *before = x[cell] - lower[cell] * *before;
            x[cell] = *before;
        }
    }
    let mut next = [0.0; N];
    for along in (0..length).rev() {
        for (chain, next) in next.iter_mut().enumerate() {
            let cell = chain * length + along;
            *next = x[cell] - upper[cell] * *next;
            x[cell] = *next;
        }
    }
}

/// Cells that are factorised: what they conduct, and where their factors are written to.
struct Cells<'a> {
    next_w_k: &'a [f64],
    out_w_k: &'a [f64],
    inverse_capacity: &'a [f64],
    lower: &'a mut [f64],
    inverse: &'a mut [f64],
    upper: &'a mut [f64],
}

impl Cells<'_> {
    /// A row of cells, each with what the one before it in its chain conducts, W/K, and its upper factor.
    #[inline(always)]
    fn factorise<'b>(self, scale: f64, before: impl Iterator<Item = (&'b f64, &'b f64)>) {
        let given = self.next_w_k.iter().zip(self.out_w_k).zip(self.inverse_capacity);
        let made = self.lower.iter_mut().zip(self.inverse).zip(self.upper);
        for ((((next, out), inverse_c), ((lower, inverse), upper)), before) in
            given.zip(made).zip(before)
        {
            [*lower, *inverse, *upper] =
                factors(scale * inverse_c, [*before.0, *next, *out], *before.1);
        }
    }

    /// N chains, one after the other in memory.
    #[inline(always)]
    fn factorise_chains<const N: usize>(self, scale: f64) {
        let length = self.lower.len() / N;
        let mut before = [(0.0, 0.0); N];
        for along in 0..length {
            for (chain, before) in before.iter_mut().enumerate() {
                let cell = chain * length + along;
                let conducts = [before.0, self.next_w_k[cell], self.out_w_k[cell]];
                let made = factors(scale * self.inverse_capacity[cell], conducts, before.1);
                [self.lower[cell], self.inverse[cell], self.upper[cell]] = made;
                *before = (self.next_w_k[cell], made[2]);
            }
        }
    }

    /// Parts of so many cells; the last may have fewer.
    #[inline(always)]
    fn parts(self, cells: usize) -> impl Iterator<Item = Self> {
        let given = self.next_w_k.chunks(cells).zip(self.out_w_k.chunks(cells));
        let given = given.zip(self.inverse_capacity.chunks(cells));
        let made = self.lower.chunks_mut(cells).zip(self.inverse.chunks_mut(cells));
        let made = made.zip(self.upper.chunks_mut(cells));
        given.zip(made).map(
            |(((next_w_k, out_w_k), inverse_capacity), ((lower, inverse), upper))| Self {
                next_w_k,
                out_w_k,
                inverse_capacity,
                lower,
                inverse,
                upper,
            },
        )
    }
}

/// The lower factor, the inverse pivot and the upper factor of a cell that conducts to the one before it,
/// to the next and out, W/K; `above` is the upper factor of the one before.
#[inline(always)]
fn factors(scale_k_j: f64, [before, next, out]: [f64; 3], above: f64) -> [f64; 3] {
    let lower = -scale_k_j * before;
    let pivot = 1.0 + scale_k_j * (before + next + out) - lower * above;
    let inverse = 1.0 / pivot;
    [lower * inverse, inverse, -scale_k_j * next * inverse]
}

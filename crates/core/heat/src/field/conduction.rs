//! Conduction in a box of cells: one step of the linear part.
//!
//! Finite volumes; between cells the two half cells are in series. In time the
//! two-stage Rosenbrock method ROS2 with γ = 1 − 1/√2, whose matrix is replaced
//! by the product of its parts in each direction, so that only chains of cells
//! are solved. The method keeps order 2 with any such matrix and leaves steady
//! states as they are, whatever the step. Source: J. G. Verwer, E. J. Spee,
//! J. G. Blom, W. Hundsdorfer, *SIAM J. Sci. Comput.* 20 (1999) 1456–1480;
//! W. Hundsdorfer, J. G. Verwer, *Numerical Solution of Time-Dependent
//! Advection-Diffusion-Reaction Equations*, 2003, section IV.5.

use std::ops::Range;

use super::body::{Around, Face};
use super::mesh::Mesh;
use fondant_materials::Material;

const GAMMA: f64 = 1.0 - std::f64::consts::FRAC_1_SQRT_2;

/// Beyond this contrast of conductivities the product of two directions is no longer stable at long
/// steps, and each direction takes its own. The product of three is not beside any other material:
/// at the edge of timber over thin resin it grew by 13 K.
const EVEN_CONTRAST: f64 = 4.0;

/// What each cell exchanges with its neighbours and with what is around.
#[derive(Debug, Clone)]
pub(super) struct Conduction {
    sizes: [usize; 3],
    strides: [usize; 3],
    directions: Vec<Direction>,
    /// Heat capacity of each cell, J/K; its inverse; 0 where there is nothing.
    capacity_j_k: Vec<f64>,
    inverse_capacity: Vec<f64>,
    first: Vec<f64>,
    second: Vec<f64>,
    middle: Vec<f64>,
    is_even: bool,
}

/// One of the directions in which heat can move.
#[derive(Debug, Clone)]
struct Direction {
    axis: usize,
    /// To the next cell, W/K.
    next_w_k: Vec<f64>,
    /// The cells that exchange heat with what is around them, at either end of a chain or at a bare
    /// face, in order; each once.
    edges: Vec<Edge>,
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
struct Edge {
    cell: usize,
    /// To the air, W/K.
    air_w_k: f64,
    /// To places of fixed temperature, W/K, and the heat that brings at 0 K, W.
    fixed_w_k: f64,
    fixed_w: f64,
}

impl Edge {
    /// Heat that comes in, W.
    fn heat_w(&self, t_k: f64, air_k: f64) -> f64 {
        self.air_w_k * (air_k - t_k) + self.fixed_w - self.fixed_w_k * t_k
    }
}

impl Conduction {
    /// Conductances between the cells that hold something now.
    pub(super) fn new(mesh: &Mesh, materials: &[Option<Material>], around: &Around) -> Self {
        let each = || materials.iter().flatten().map(|m| m.conductivity_w_m_k);
        let worst = each().fold(f64::INFINITY, f64::min);
        let is_flat = mesh.y.cells() == 1;
        let most = if is_flat { EVEN_CONTRAST } else { 1.0 };
        let is_even = each().all(|k| k <= most * worst);
        let cells = mesh.cells();
        let sizes = [mesh.x.cells(), mesh.y.cells(), mesh.z.cells()];
        let strides = mesh.strides();
        let mut capacity_j_k = vec![0.0; cells];
        for (cell, material) in materials.iter().enumerate() {
            let volume = mesh.volume_m3(cell);
            capacity_j_k[cell] = material.map_or(0.0, |m| m.capacity_j_m3_k * volume);
        }
        let film = |film: f64| Face { resistance_m2k_w: 1.0 / film, beyond_k: None };
        let ends = [around.x, around.y, [around.base, film(around.top_film_w_m2k)]];
        let bare = film(around.bare_film_w_m2k);
        // On a round mesh y is an angle, on which nothing depends.
        let directions = (0..3)
            .filter(|axis| !mesh.is_round || *axis != 1)
            .map(|axis| {
                let open = if axis == 2 { film(around.top_film_w_m2k) } else { bare };
                Direction::new(mesh, materials, axis, ends[axis], open)
            })
            .filter(|direction| !direction.is_idle())
            .collect();
        let inverse_capacity =
            capacity_j_k.iter().map(|c| if *c > 0.0 { 1.0 / c } else { 0.0 }).collect();
        let zeros = vec![0.0; cells];
        Self {
            sizes,
            strides,
            directions,
            capacity_j_k,
            inverse_capacity,
            first: zeros.clone(),
            second: zeros.clone(),
            middle: zeros,
            is_even,
        }
    }

    pub(super) fn capacity_j_k(&self) -> &[f64] {
        &self.capacity_j_k
    }

    /// Heat that leaves the box now, W.
    pub(super) fn loss_w(&self, t_k: &[f64], air_k: f64) -> f64 {
        self.directions
            .iter()
            .flat_map(|direction| &direction.edges)
            .map(|edge| -edge.heat_w(t_k[edge.cell], air_k))
            .sum()
    }

    /// One step with the air as it is in its middle.
    ///
    /// With materials alike all directions are taken in one. Metal beside resin
    /// would make that grow; then each direction takes a step of its own, in
    /// turn and back (G. Strang, 1968): symmetric operators one by one, none of
    /// which can grow at any step, at the price of a little error in steady states.
    pub(super) fn step(&mut self, t_k: &mut [f64], h: f64, air_k: f64) {
        if self.is_even {
            return self.step_of(0..self.directions.len(), t_k, h, air_k);
        }
        let Some(last) = self.directions.len().checked_sub(1) else { return };
        for one in 0..last {
            self.step_of(one..one + 1, t_k, 0.5 * h, air_k);
        }
        self.step_of(last..last + 1, t_k, h, air_k);
        for one in (0..last).rev() {
            self.step_of(one..one + 1, t_k, 0.5 * h, air_k);
        }
    }

    /// ROS2 in some of the directions.
    fn step_of(&mut self, which: Range<usize>, t_k: &mut [f64], h: f64, air_k: f64) {
        for direction in &mut self.directions[which.clone()] {
            direction.prepare(GAMMA * h, &self.inverse_capacity, self.sizes, self.strides);
        }
        let mut first = std::mem::take(&mut self.first);
        self.rates(which.clone(), t_k, air_k, h, &mut first);
        self.solve(which.clone(), &mut first);
        for ((middle, t), k) in self.middle.iter_mut().zip(t_k.iter()).zip(&first) {
            *middle = t + k;
        }
        let mut second = std::mem::take(&mut self.second);
        self.rates(which.clone(), &self.middle, air_k, h, &mut second);
        for (second, first) in second.iter_mut().zip(&first) {
            *second -= 2.0 * first;
        }
        self.solve(which, &mut second);
        for ((t, first), second) in t_k.iter_mut().zip(&first).zip(&second) {
            *t += 1.5 * first + 0.5 * second;
        }
        self.first = first;
        self.second = second;
    }

    /// h times the rate of temperature of every cell, K.
    fn rates(&self, which: Range<usize>, t_k: &[f64], air_k: f64, h: f64, out: &mut [f64]) {
        out.fill(0.0);
        for d in &self.directions[which] {
            let stride = self.strides[d.axis];
            for edge in &d.edges {
                out[edge.cell] += edge.heat_w(t_k[edge.cell], air_k);
            }
            // The last of a chain has no next one: its conductance is 0.
            let pairs = || d.next_w_k.iter().zip(t_k).zip(&t_k[stride..]);
            for (out, ((next, low), high)) in out.iter_mut().zip(pairs()) {
                *out += next * (high - low);
            }
            for (out, ((next, low), high)) in out[stride..].iter_mut().zip(pairs()) {
                *out -= next * (high - low);
            }
        }
        for (out, inverse) in out.iter_mut().zip(&self.inverse_capacity) {
            *out *= h * inverse;
        }
    }

    fn solve(&self, which: Range<usize>, x: &mut [f64]) {
        for direction in &self.directions[which] {
            direction.solve(x, self.sizes, self.strides);
        }
    }
}

impl Direction {
    fn new(
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
            axis,
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
    fn is_idle(&self) -> bool {
        [&self.next_w_k, &self.out_w_k].iter().all(|all| all.iter().all(|g| *g <= 0.0))
    }

    /// Factorises (1 − `scale`·L/C) along every chain. Whole planes of cells
    /// are taken at a time, so that the inner loop runs over neighbours.
    fn prepare(&mut self, scale: f64, inverse_c: &[f64], sizes: [usize; 3], strides: [usize; 3]) {
        if (self.prepared - scale).abs() <= 0.0 {
            return;
        }
        self.prepared = scale;
        let stride = strides[self.axis];
        for (start, length) in rows(self.axis, sizes, strides) {
            for (cell, inverse_c) in (start..).zip(&inverse_c[start..start + length]) {
                let first = (cell / stride).is_multiple_of(sizes[self.axis]);
                let before = if first { 0.0 } else { self.next_w_k[cell - stride] };
                let next = self.next_w_k[cell];
                let g = before + next + self.out_w_k[cell];
                let lower = -scale * inverse_c * before;
                let mut pivot = 1.0 + scale * inverse_c * g;
                if !first {
                    pivot -= lower * self.upper[cell - stride];
                }
                let inverse = 1.0 / pivot;
                self.lower[cell] = lower * inverse;
                self.upper[cell] = -scale * inverse_c * next * inverse;
                self.inverse[cell] = inverse;
            }
        }
    }

    /// Solves along every chain. The first of a chain has no lower neighbour and the last no upper one:
    /// their factors are 0.
    fn solve(&self, x: &mut [f64], sizes: [usize; 3], strides: [usize; 3]) {
        let stride = strides[self.axis];
        for (x, inverse) in x.iter_mut().zip(&self.inverse) {
            *x *= inverse;
        }
        if stride == 1 {
            return self.solve_neighbours(x, sizes[self.axis]);
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
    fn solve_neighbours(&self, x: &mut [f64], length: usize) {
        let chains = x.chunks_exact_mut(length);
        let factors = self.lower.chunks_exact(length).zip(self.upper.chunks_exact(length));
        for (x, (lower, upper)) in chains.zip(factors) {
            let mut before = 0.0;
            for (x, lower) in x.iter_mut().zip(lower) {
                before = *x - lower * before;
                *x = before;
            }
            let mut next = 0.0;
            for (x, upper) in x.iter_mut().zip(upper).rev() {
                next = *x - upper * next;
                *x = next;
            }
        }
    }
}

/// Runs of neighbouring cells in an order in which every cell comes after the
/// one before it in its chain.
fn rows(
    axis: usize,
    sizes: [usize; 3],
    strides: [usize; 3],
) -> impl Iterator<Item = (usize, usize)> {
    let length = if axis == 0 { sizes[0] } else { strides[axis] };
    let total = sizes[0] * sizes[1] * sizes[2];
    (0..total / length).map(move |row| (row * length, length))
}

#[cfg(test)]
mod tests;

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

mod direction;

use std::ops::Range;

use fondant_materials::Material;
use fondant_numerics::lanes::Wide;

use self::direction::Direction;
use super::body::{Around, Face};
use super::mesh::Mesh;

const GAMMA: f64 = 1.0 - std::f64::consts::FRAC_1_SQRT_2;

/// Beyond this contrast of conductivities the product of two directions is no longer stable at long
/// steps, and each direction takes its own. The product of three is not beside any other material:
/// at the edge of timber over thin resin it grew by 13 K.
const EVEN_CONTRAST: f64 = 4.0;

/// What each cell exchanges with its neighbours and with what is around.
#[derive(Debug, Clone)]
pub(super) struct Conduction {
    directions: Vec<Direction>,
    /// Heat capacity of each cell, J/K; its inverse; 0 where there is nothing.
    capacity_j_k: Vec<f64>,
    inverse_capacity: Vec<f64>,
    first: Vec<f64>,
    second: Vec<f64>,
    middle: Vec<f64>,
    is_even: bool,
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
        Wide::new().run(
            #[inline(always)]
            || self.step_here(which, t_k, h, air_k),
        );
    }

    #[inline(always)]
    fn step_here(&mut self, which: Range<usize>, t_k: &mut [f64], h: f64, air_k: f64) {
        for direction in &mut self.directions[which.clone()] {
            direction.prepare(GAMMA * h, &self.inverse_capacity);
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
    #[inline(always)]
    fn rates(&self, which: Range<usize>, t_k: &[f64], air_k: f64, h: f64, out: &mut [f64]) {
        out.fill(0.0);
        for d in &self.directions[which] {
            let stride = d.stride;
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

    #[inline(always)]
    fn solve(&self, which: Range<usize>, x: &mut [f64]) {
        for direction in &self.directions[which] {
            direction.solve(x);
        }
    }
}

#[cfg(test)]
mod tests;

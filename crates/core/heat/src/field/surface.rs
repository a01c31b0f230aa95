//! The free surface of the resin, whose window decides when the next layer bonds.

use super::body::{Content, Face};
use super::state::{Field, Surface};

impl Field {
    /// The free surface over the topmost cells of resin. Where the resin was
    /// covered by fresh resin, the old surface has become interior.
    pub(super) fn settle_surface(&mut self, conversion: f64) {
        let mesh = &self.body.mesh;
        let stride = mesh.strides()[2];
        let levels = mesh.z.cells();
        let old = std::mem::take(&mut self.surface);
        let tops: Vec<usize> = self
            .wet
            .iter()
            .copied()
            .filter(|cell| {
                let top = mesh.place(*cell)[2] + 1 == levels;
                top || self.body.contents[cell + stride] == Content::Resin
                    && !self.poured[cell + stride]
            })
            .collect();
        self.surface = tops
            .iter()
            .map(|cell| {
                old.iter().find(|s| s.cell == *cell).copied().unwrap_or(Surface {
                    cell: *cell,
                    t_k: self.t_k[*cell],
                    conversion,
                })
            })
            .collect();
        for index in 0..self.surface.len() {
            self.surface[index].t_k = self.surface_k(self.surface[index].cell);
        }
        // The window that counts is that of the middle: at the line of symmetry,
        // or farthest from all that is solid.
        self.main = (0..self.surface.len())
            .max_by(|a, b| self.freedom(*a).total_cmp(&self.freedom(*b)))
            .unwrap_or(0);
    }

    /// How far a place of the surface is from the next solid or closed end, m.
    fn freedom(&self, index: usize) -> f64 {
        let mesh = &self.body.mesh;
        let cell = self.surface[index].cell;
        let [i, j, k] = mesh.place(cell);
        let x = mesh.x.middle_m(i);
        let solid = (0..mesh.x.cells())
            .filter(|other| {
                let at = mesh.strides()[2] * k + mesh.strides()[1] * j + other;
                self.body.contents[at] != Content::Resin
            })
            .map(|other| (mesh.x.middle_m(other) - x).abs());
        let open = |face: Face, at: f64| {
            if face.resistance_m2k_w.is_finite() { (x - at).abs() } else { f64::INFINITY }
        };
        let faces = mesh.x.faces_m();
        solid
            .fold(f64::INFINITY, f64::min)
            .min(open(self.around.x[0], faces[0]))
            .min(open(self.around.x[1], faces[faces.len() - 1]))
            .min(1e3 - 1e-3 * x)
    }

    /// The true surface over a step, its temperature by a straight line
    /// between the ends of steps: inside the split step it has no meaning.
    pub(super) fn cure_surface(&mut self, h: f64) {
        for index in 0..self.surface.len() {
            let Surface { cell, t_k, conversion } = self.surface[index];
            let now_k = self.surface_k(cell);
            let cure = self.at(cell).cure;
            let first = cure.rate_per_s(conversion, t_k);
            let rate = cure.rate_per_s(conversion + 0.5 * h * first, 0.5 * (t_k + now_k));
            self.surface[index] = Surface { cell, t_k: now_k, conversion: conversion + h * rate };
        }
        self.work.evaluations += 2 * self.surface.len() as u64;
    }

    /// Temperature of the true surface over a cell now.
    pub(super) fn surface_k(&self, cell: usize) -> f64 {
        let film = self.around.top_film_w_m2k;
        let air_k = self.around.air.at(self.time_s);
        if film <= 0.0 {
            return self.t_k[cell];
        }
        let mesh = &self.body.mesh;
        let half =
            0.5 * mesh.z.width_m(mesh.place(cell)[2]) / self.at(cell).resin.conductivity_w_m_k;
        air_k + (self.t_k[cell] - air_k) / (film * (1.0 / film + half))
    }
}

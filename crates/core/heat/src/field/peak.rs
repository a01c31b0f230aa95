//! The hottest point over space and time, between cells and between steps.

use serde::{Deserialize, Serialize};

use super::mesh::{Axis, Mesh};

/// Most that a parabola may lift the hottest cell in each direction, K. On a
/// mesh that is fine enough it is tenths; beside a steep edge it says nothing.
const MOST_GAIN_K: f64 = 1.0;

/// A hottest point.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Peak {
    /// Temperature, K.
    pub t_k: f64,
    /// When, s from the first pour.
    pub at_s: f64,
    /// Where, m: across, along, up.
    pub place_m: [f64; 3],
}

/// Follows a temperature that rises and falls, and keeps its maximum.
#[derive(Debug, Clone, Default)]
pub(super) struct Highest {
    before: Option<Peak>,
    now: Option<Peak>,
    best: Option<Peak>,
}

impl Highest {
    /// The hottest point at the end of a step.
    pub(super) fn see(&mut self, next: Peak) {
        if self.best.is_none_or(|best| next.t_k > best.t_k) {
            self.best = Some(next);
        }
        if let (Some(before), Some(now)) = (self.before, self.now) {
            self.between(before, now, next);
        }
        self.before = self.now;
        self.now = Some(next);
    }

    /// The vertex of the parabola through three moments, where they rise to
    /// the one in the middle and fall from it.
    fn between(&mut self, a: Peak, b: Peak, c: Peak) {
        if b.t_k < a.t_k || b.t_k < c.t_k {
            return;
        }
        if let Some((at_s, t_k)) = vertex([a.at_s, b.at_s, c.at_s], [a.t_k, b.t_k, c.t_k])
            && self.best.is_none_or(|best| t_k > best.t_k)
        {
            self.best = Some(Peak { t_k, at_s, place_m: b.place_m });
        }
    }

    pub(super) fn best(&self) -> Option<Peak> {
        self.best
    }
}

/// The maximum of the parabola through three points, where it has one between
/// the outer two.
fn vertex(x: [f64; 3], y: [f64; 3]) -> Option<(f64, f64)> {
    let (left, right) = ((y[1] - y[0]) / (x[1] - x[0]), (y[2] - y[1]) / (x[2] - x[1]));
    let bend = (right - left) / (x[2] - x[0]);
    if bend >= 0.0 || !bend.is_finite() {
        return None;
    }
    let at = 0.5 * (x[0] + x[1]) - 0.5 * left / bend;
    let value = y[0] + (at - x[0]) * (left + bend * (at - x[1]));
    (at >= x[0] && at <= x[2]).then_some((at, value))
}

/// The hottest point around the hottest cell: a parabola in each direction
/// through it and its neighbours of the same layer of resin. At a closed end of
/// the mesh the field goes on as in a mirror.
pub(super) fn around(
    mesh: &Mesh,
    cell: usize,
    mirrored: [[bool; 2]; 3],
    t_of: impl Fn(usize) -> Option<f64>,
) -> ([f64; 3], f64) {
    let place = mesh.place(cell);
    let mut place_m = mesh.middle_m(cell);
    let hottest = t_of(cell).unwrap_or_default();
    let mut t_k = hottest;
    for direction in 0..3 {
        let axis = mesh.axis(direction);
        if axis.cells() < 2 {
            continue;
        }
        let stride = mesh.strides()[direction];
        let at = place[direction];
        let low = match at.checked_sub(1) {
            Some(below) => t_of(cell - stride).map(|t| (axis.middle_m(below), t)),
            None => mirrored[direction][0].then(|| (mirror(axis, 0, at), hottest)),
        };
        let high = if at + 1 < axis.cells() {
            t_of(cell + stride).map(|t| (axis.middle_m(at + 1), t))
        } else {
            mirrored[direction][1].then(|| (mirror(axis, axis.cells(), at), hottest))
        };
        if let (Some(low), Some(high)) = (low, high) {
            let x = [low.0, axis.middle_m(at), high.0];
            if let Some((at_m, value)) = vertex(x, [low.1, hottest, high.1]) {
                place_m[direction] = at_m;
                t_k += (value - hottest).clamp(0.0, MOST_GAIN_K);
            }
        }
    }
    (place_m, t_k)
}

fn mirror(axis: &Axis, face: usize, cell: usize) -> f64 {
    2.0 * axis.faces_m()[face] - axis.middle_m(cell)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_vertex_of_unequal_steps_is_exact() {
        let curve = |x: f64| 330.0 - 2.0 * (x - 0.37).powi(2);
        let x = [0.0, 0.3, 1.1];
        let (at, value) = vertex(x, x.map(curve)).unwrap();
        assert!((at - 0.37).abs() < 1e-12 && (value - 330.0).abs() < 1e-12);
        assert!(vertex(x, [1.0, 2.0, 9.0]).is_none(), "it bends the other way");
    }

    #[test]
    fn a_peak_on_a_line_of_symmetry_is_found_there() {
        let mesh = Mesh {
            is_round: false,
            x: Axis::equal(&[(0.0, 0.1, 10)]),
            y: Axis::single(1.0),
            z: Axis::equal(&[(0.0, 0.04, 8)]),
        };
        let field = |c: usize| {
            330.0 - 9e3 * mesh.middle_m(c)[0].powi(2) - 2e4 * (mesh.middle_m(c)[2] - 0.013).powi(2)
        };
        let cell = (0..mesh.cells()).max_by(|a, b| field(*a).total_cmp(&field(*b))).unwrap();
        let mirrored = [[true, false], [true, true], [false, false]];
        let (place, t_k) = around(&mesh, cell, mirrored, |c| Some(field(c)));
        assert!(place[0].abs() < 1e-12 && (place[2] - 0.013).abs() < 1e-9, "{place:?}");
        assert!((t_k - 330.0).abs() < 1e-9);
    }

    #[test]
    fn a_maximum_between_steps_is_caught() {
        let mut highest = Highest::default();
        for at_s in [0.0, 60.0, 150.0, 260.0] {
            let t_k = 320.0 - 1e-3 * (at_s - 130.0f64).powi(2);
            highest.see(Peak { t_k, at_s, place_m: [0.0; 3] });
        }
        let best = highest.best().unwrap();
        assert!((best.t_k - 320.0).abs() < 1e-9 && (best.at_s - 130.0).abs() < 1e-6);
    }
}

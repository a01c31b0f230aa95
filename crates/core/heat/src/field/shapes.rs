//! Sections of the usual shapes, meshed.

use super::body::{Body, Content};
use super::mesh::{Axis, Mesh, Sizing};
use fondant_materials::Material;

/// Cells over the depth of one layer, where it is the only one. Between 10 and
/// 40 cells the peak of a 40 mm river moves by a tenth of a kelvin.
const CELLS_UP: usize = 16;
/// Fewest cells of a layer.
const FEWEST_UP: usize = 4;
/// Most cells over all layers together.
const MOST_UP: usize = 48;
/// Each cell is at most this much larger than its neighbour.
const GROWTH: f64 = 1.3;

/// A straight channel between two boards of its own thickness, cut across.
#[derive(Debug, Clone, PartialEq)]
pub struct Channel {
    /// Depths of its layers from below.
    pub layers_m: Vec<f64>,
    /// Width of the channel from board to board, m.
    pub width_m: f64,
    /// Widths of the boards to the left and to the right. Equal ones are
    /// computed as one half of the section.
    pub boards_m: [f64; 2],
    /// What the boards are of.
    pub timber: Material,
}

impl Channel {
    /// Its cells; x counts from the middle of the channel.
    #[must_use]
    pub fn body(&self) -> Body {
        let depth: f64 = self.layers_m.iter().sum();
        let half = 0.5 * self.width_m;
        let is_symmetric = (self.boards_m[0] - self.boards_m[1]).abs() < 1e-9;
        let places = if is_symmetric {
            vec![0.0, half, half + self.boards_m[1]]
        } else {
            vec![-half - self.boards_m[0], -half, half, half + self.boards_m[1]]
        };
        let last = places.len() - 1;
        let sizing = across(depth.min(self.width_m));
        let x = Axis::graded(&places, |index| index == 0 || index == last, sizing);
        let mesh = Mesh { is_round: false, x, y: Axis::single(1.0), z: up(&self.layers_m) };
        Body::new(
            mesh,
            |[x, ..]| {
                if x.abs() < half { Content::Resin } else { Content::Solid(self.timber) }
            },
        )
    }
}

/// How cells lie beside faces of timber, by the depth or width that sets the
/// scale of the heat.
#[must_use]
pub fn across(scale_m: f64) -> Sizing {
    Sizing {
        smallest_m: (scale_m / CELLS_UP as f64).max(2e-4),
        largest_m: (scale_m / 5.0).max(4e-4),
        growth: GROWTH,
    }
}

/// Equal cells in each layer, in number by its share of the whole depth.
#[must_use]
pub fn up(layers_m: &[f64]) -> Axis {
    let depth: f64 = layers_m.iter().sum();
    let total = (CELLS_UP + 6 * layers_m.len().saturating_sub(1)).min(MOST_UP);
    let mut from = 0.0;
    let stretches: Vec<(f64, f64, usize)> = layers_m
        .iter()
        .map(|layer| {
            let cells = ((layer / depth * total as f64).round() as usize).max(FEWEST_UP);
            let to = from + layer;
            (std::mem::replace(&mut from, to), to, cells)
        })
        .collect();
    Axis::equal(&stretches)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_channel_has_its_width_of_resin() {
        for boards_m in [[0.15, 0.15], [0.03, 0.15]] {
            let channel = Channel {
                layers_m: vec![0.02, 0.02],
                width_m: 0.12,
                boards_m,
                timber: Material::timber(650.0, 10.0),
            };
            let body = channel.body();
            let x = &body.mesh().x;
            let wet: f64 = (0..x.cells())
                .filter(|i| body.contents()[*i] == Content::Resin)
                .map(|i| x.width_m(i))
                .sum();
            let halves = if boards_m[0] < boards_m[1] { 1.0 } else { 2.0 };
            assert!((wet * halves - 0.12).abs() < 1e-12, "{wet}");
        }
    }

    #[test]
    fn thin_layers_keep_a_few_cells_and_deep_ones_do_not_grow_without_end() {
        assert_eq!(up(&[0.04]).cells(), 16);
        assert_eq!(up(&[0.002, 0.04]).cells(), 4 + 21);
        assert!(up(&[0.01; 12]).cells() <= 60);
    }
}

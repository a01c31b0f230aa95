//! A block of resin in a form of walls, with an object in its middle: one quarter of it, meshed.

use fondant_materials::Material;
use serde::{Deserialize, Serialize};

use super::body::{Body, Content};
use super::mesh::{Axis, Mesh, Sizing};
use super::shapes;

/// A box of something that does not react, in the middle of a block.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Inside {
    /// Half its length and half its width, m.
    pub half_m: [f64; 2],
    /// Levels of its underside and its top, m.
    pub levels_m: [f64; 2],
    /// Material of the object.
    pub of: Material,
}

/// Resin in a box between walls.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Block {
    /// Length and width, m.
    pub size_m: [f64; 2],
    /// What stands in its middle.
    pub inside: Option<Inside>,
}

/// How finely a block is meshed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fineness {
    /// Cells at a wall over the shortest half side, or what an object leaves of it.
    pub half_cells: f64,
    /// How much larger cells far from any wall may be.
    pub largest: f64,
    /// Fewest cells from the middle to a wall: in a wide block they may be larger yet.
    pub across: f64,
}

/// Cells of a block that is looked at: as fine everywhere.
pub const LOOKED_AT: Fineness = Fineness { half_cells: 11.0, largest: 1.0, across: f64::INFINITY };
/// Each cell is at most this much larger than its neighbour.
const GROWTH: f64 = 1.4;
/// An object's face closer to a wall than this is the wall's, m.
const MERGED_M: f64 = 1e-3;

/// How far a side is from the middle of a layer, as far as it is felt there, m. Nearer than six
/// depths sides matter, and stay where they are.
pub(crate) fn felt_m(half_m: f64, depth_m: f64) -> f64 {
    const DEPTHS: f64 = 6.0;
    half_m.min(DEPTHS * depth_m)
}

impl Inside {
    fn holds(&self, [x, y, z]: [f64; 3]) -> bool {
        let [low, high] = self.levels_m;
        x < self.half_m[0] && y < self.half_m[1] && z > low && z < high
    }
}

impl Block {
    /// Its cells, poured in layers; x and y count from its middle. A wall that is too far off to be
    /// felt in the middle is moved in.
    #[must_use]
    pub fn body(&self, layers_m: &[f64], fineness: Fineness) -> Body {
        let height: f64 = layers_m.iter().sum();
        let object = |way: usize| self.inside.map(|inside| inside.half_m[way]);
        let [half_x, half_y] = [0, 1].map(|way| {
            let object = object(way).unwrap_or(0.0);
            object + felt_m(0.5 * self.size_m[way] - object, height)
        });
        let open = |half: f64, way: usize| half - object(way).unwrap_or(0.0);
        let cell = open(half_x, 0).min(open(half_y, 1)).min(height) / fineness.half_cells;
        let up = Sizing { smallest_m: cell, largest_m: cell * fineness.largest, growth: GROWTH };
        let across = |half: f64, object: Option<f64>| {
            let sizing = Sizing { largest_m: up.largest_m.max(half / fineness.across), ..up };
            let mut places = vec![0.0];
            places.extend(object.filter(|at| *at > MERGED_M && *at < half - MERGED_M));
            places.push(half);
            Axis::graded(&places, |index| index == 0, sizing)
        };
        let z = match layers_m {
            [_] => {
                let levels = self.inside.iter().flat_map(|inside| inside.levels_m);
                let mut places = vec![0.0];
                places.extend(levels.filter(|at| *at > MERGED_M && *at < height - MERGED_M));
                places.push(height);
                places.dedup_by(|a, b| *a - *b < MERGED_M);
                Axis::graded(&places, |_| false, up)
            }
            _ => shapes::up(layers_m),
        };
        let mesh = Mesh { x: across(half_x, object(0)), y: across(half_y, object(1)), z };
        Body::new(mesh, |at| match &self.inside {
            Some(inside) if inside.holds(at) => Content::Solid(inside.of),
            _ => Content::Resin,
        })
    }
}

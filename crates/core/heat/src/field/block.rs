//! A block of resin in a form of walls or a cavity of a mould, with an object in its middle: one
//! quarter of it, meshed.

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

/// The solid in which a cavity is, as high as the resin stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Shell {
    /// Thickness along and across, m.
    pub thick_m: [f64; 2],
    /// Material of the mould or the board.
    pub of: Material,
}

/// Resin in a box between walls, or in a cylinder.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Block {
    /// Length and width, m; of a round one both are its diameter.
    pub size_m: [f64; 2],
    /// Whether block, object and shell are round: every half side is a radius.
    #[serde(default)]
    pub is_round: bool,
    /// What stands in its middle.
    pub inside: Option<Inside>,
    /// What a cavity is in; a block between thin walls has none.
    #[serde(default)]
    pub shell: Option<Shell>,
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

/// Cells of a block that is looked at: as fine everywhere but in a wide one.
pub const LOOKED_AT: Fineness = Fineness { half_cells: 11.0, largest: 1.0, across: 40.0 };
/// Each cell is at most this much larger than its neighbour.
const GROWTH: f64 = 1.4;
/// A block this many times as high as what is open to its sides has nothing to resolve along its
/// height but its ends.
const TALL_RATIO: f64 = 4.0;
/// An object's face closer to a wall than this is the wall's, m.
const MERGED_M: f64 = 1e-3;

/// How far a side is from the middle of a layer, as far as it is felt there, m.
pub(crate) fn felt_m(half_m: f64, depth_m: f64) -> f64 {
    half_m.min(reach_m(depth_m))
}

/// Sides of a layer are felt from this far, m: six depths, and no less than heat spreads while a
/// layer warms up. At 65 mm the walls of a block still took 1.1 K from a coating epoxy of 11 mm.
pub(crate) fn reach_m(depth_m: f64) -> f64 {
    const DEPTHS: f64 = 6.0;
    const LEAST_M: f64 = 0.1;
    LEAST_M.max(DEPTHS * depth_m)
}

impl Inside {
    fn holds(&self, [x, y, z]: [f64; 3]) -> bool {
        let [low, high] = self.levels_m;
        x < self.half_m[0] && y < self.half_m[1] && z > low && z < high
    }
}

impl Block {
    /// A box of thin walls with something in its middle.
    #[must_use]
    pub const fn new(size_m: [f64; 2], inside: Option<Inside>) -> Self {
        Self { size_m, is_round: false, inside, shell: None }
    }

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
        let beside =
            Sizing { smallest_m: cell, largest_m: cell * fineness.largest, growth: GROWTH };
        let narrow = open(half_x, 0).min(open(half_y, 1));
        let up = Sizing {
            largest_m: if height > TALL_RATIO * narrow { narrow } else { beside.largest_m },
            ..beside
        };
        let across = |half: f64, way: usize| {
            let sizing =
                Sizing { largest_m: beside.largest_m.max(half / fineness.across), ..beside };
            let mut places = vec![0.0];
            places.extend(object(way).filter(|at| *at > MERGED_M && *at < half - MERGED_M));
            places.push(half);
            let wall = places.len() - 1;
            places.extend(self.shell.map(|shell| half + shell.thick_m[way].max(MERGED_M)));
            Axis::graded(&places, |index| index == 0 || index > wall, sizing)
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
        let y = if self.is_round { Axis::single(1.0) } else { across(half_y, 1) };
        let mesh = Mesh { is_round: self.is_round, x: across(half_x, 0), y, z };
        Body::new(mesh, |[x, y, z]| {
            // On a round mesh y is an angle, no distance.
            let y = if self.is_round { 0.0 } else { y };
            match (&self.inside, &self.shell) {
                (_, Some(shell)) if x > half_x || y > half_y => Content::Solid(shell.of),
                (Some(inside), _) if inside.holds([x, y, z]) => Content::Solid(inside.of),
                _ => Content::Resin,
            }
        })
    }
}

//! Resin between its sides, meshed coarsely: half a channel, a channel between unlike sides, a
//! quarter of a block.

use fondant_materials::Material;

use crate::field::{
    Around, Axis, Block, Body, Content, Face, Fineness, Mesh, Sizing, felt_m, reach_m,
};

/// Material beside a stretch of resin.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Beside {
    /// Timber or another solid, so thick, m; no heat passes its far face.
    Solid(Material, f64),
    /// A wall of the form, and what is beyond it.
    Wall(Face),
}

/// Resin from one side to the other.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stretch {
    /// From side to side, m.
    pub width_m: f64,
    /// Material on the low and the high side.
    pub beside: [Beside; 2],
}

/// How far resin reaches, in as many dimensions as its heat needs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Extent {
    /// A channel, as long as it may be.
    Channel(Stretch),
    /// A block between walls.
    Block(Block),
}

/// Cells over the depth: the peak is 0.1 K above that of twice as many.
const CELLS_UP: usize = 8;
/// Largest cells, by the depth or the width, and how they grow from the sides.
const LARGEST_RATIO: f64 = 0.34;
const GROWTH: f64 = 1.5;
/// Heat of a cure goes no farther into timber, m.
const FELT_IN_TIMBER_M: f64 = 0.15;
/// Cells of a block: twice as many make the peak of a cube of 100 mm 0.15 K lower.
const COARSE: Fineness = Fineness { half_cells: 7.0, largest: 1.5, across: 6.0 };

/// From which width on resin has a middle to which its sides do not matter, in a layer of a depth; m.
#[must_use]
pub fn wide_m(depth_m: f64) -> f64 {
    2.0 * reach_m(depth_m)
}

/// Whether resin this far from side to side is [that wide](wide_m); m.
#[must_use]
pub fn is_wide(open_m: f64, depth_m: f64) -> bool {
    open_m >= wide_m(depth_m)
}

impl Extent {
    /// Its cells for a layer of a depth, and what is around them.
    pub(super) fn meshed(&self, depth_m: f64, around: &Around) -> (Body, Around) {
        match self {
            Self::Channel(stretch) => stretch.meshed(depth_m, around),
            Self::Block(block) => (block.body(&[depth_m], COARSE), around.clone()),
        }
    }

    /// Whether it is a block with nothing but resin in its mesh, or a channel, which needs no more.
    pub(super) fn is_all_resin(&self) -> bool {
        match self {
            Self::Channel(_) => true,
            Self::Block(block) => block.inside.is_none() && block.shell.is_none(),
        }
    }

    /// Whether its sides are too far off to matter to a layer of a depth.
    pub(super) fn is_wide(&self, depth_m: f64) -> bool {
        let open_m = match self {
            Self::Channel(stretch) => stretch.width_m,
            Self::Block(Block { size_m, inside, .. }) => {
                let open = |way: usize| match inside {
                    Some(inside) => 0.5 * size_m[way] - inside.half_m[way],
                    None => size_m[way],
                };
                open(0).min(open(1))
            }
        };
        is_wide(open_m, depth_m)
    }

    /// The narrower way from side to side, m.
    #[must_use]
    pub fn width_m(&self) -> f64 {
        match self {
            Self::Channel(stretch) => stretch.width_m,
            Self::Block(block) => block.size_m[0].min(block.size_m[1]),
        }
    }
}

impl Stretch {
    fn meshed(&self, depth_m: f64, around: &Around) -> (Body, Around) {
        let half_m = felt_m(0.5 * self.width_m, depth_m);
        let scale = depth_m.min(2.0 * half_m);
        let sizing = Sizing {
            smallest_m: scale / CELLS_UP as f64,
            largest_m: scale * LARGEST_RATIO,
            growth: GROWTH,
        };
        let [low, high] = self.beside.map(|beside| match beside {
            Beside::Solid(of, thick_m) => {
                (Some(of), half_m + thick_m.clamp(sizing.smallest_m, FELT_IN_TIMBER_M))
            }
            Beside::Wall(_) => (None, half_m),
        });
        let is_symmetric = self.beside[0] == self.beside[1];
        // Equal sides are worked out as one half of the section.
        let mut places = if is_symmetric { vec![0.0] } else { vec![-low.1, -half_m] };
        places.extend([half_m, high.1]);
        places.dedup_by(|a, b| (*a - *b).abs() < 1e-12);
        let last = places.len() - 1;
        let is_plain = |index: usize| match index {
            // Cells need not be fine at a line of symmetry or the far edge of timber.
            0 => is_symmetric || low.0.is_some(),
            index => index == last && high.0.is_some(),
        };
        let x = Axis::graded(&places, is_plain, sizing);
        let z = Axis::equal(&[(0.0, depth_m, CELLS_UP)]);
        let content = |[x, _, _]: [f64; 3]| {
            let beside = if x < 0.0 { low.0 } else { high.0 };
            match beside {
                Some(of) if x.abs() > half_m => Content::Solid(of),
                _ => Content::Resin,
            }
        };
        let ends = self.beside.map(|beside| match beside {
            Beside::Solid(..) => Face::CLOSED,
            Beside::Wall(face) => face,
        });
        let ends = if is_symmetric { [Face::CLOSED, ends[1]] } else { ends };
        (
            Body::new(Mesh { is_round: false, x, y: Axis::single(1.0), z }, content),
            between(around, ends),
        )
    }
}

/// What is around a section that ends so across. Walls stand later in what the form stands in later.
fn between(around: &Around, ends: [Face; 2]) -> Around {
    let later = |face: Face, later: Face| if face == Face::CLOSED { face } else { later };
    Around {
        x: ends,
        y: [Face::CLOSED; 2],
        then: around.then.as_ref().map(|then| {
            let at = [0, 1].map(|end| later(ends[end], then.1.x[1]));
            Box::new((then.0, between(&then.1, at)))
        }),
        ..around.clone()
    }
}

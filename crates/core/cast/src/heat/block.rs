//! Casts that are as deep as they are wide, as blocks: a block with its object, a cavity of a mould
//! or of a board.

use fondant_heat::Air;
use fondant_heat::cooling::Cooling;
use fondant_heat::field::{Around, Block, Face, Inside, Shell};
use fondant_materials::Material;
use fondant_quantities::{Area, Length};
use fondant_shapes::blanks::{Hollow, Stance, Tube};
use fondant_shapes::timber::Cavity;
use serde::{Deserialize, Serialize};

use super::section::{USUAL_MOISTURE, solid};
use crate::document::{Cavities, Contents, Document, Inlay};
use crate::measure::{Measured, mould_grid, pressed_in};

/// An object reaches at most to this share of a block's side from its middle.
const MOST_OF_HALF: f64 = 0.48;
/// Cavities up to this many times as long as wide are taken as round.
const NEARLY_SQUARE_RATIO: f64 = 1.25;
/// Timber beside a cavity of a board, m, and by its width: heat of a cure goes no farther.
const TIMBER_FELT_M: f64 = 0.08;
const TIMBER_FELT_RATIO: f64 = 1.5;
/// A plug that ends this close to the rim ends there.
const PLUGGED: Length = Length::from_mm(4.0);

/// Resin as deep as it is wide.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub(crate) struct Boxed {
    /// The block.
    #[serde(flatten)]
    pub(crate) block: Block,
    /// Whether cavities lie beside it along and across. They are as warm, so that no heat goes there.
    #[serde(default)]
    neighbours: [bool; 2],
}

impl Boxed {
    /// The resin of a cast; `None` for what is wide: rivers and coats.
    pub(crate) fn of(document: &Document, measured: &Measured) -> Option<Self> {
        match &document.contents {
            Contents::Block(_) | Contents::Embed(_) => {
                Some(Self { block: block(document, measured), neighbours: [false; 2] })
            }
            Contents::Tubes(tubes) => {
                let core = tube_in(tubes.tube, tubes.hollow);
                Some(Self::cavity(tubes.count, tubes.hollow, tubes.wall, core))
            }
            Contents::Moulds(moulds) => {
                let row = moulds.hottest()?;
                Some(Self::cavity(row.count, row.hollow, moulds.wall, piece_in(row)))
            }
            Contents::Inlay(inlay) => in_board(inlay),
            Contents::River(_) | Contents::Coat(_) => None,
        }
    }

    /// One in the middle of a mould's cavities, which gets hottest. One that is nearly square is
    /// taken as round, with as much resin and a little less wall for it.
    fn cavity(count: u32, hollow: Hollow, wall: Length, core: Option<Core>) -> Self {
        let neighbours = mould_grid(count, hollow, wall).map(|cavities| cavities > 1.0);
        let (length, width) = hollow.mouth();
        let of = Material::SILICONE;
        let is_round =
            hollow.is_round() || length.max(width) <= length.min(width) * NEARLY_SQUARE_RATIO;
        if !is_round {
            let shell = Some(Shell { thick_m: [wall.m(); 2], of });
            let size_m = [length.m(), width.m()];
            let inside = core.map(|core| core.inside(0.5 * core.area.m2().max(0.0).sqrt(), size_m));
            return Self { block: Block { shell, ..Block::new(size_m, inside) }, neighbours };
        }
        let radius_m = radius_of(hollow.volume() / hollow.depth());
        // Its share of the mould, as a ring.
        let own = (length + wall * 2.0) * (width + wall * 2.0);
        let thick_m = radius_of(own) - radius_m;
        let shell = Some(Shell { thick_m: [thick_m; 2], of });
        let inside = core.map(|core| core.inside(radius_of(core.area), [2.0 * radius_m; 2]));
        Self { block: Block { shell, ..round(radius_m, inside) }, neighbours }
    }

    /// What is around it under a shop's cooling.
    pub(crate) fn around(&self, cooling: Cooling, air: Air) -> Around {
        let around = cooling.around(air, true);
        if !self.block.is_round {
            return passing(&around, self.neighbours.map(|warm| if warm { 0.0 } else { 1.0 }));
        }
        let cool = self.neighbours.iter().filter(|warm| !**warm).count();
        passing(&around, [0.5 * cool as f64, 0.0])
    }
}

/// A cast in a box of walls, with the biggest of its objects in the middle: what else stands in it
/// only cools.
fn block(document: &Document, measured: &Measured) -> Block {
    let size_m = [measured.cast.length.m(), measured.cast.width.m()];
    let inserts = document.contents.inserts().iter();
    let biggest = inserts
        .filter(|insert| insert.height() > Length::ZERO)
        .max_by(|a, b| a.volume().m3().total_cmp(&b.volume().m3()));
    let inside = biggest.map(|insert| {
        let height = insert.height().m();
        // A box of its height and its volume, square across.
        let half = 0.5 * (insert.volume().m3() / height).sqrt();
        let floor = insert.above_floor.m();
        Inside {
            half_m: within([half; 2], size_m),
            levels_m: [floor, floor + height],
            of: solid(insert.stuff()),
        }
    });
    Block::new(size_m, inside)
}

/// What stands or lies in the middle of a cavity.
#[derive(Debug, Clone, Copy)]
struct Core {
    /// Area across, which it keeps whatever shape it is taken as.
    area: Area,
    levels_m: [f64; 2],
    /// Half its sides along and across, m, where it lies along the cavity.
    lying_m: Option<[f64; 2]>,
    of: Material,
}

impl Core {
    fn inside(self, half_m: f64, size_m: [f64; 2]) -> Inside {
        let half_m = self.lying_m.unwrap_or([half_m; 2]);
        Inside { half_m: within(half_m, size_m), levels_m: self.levels_m, of: self.of }
    }
}

fn tube_in(tube: Tube, hollow: Hollow) -> Option<Core> {
    let top = tube.length + tube.plugs;
    // The deepest pour is searched for beyond the cavity's depth: a tube that is plugged up to the rim
    // is taken to be as long as that.
    let is_to_the_rim = top > hollow.depth() - PLUGGED;
    let section = tube.outside * tube.outside * (std::f64::consts::PI / 4.0);
    let of = Material::brass_tube(tube.outside.m());
    (tube.outside > Length::ZERO).then(|| match tube.stance(&hollow) {
        Some(Stance::Lying) => {
            // A square bar of the same section, along the cavity.
            let side_m = section.m2().sqrt();
            let middle_m = 0.5 * hollow.depth().m();
            let levels_m = [middle_m - 0.5 * side_m, middle_m + 0.5 * side_m];
            let lying_m = Some([0.5 * top.m(), 0.5 * side_m]);
            Core { area: top * Length::from_m(side_m), levels_m, lying_m, of }
        }
        _ => {
            let top_m = if is_to_the_rim { f64::MAX } else { top.m() };
            Core { area: section, levels_m: [0.0, top_m], lying_m: None, of }
        }
    })
}

fn piece_in(row: &Cavities) -> Option<Core> {
    let pressed = row.pressed?;
    let (side, height) = pressed_in(row);
    (side > Length::ZERO).then(|| Core {
        area: side * side,
        levels_m: [row.lies_at().m(), (row.lies_at() + height).m()],
        lying_m: None,
        of: Material::timber(pressed.density.kg_m3(), USUAL_MOISTURE),
    })
}

/// The cavity of a board that gets hottest: the one with the least wall for its resin. Its timber
/// ends where heat no longer reaches it, and no heat passes there.
fn in_board(inlay: &Inlay) -> Option<Boxed> {
    let walls = |c: &Cavity| 1.0 / c.length.m() + 1.0 / c.width.m() + 1.0 / c.depth.m();
    let hottest = inlay.cavities.iter().min_by(|a, b| walls(a).total_cmp(&walls(b)))?;
    let board = &inlay.board;
    let of = Material::timber(board.density.kg_m3(), board.moisture_percent);
    let (length, width) = (hottest.length, hottest.width);
    let felt_m = TIMBER_FELT_M.min(TIMBER_FELT_RATIO * length.min(width).m());
    let shell = Some(Shell { thick_m: [felt_m; 2], of });
    let block = if length.max(width) <= length.min(width) * NEARLY_SQUARE_RATIO {
        round(radius_of(length * width), None)
    } else {
        Block::new([length.m(), width.m()], None)
    };
    Some(Boxed { block: Block { shell, ..block }, neighbours: [true; 2] })
}

fn round(radius_m: f64, inside: Option<Inside>) -> Block {
    let size_m = [2.0 * radius_m; 2];
    Block { is_round: true, ..Block::new(size_m, inside) }
}

/// Radius of a circle of an area, m.
fn radius_of(area: Area) -> f64 {
    (area.m2() / std::f64::consts::PI).max(0.0).sqrt()
}

fn within(half_m: [f64; 2], size_m: [f64; 2]) -> [f64; 2] {
    [0, 1].map(|axis| half_m[axis].min(MOST_OF_HALF * size_m[axis]))
}

/// The same with this share of the heat through its outer faces along and across, now and later.
fn passing(around: &Around, shares: [f64; 2]) -> Around {
    let face = |faces: [Face; 2], share: f64| match share {
        share if share > 0.0 => {
            faces.map(|face| Face { resistance_m2k_w: face.resistance_m2k_w / share, ..face })
        }
        _ => [Face::CLOSED; 2],
    };
    Around {
        x: face(around.x, shares[0]),
        y: face(around.y, shares[1]),
        then: around.then.as_ref().map(|then| Box::new((then.0, passing(&then.1, shares)))),
        ..around.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A square piece in a round cavity, and a round tube in a long one, displace as much resin as
    /// they are.
    #[test]
    fn what_stands_in_a_cavity_keeps_its_area() {
        let mm = Length::from_mm;
        let core = Core {
            area: mm(20.0) * mm(20.0),
            levels_m: [0.0, 0.01],
            lying_m: None,
            of: Material::SILICONE,
        };
        let across = |length: f64| {
            let (length, width, depth) = (mm(length), mm(60.0), mm(30.0));
            let hollow = Hollow::Box { length, width, depth };
            let block = Boxed::cavity(4, hollow, mm(5.0), Some(core)).block;
            let half = block.inside.unwrap().half_m;
            let area = if block.is_round { std::f64::consts::PI } else { 4.0 };
            (block.is_round, area * half[0] * half[1])
        };
        for (length, is_round) in [(60.0, true), (150.0, false)] {
            let (found, area_m2) = across(length);
            assert_eq!(found, is_round);
            assert!((area_m2 - 4e-4).abs() < 1e-12, "{area_m2}");
        }
    }
}

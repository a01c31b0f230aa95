//! What timber or walls beside a narrow stretch of resin do to its middle, as a
//! column sees it.
//!
//! A column has no sides: of a narrow river it says that it gets hotter, and
//! turns sticky hours earlier, than it does. Here a column loses heat sideways,
//! `−g (T − T_outside)` W/m³, with the one g that lets it peak as hot as the
//! middle of the section. That g is found from a coarse [`field`](super::field)
//! of a single layer in steady air. What else the column then says of the
//! middle agrees too: in channels of 60 to 600 mm its windows lie within a
//! quarter of an hour of the section's, for layers of 6 to 40 mm.
//!
//! The rim beside cold timber is the last to get hard, in wide rivers too. The
//! share by which it is later than the middle is kept with the loss.

use std::ops::ControlFlow;

use fondant_materials::resin::Calibrated;
use fondant_numerics::roots::brent;

use crate::column::{Accuracy, Goal, Stack};
use crate::error::HeatError;
use crate::field::{
    Around, Axis, Body, Content, Face, Field, FieldGoal, Mesh, Progress, Sizing, Steps,
};
use crate::poured::Poured;
use crate::surroundings::Surroundings;
use fondant_materials::Material;

/// What the sides do to a column in the middle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sides {
    /// Heat lost sideways, W/(m³·K).
    pub loss_w_m3k: f64,
    /// Ratio of the demould time at the rim to that in the middle, at least 1.
    pub hard_ratio: f64,
}

impl Sides {
    /// As if there were none.
    pub const NONE: Self = Self { loss_w_m3k: 0.0, hard_ratio: 1.0 };

    /// When all is hard, s, from when it was poured and its middle is hard.
    #[must_use]
    pub fn hard_s(&self, poured_s: f64, middle_s: f64) -> f64 {
        poured_s + (middle_s - poured_s) * self.hard_ratio
    }
}

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
    /// What it lies between.
    pub beside: [Beside; 2],
}

/// Cells over the depth: the peak is 0.1 K above that of twice as many.
const CELLS_UP: usize = 8;
/// Largest cells, by the depth or the width, and how they grow from the sides.
const LARGEST_RATIO: f64 = 0.34;
const GROWTH: f64 = 1.5;
/// Farther from its side, by its depth, the middle feels nothing of it.
const FELT_DEPTHS: f64 = 5.0;
/// Heat of a cure goes no farther into timber, m.
const FELT_IN_TIMBER_M: f64 = 0.15;
/// Steps twice as long as those of a field that is looked at.
const STEPS: Steps = Steps { release_k: 4.0, first_s: 5.0, liquid_s: 300.0, longest_s: 1800.0 };
/// A layer is followed for so long, s.
const HORIZON_S: f64 = 21.0 * 86_400.0;
/// The search for the loss begins here, W/(m³·K), doubles it until the column is
/// as cool as the section, and finds it so closely.
const FIRST_LOSS: f64 = 30.0;
const MOST_LOSS: f64 = 1e5;
const LOSS_TOLERANCE: f64 = 0.5;
/// Sides both ways take this share of what they would take singly: cubes are
/// then right, and taller blocks up to 2.5 K too hot, on the safe side.
const BOTH_WAYS_RATIO: f64 = 0.95;
/// A section this close to a column has no sides that matter, K.
const SAME_K: f64 = 0.15;

/// A layer between its sides.
#[derive(Debug, Clone)]
pub struct Between<'a> {
    /// The resin.
    pub resin: &'a Calibrated,
    /// As it goes in.
    pub poured: Poured,
    /// Depth of the layer, m.
    pub depth_m: f64,
    /// What a column of it stands in, without sides, all the time. The air is
    /// steady.
    pub column: Surroundings,
    /// How finely the column is computed that will lose the heat.
    pub accuracy: Accuracy,
    /// The timber before the pour, K.
    pub solid_k: f64,
}

impl Between<'_> {
    /// What all sides together do. Those across and those along a block each
    /// take their share, a little less than each would alone.
    ///
    /// # Errors
    /// What the solvers report.
    pub fn sides(&self, stretches: &[Stretch]) -> Result<Sides, HeatError> {
        let mut sides = Sides::NONE;
        for stretch in stretches {
            let halves = stretch.beside.map(|beside| (stretch.width_m, beside));
            let first = self.half(halves[0])?;
            let second = if halves[0] == halves[1] { first } else { self.half(halves[1])? };
            sides.loss_w_m3k += 0.5 * (first.loss_w_m3k + second.loss_w_m3k);
            sides.hard_ratio = sides.hard_ratio.max(first.hard_ratio).max(second.hard_ratio);
        }
        if stretches.len() > 1 {
            sides.loss_w_m3k *= BOTH_WAYS_RATIO;
        }
        Ok(sides)
    }

    /// Half a section, from its line of symmetry to one side.
    fn half(&self, (width_m, beside): (f64, Beside)) -> Result<Sides, HeatError> {
        let depth_m = self.depth_m;
        let (body, end) = half_section(0.5 * width_m, depth_m, beside);
        let around = Around {
            x: [Face::CLOSED, end],
            base: Face {
                resistance_m2k_w: self.column.base_resistance_m2k_w,
                beyond_k: self.column.under_k,
            },
            top_film_w_m2k: self.column.top_film_w_m2k,
            ..Around::on_a_board(self.column.air.clone())
        };
        let mut field = Field::new(body, self.resin, around, self.solid_k, STEPS)?;
        field.pour(depth_m, self.poured.t_k, self.poured.conversion)?;
        let mut wanted = |_: Progress| match self.accuracy.stop.is_requested() {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        };
        field.run(HORIZON_S, FieldGoal::Hard, &mut wanted)?;
        let peak_k = field.peak().map_or(self.poured.t_k, |peak| peak.t_k);
        let loss_w_m3k = self.loss(peak_k)?;
        let middle = self.column(loss_w_m3k, Goal::Hard)?;
        let hard_ratio = match (field.segments()[0].hard_s, middle.top().and_then(|t| t.hard_s)) {
            (Some(all), Some(middle)) => (all / middle).max(1.0),
            _ => 1.0,
        };
        Ok(Sides { loss_w_m3k, hard_ratio })
    }

    /// The loss with which a column gets just so hot.
    fn loss(&self, peak_k: f64) -> Result<f64, HeatError> {
        let over = |loss: f64| -> Result<f64, HeatError> {
            let stack = self.column(loss, Goal::Peak { enough_k: f64::INFINITY })?;
            Ok(stack.peak().map_or(0.0, |(found_k, _)| found_k - peak_k))
        };
        let mut low = (0.0, over(0.0)?);
        if low.1 <= SAME_K {
            return Ok(0.0);
        }
        let mut high = (FIRST_LOSS, over(FIRST_LOSS)?);
        while high.1 > 0.0 && high.0 < MOST_LOSS {
            low = high;
            high = (2.0 * high.0, over(2.0 * high.0)?);
        }
        Ok(brent(low, high, LOSS_TOLERANCE, over)?.unwrap_or(high.0))
    }

    fn column(&self, loss_w_m3k: f64, goal: Goal) -> Result<Stack, HeatError> {
        let around = self.column.clone().with_sides(loss_w_m3k);
        let mut stack = Stack::new(self.resin, around, &self.accuracy);
        stack.pour(self.depth_m, self.poured.t_k, self.poured.conversion)?;
        stack.run(HORIZON_S, goal)?;
        Ok(stack)
    }
}

/// Cells from the line of symmetry outwards, and the face at their end.
fn half_section(half_m: f64, depth_m: f64, beside: Beside) -> (Body, Face) {
    let half_m = half_m.min(FELT_DEPTHS * depth_m);
    let scale = depth_m.min(2.0 * half_m);
    let sizing = Sizing {
        smallest_m: scale / CELLS_UP as f64,
        largest_m: scale * LARGEST_RATIO,
        growth: GROWTH,
    };
    let (places, of, end) = match beside {
        Beside::Solid(material, thick_m) => {
            let far = half_m + thick_m.clamp(sizing.smallest_m, FELT_IN_TIMBER_M);
            (vec![0.0, half_m, far], material, Face::CLOSED)
        }
        // Nothing is of this material: the resin ends where the wall begins.
        Beside::Wall(face) => (vec![0.0, half_m], Material::BRASS, face),
    };
    let x = Axis::graded(&places, |index| index != 1, sizing);
    let z = Axis::equal(&[(0.0, depth_m, CELLS_UP)]);
    let content = |[x, _, _]: [f64; 3]| {
        if x < half_m { Content::Resin } else { Content::Solid(of) }
    };
    (Body::new(Mesh { x, y: Axis::single(1.0), z }, content), end)
}

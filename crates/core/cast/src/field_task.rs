//! The section or block of a plan whose field is computed, and in how many
//! dimensions it needs to be.

use std::ops::ControlFlow;

use fondant_heat::field::{Axis, Body, Field, FieldGoal, Material, Mesh, Progress, Steps, shapes};
use fondant_heat::{Air, HeatError, Poured};
use fondant_materials::resin::Resin;
use fondant_numerics::roots::brent;
use fondant_pours::ScheduledPour;
use fondant_pours::layers::LayerKind;
use fondant_quantities::{Length, bounds};

use super::document::Plan;
use super::evaluation::Evaluation;
use super::kind::Kind;
use super::section::{self, Section};

/// A channel this many times as wide as it is deep is within 1 K of one without
/// sides, on the safe side.
pub const WIDE_RATIO: f64 = 8.0;
/// A block this many times as long as wide is cut across instead.
const LONG_RATIO: f64 = 4.0;
/// Places closer than this are one face of the mesh, m.
const MERGED_M: f64 = 0.0015;
/// Most cells across a section: fine enough for forty boards.
const MOST_ACROSS: usize = 260;
/// The search for the deepest pour widens by this until it has the limit
/// between two depths, and then finds it to this share.
const WIDEN: f64 = 1.35;
const DEPTH_TOLERANCE_RATIO: f64 = 0.008;
/// What stands beside the resin at this share of its depth stands for what
/// would stand beside a deeper pour.
const UPRIGHT_RATIO: f64 = 0.6;
/// A trial ends once it is this far over the limit, K.
const ENOUGH_OVER_K: f64 = 30.0;
const DEEPEST_HORIZON_S: f64 = 14.0 * 86_400.0;
/// How many dimensions the heat of a plan needs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Dimension {
    /// Depth alone.
    One,
    /// A section across.
    Two,
    /// The whole block.
    Three,
}

/// Which pours are followed.
#[derive(Debug, Clone, PartialEq)]
pub struct PouredTo {
    /// Level of the surface, m.
    pub to_m: f64,
    /// When, s from the first.
    pub at_s: f64,
}

/// A field to be computed. Two that are equal have the same field.
#[derive(Debug, Clone, PartialEq)]
pub struct FieldTask {
    /// How many dimensions it has.
    pub dimension: Dimension,
    resin: Resin,
    conditions: super::parts::Conditions,
    poured: Poured,
    pours: Vec<PouredTo>,
    shape: Shape,
    /// Above this level all goes on as it is there, m.
    upright_m: f64,
}

#[derive(Debug, Clone, PartialEq)]
enum Shape {
    /// What lies in a section: its corners (across, up) and what it is of.
    Section(Section),
    /// A block with an object in its middle: half sizes and height of a box
    /// around it, its underside, and whether it is round.
    Block { length_m: f64, width_m: f64, inside: Option<Inside> },
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Inside {
    half_m: [f64; 3],
    middle_m: f64,
    of: Material,
}

impl FieldTask {
    /// What a plan needs, cut where `cut` says; `in_one` pours all at once,
    /// else the planned pours are followed. `None` where depth alone says it all.
    #[must_use]
    pub fn of(plan: &Plan, evaluation: &Evaluation, cut: Length, in_one: bool) -> Option<Self> {
        let measured = &evaluation.measured;
        let depth = measured.fill.depth();
        let pours = match (&evaluation.pours, in_one) {
            (Ok(schedule), false) => {
                let is_poured = |p: &&ScheduledPour| p.layer.kind != LayerKind::Seal;
                let first = schedule.pours.iter().find(is_poured)?.at;
                let of = |pour: &ScheduledPour| PouredTo {
                    to_m: pour.layer.to.m(),
                    at_s: pour.at.duration_since(first).as_secs_f64(),
                };
                // A brushed coat is no layer of its own.
                let poured = schedule.pours.iter().filter(is_poured);
                poured.map(of).collect()
            }
            _ => vec![PouredTo { to_m: depth.m(), at_s: 0.0 }],
        };
        let (dimension, shape) = match plan.kind {
            Kind::Block | Kind::Embed => block(plan, evaluation),
            _ => section(plan, evaluation, cut),
        }?;
        Some(Self {
            dimension,
            resin: evaluation.resin.clone(),
            conditions: plan.conditions,
            poured: evaluation.heat.poured,
            pours,
            shape,
            upright_m: f64::INFINITY,
        })
    }

    /// The pours that are followed.
    #[must_use]
    pub fn pours(&self) -> &[PouredTo] {
        &self.pours
    }

    /// The box of cells.
    #[must_use]
    pub fn body(&self) -> Body {
        let mut from = 0.0;
        let layers_m: Vec<f64> =
            self.pours.iter().map(|p| p.to_m - std::mem::replace(&mut from, p.to_m)).collect();
        match &self.shape {
            Shape::Block { length_m, width_m, inside } => {
                shapes::quarter_block(*length_m, *width_m, &layers_m, |at| {
                    inside.and_then(|inside| inside.holds(at).then_some(inside.of))
                })
            }
            Shape::Section(section) => section_body(section, self.upright_m, &layers_m),
        }
    }

    /// The deepest single pour of this section or block that stays under the
    /// limit, m, from the depth that a column may have. What stands beside the
    /// resin half way up is taken to go on as far as the pour is deep.
    ///
    /// # Errors
    /// What the solver reports, and [`HeatError::Abandoned`].
    pub fn deepest(
        &self,
        column_m: f64,
        watch: &mut dyn FnMut(Progress) -> ControlFlow<()>,
    ) -> Result<f64, HeatError> {
        let limit_k = self.resin.working.peak_limit.k();
        let start_k = self.poured.t_k.max(self.conditions.air.k());
        if column_m <= 0.0 || limit_k <= start_k {
            return Err(HeatError::LimitBelowStart { start_k, limit_k });
        }
        let depth_now = self.pours.last().map_or(0.0, |pour| pour.to_m);
        let mut excess = |depth_m: f64| -> Result<f64, HeatError> {
            let pours = vec![PouredTo { to_m: depth_m, at_s: 0.0 }];
            let task = Self { pours, upright_m: UPRIGHT_RATIO * depth_now, ..self.clone() };
            let mut field = task.field()?;
            field.pour(depth_m, self.poured.t_k, self.poured.conversion)?;
            let enough_k = limit_k + ENOUGH_OVER_K;
            field.run(DEEPEST_HORIZON_S, FieldGoal::Peak { enough_k }, watch)?;
            let peak_k = field.peak().map_or(start_k, |peak| peak.t_k);
            Ok(((peak_k - start_k).max(1e-6) / (limit_k - start_k)).ln())
        };
        let mut low = (column_m.ln(), excess(column_m)?);
        // A column loses nothing to its sides, so that it is the hotter one.
        if low.1 >= 0.0 {
            return Ok(column_m);
        }
        let mut high = low;
        while high.1 < 0.0 {
            low = high;
            if high.0.exp() >= *bounds::SEARCHED_DEPTH.end() {
                return Ok(*bounds::SEARCHED_DEPTH.end());
            }
            let next = (high.0 + WIDEN.ln()).min(bounds::SEARCHED_DEPTH.end().ln());
            high = (next, excess(next.exp())?);
        }
        let root = brent(low, high, DEPTH_TOLERANCE_RATIO, |ln_depth| excess(ln_depth.exp()))?;
        Ok(root.unwrap_or(low.0).exp())
    }

    /// The field before the first pour, with what is around it.
    ///
    /// # Errors
    /// [`HeatError`] for temperatures out of range.
    pub fn field(&self) -> Result<Field, HeatError> {
        let air = Air::Steady(self.conditions.air.k());
        let is_block = self.dimension == Dimension::Three;
        let around = self.conditions.cooling.around(air, is_block);
        let solid_k = self.conditions.air.k();
        Field::new(self.body(), &self.resin, around, solid_k, Steps::default())
    }

    /// The resin as it goes in.
    #[must_use]
    pub fn poured(&self) -> Poured {
        self.poured
    }
}

impl Inside {
    /// An ellipsoid in its box: near enough to what lies in a block, whose own
    /// shape is known by its volume.
    fn holds(&self, [x, y, z]: [f64; 3]) -> bool {
        let [a, b, c] = self.half_m;
        (x / a).powi(2) + (y / b).powi(2) + ((z - self.middle_m) / c).powi(2) < 1.0
    }
}

fn block(plan: &Plan, evaluation: &Evaluation) -> Option<(Dimension, Shape)> {
    let cast = &evaluation.measured.cast;
    let depth_m = evaluation.measured.fill.depth().m();
    let (length_m, width_m) = (cast.length.m(), cast.width.m());
    if length_m.min(width_m) >= WIDE_RATIO * depth_m {
        return None;
    }
    let biggest = plan
        .inserts
        .iter()
        .filter(|insert| insert.height() > Length::ZERO)
        .max_by(|a, b| a.volume().m3().total_cmp(&b.volume().m3()));
    if biggest.is_none() && length_m.max(width_m) >= LONG_RATIO * length_m.min(width_m) {
        let width_m = length_m.min(width_m);
        return Some((Dimension::Two, Shape::Section(Section::open(width_m))));
    }
    let inside = biggest.map(|insert| {
        let half_height = 0.5 * insert.height().m();
        // As wide as its volume makes an ellipsoid of its height.
        let area = insert.volume().m3() / (4.0 / 3.0 * std::f64::consts::PI * half_height);
        let half = area.sqrt().min(0.48 * length_m).min(0.48 * width_m);
        Inside {
            half_m: [half, half, half_height],
            middle_m: insert.above_floor.m() + half_height,
            of: section::solid(insert.density),
        }
    });
    Some((Dimension::Three, Shape::Block { length_m, width_m, inside }))
}

fn section(plan: &Plan, evaluation: &Evaluation, cut: Length) -> Option<(Dimension, Shape)> {
    let measured = &evaluation.measured;
    let section = Section::of(plan, &measured.layout, cut)?;
    let depth_m = measured.fill.depth().m();
    let widest_m = section.widest(depth_m)?.width_m();
    (widest_m < WIDE_RATIO * depth_m).then_some((Dimension::Two, Shape::Section(section)))
}

fn section_body(section: &Section, upright_m: f64, layers_m: &[f64]) -> Body {
    let width_m = section.width_m();
    let depth: f64 = layers_m.iter().sum();
    let mut places: Vec<f64> =
        section.corners().filter(|x| *x > MERGED_M && *x < width_m - MERGED_M).collect();
    places.push(0.0);
    places.push(width_m);
    places.sort_by(f64::total_cmp);
    places.dedup_by(|a, b| *a - *b < MERGED_M);
    let last = places.len() - 1;
    places[last] = width_m;
    let narrowest = places.windows(2).map(|p| p[1] - p[0]).fold(depth, f64::min);
    let mut sizing = shapes::across(depth.min(4.0 * narrowest));
    let mut x = Axis::graded(&places, |_| false, sizing);
    while x.cells() > MOST_ACROSS {
        sizing.smallest_m *= 1.5;
        sizing.largest_m *= 1.5;
        x = Axis::graded(&places, |_| false, sizing);
    }
    let mesh = Mesh { x, y: Axis::single(1.0), z: shapes::up(layers_m) };
    Body::new(mesh, |[x, _, z]| section.content(x, z.min(upright_m)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Site;
    use crate::evaluate;
    use fondant_heat::field::{Content, FieldGoal};
    use fondant_materials::resin::shipped;
    use fondant_pours::{ShopHours, Workday};
    use fondant_shapes::form::Piece;
    use jiff::civil::Time;
    use std::ops::ControlFlow;

    fn worked(plan: &Plan) -> Evaluation {
        let day =
            Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
        let hours = ShopHours::new([Some(day); 7], "UTC").unwrap();
        evaluate(plan, &shipped::find(&plan.resin).unwrap(), &Site::plain(hours)).unwrap()
    }

    fn begun(kind: Kind, length: f64, width: f64, thick: f64) -> Plan {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(length), mm(width), mm(thick), Length::ZERO);
        Plan::begin(kind, "x".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
    }

    fn peak(task: &FieldTask) -> f64 {
        let mut field = task.field().unwrap();
        let last = task.pours().len() - 1;
        for (index, pour) in task.pours().iter().enumerate() {
            if pour.at_s > 0.0 {
                field.run(pour.at_s, FieldGoal::Time, &mut |_| ControlFlow::Continue(())).unwrap();
            }
            field.pour(pour.to_m, task.poured().t_k, task.poured().conversion).unwrap();
            if index == last {
                let goal = FieldGoal::Peak { enough_k: 500.0 };
                field.run(9e5, goal, &mut |_| ControlFlow::Continue(())).unwrap();
            }
        }
        field.peak().unwrap().t_k
    }

    #[test]
    fn a_narrow_river_is_cut_across_and_is_cooler_than_without_sides() {
        let mut plan = begun(Kind::River, 1200.0, 500.0, 34.0);
        for station in &mut plan.river.stations {
            station.width = Length::from_mm(100.0);
        }
        let evaluation = worked(&plan);
        let cut = Length::from_mm(600.0);
        let task = FieldTask::of(&plan, &evaluation, cut, true).unwrap();
        assert_eq!(task.dimension, Dimension::Two);
        let wide = evaluation.heat.whole.as_ref().unwrap().peak.k();
        let found = peak(&task);
        assert!(found < wide - 2.0 && found > 293.15 + 5.0, "{found} against {wide}");
        let planned = FieldTask::of(&plan, &evaluation, cut, false).unwrap();
        let pours = evaluation.pours.as_ref().unwrap().pours.len();
        assert_eq!(planned.pours().len(), pours);
    }

    #[test]
    fn a_block_needs_three_dimensions_and_a_wide_one_none() {
        let tall = begun(Kind::Block, 120.0, 120.0, 120.0);
        let evaluation = worked(&tall);
        let task = FieldTask::of(&tall, &evaluation, Length::ZERO, true).unwrap();
        assert_eq!(task.dimension, Dimension::Three);
        let flat = begun(Kind::Block, 400.0, 400.0, 30.0);
        assert!(FieldTask::of(&flat, &worked(&flat), Length::ZERO, true).is_none());
        let long = begun(Kind::Block, 600.0, 80.0, 60.0);
        let task = FieldTask::of(&long, &worked(&long), Length::ZERO, true).unwrap();
        assert_eq!(task.dimension, Dimension::Two);
    }

    #[test]
    fn an_object_in_a_block_takes_its_room_and_its_heat() {
        let mut plan = begun(Kind::Embed, 100.0, 100.0, 90.0);
        let with = worked(&plan);
        let task = FieldTask::of(&plan, &with, Length::ZERO, true).unwrap();
        let solid =
            task.body().contents().iter().filter(|c| matches!(c, Content::Solid(_))).count();
        assert!(solid > 20, "{solid}");
        plan.inserts.clear();
        plan.kind = Kind::Block;
        let clear = FieldTask::of(&plan, &worked(&plan), Length::ZERO, true).unwrap();
        assert!(peak(&task) < peak(&clear));
    }

    #[test]
    fn a_narrow_river_may_be_poured_deeper_than_a_wide_one() {
        let mut plan = begun(Kind::River, 1200.0, 500.0, 34.0);
        let deepest = |plan: &Plan| {
            let evaluation = worked(plan);
            let column = evaluation.heat.deepest.as_ref().unwrap().safe_m();
            let task = FieldTask::of(plan, &evaluation, Length::from_mm(600.0), true).unwrap();
            (column, task.deepest(column, &mut |_| ControlFlow::Continue(())).unwrap())
        };
        for station in &mut plan.river.stations {
            station.width = Length::from_mm(180.0);
        }
        let (column, wide) = deepest(&plan);
        for station in &mut plan.river.stations {
            station.width = Length::from_mm(90.0);
        }
        let (_, narrow) = deepest(&plan);
        assert!(narrow > wide * 1.1 && wide >= column, "{narrow} {wide} {column}");
    }

    #[test]
    fn moulds_and_coats_need_no_field() {
        for kind in [Kind::Moulds, Kind::TubeBlanks, Kind::Coat] {
            let plan = begun(kind, 120.0, 80.0, 30.0);
            assert!(FieldTask::of(&plan, &worked(&plan), Length::ZERO, true).is_none(), "{kind:?}");
        }
    }
}

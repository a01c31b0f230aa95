//! The section or block of a plan whose field is computed, and in how many
//! dimensions it needs to be.

use crate::heat::field::{Axis, Body, Content, Field, Material, Mesh, Steps, shapes};
use crate::heat::{Air, HeatError, Poured};
use crate::quantities::{Density, Length};
use crate::resin::Resin;
use crate::volume::layout::{Bed, CutThing, What};

use super::document::Plan;
use super::evaluation::Evaluation;
use super::kind::Kind;

/// A channel this many times as wide as it is deep is within 1 K of one without
/// sides, on the safe side.
pub const WIDE_RATIO: f64 = 8.0;
/// A block this many times as long as wide is cut across instead.
const LONG_RATIO: f64 = 4.0;
/// Places closer than this are one face of the mesh, m.
const MERGED_M: f64 = 0.0015;
/// Most cells across a section: fine enough for forty boards.
const MOST_ACROSS: usize = 260;
/// Denser than this, an object is metal; denser than the other, stone.
const METAL: Density = Density::from_kg_m3(4000.0);
const STONE: Density = Density::from_kg_m3(1800.0);
/// Moisture of timber of which nothing is said, percent.
const USUAL_MOISTURE: f64 = 10.0;

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
}

#[derive(Debug, Clone, PartialEq)]
enum Shape {
    /// What lies in a section: its corners (across, up) and what it is of.
    Section { width_m: f64, things: Vec<([(f64, f64); 4], Option<Material>)>, is_board: bool },
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
                let first = schedule.pours.first()?.at;
                let of = |pour: &crate::schedule::ScheduledPour| PouredTo {
                    to_m: pour.layer.to.m(),
                    at_s: pour.at.duration_since(first).as_secs_f64(),
                };
                schedule.pours.iter().map(of).collect()
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
            Shape::Section { width_m, things, is_board } => {
                section_body(*width_m, things, *is_board, &layers_m)
            }
        }
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

fn material(density: Density) -> Material {
    if density > METAL {
        Material::BRASS
    } else if density > STONE {
        Material::STONE
    } else {
        Material::timber(density.kg_m3(), USUAL_MOISTURE)
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
        let shape = Shape::Section { width_m, things: Vec::new(), is_board: false };
        return Some((Dimension::Two, shape));
    }
    let inside = biggest.map(|insert| {
        let half_height = 0.5 * insert.height().m();
        // As wide as its volume makes an ellipsoid of its height.
        let area = insert.volume().m3() / (4.0 / 3.0 * std::f64::consts::PI * half_height);
        let half = area.sqrt().min(0.48 * length_m).min(0.48 * width_m);
        Inside {
            half_m: [half, half, half_height],
            middle_m: insert.above_floor.m() + half_height,
            of: material(insert.density),
        }
    });
    Some((Dimension::Three, Shape::Block { length_m, width_m, inside }))
}

fn section(plan: &Plan, evaluation: &Evaluation, cut: Length) -> Option<(Dimension, Shape)> {
    let measured = &evaluation.measured;
    let layout = &measured.layout;
    let is_board = layout.bed == Bed::Board;
    if !matches!(layout.bed, Bed::Form | Bed::Board) {
        return None;
    }
    let things = layout.cut_at(cut);
    let of = |thing: &CutThing| {
        let of = match thing.what {
            What::Board(index) => plan
                .timber
                .boards
                .get(index)
                .map(|b| Material::timber(b.density.kg_m3(), b.moisture_percent)),
            What::Insert(index) => plan.inserts.get(index).map(|i| material(i.density)),
            What::Hollow(_) => None,
        };
        (thing.corners.map(|(across, level)| (across.m(), level.m())), of)
    };
    let things: Vec<_> = things.iter().map(of).collect();
    let width_m = layout.width.m();
    let widest = widest(width_m, &things, measured.fill.depth().m(), is_board);
    if widest <= 0.0 || widest >= WIDE_RATIO * measured.fill.depth().m() {
        return None;
    }
    Some((Dimension::Two, Shape::Section { width_m, things, is_board }))
}

/// The widest stretch of resin half way up, m.
fn widest(
    width_m: f64,
    things: &[([(f64, f64); 4], Option<Material>)],
    depth_m: f64,
    is_board: bool,
) -> f64 {
    const STEPS: usize = 400;
    let (mut widest, mut run) = (0.0f64, 0.0);
    for step in 0..STEPS {
        let x = width_m * (step as f64 + 0.5) / STEPS as f64;
        run = match content(x, 0.55 * depth_m, things, is_board) {
            Content::Resin => run + width_m / STEPS as f64,
            _ => 0.0,
        };
        widest = widest.max(run);
    }
    widest
}

fn content(
    x: f64,
    z: f64,
    things: &[([(f64, f64); 4], Option<Material>)],
    is_board: bool,
) -> Content {
    let inside = things.iter().find(|(corners, _)| holds(corners, x, z));
    match (inside, is_board) {
        (Some((_, Some(material))), _) => Content::Solid(*material),
        (Some((_, None)), _) => Content::Resin,
        (None, true) => Content::Solid(Material::timber(650.0, USUAL_MOISTURE)),
        (None, false) => Content::Resin,
    }
}

/// Whether a point lies between the two sloping sides of a four-sided thing.
fn holds(corners: &[(f64, f64); 4], x: f64, z: f64) -> bool {
    let [(a, from), (b, _), (d, to), (c, _)] = *corners;
    if z < from || z > to || to <= from {
        return false;
    }
    let share = (z - from) / (to - from);
    let (left, right) = (a + (c - a) * share, b + (d - b) * share);
    x >= left.min(right) && x <= left.max(right)
}

fn section_body(
    width_m: f64,
    things: &[([(f64, f64); 4], Option<Material>)],
    is_board: bool,
    layers_m: &[f64],
) -> Body {
    let depth: f64 = layers_m.iter().sum();
    let mut places: Vec<f64> = things
        .iter()
        .flat_map(|(corners, _)| corners.iter().map(|c| c.0))
        .filter(|x| *x > MERGED_M && *x < width_m - MERGED_M)
        .collect();
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
    Body::new(mesh, |[x, _, z]| content(x, z, things, is_board))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::form::Piece;
    use crate::heat::field::FieldGoal;
    use crate::plan::evaluate;
    use crate::resin::shipped;
    use crate::schedule::{ShopHours, Workday};
    use jiff::civil::Time;
    use std::ops::ControlFlow;

    fn worked(plan: &Plan) -> Evaluation {
        let day =
            Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
        let hours = ShopHours::new([Some(day); 7], "UTC").unwrap();
        evaluate(plan, &shipped::find(&plan.resin).unwrap(), &hours).unwrap()
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
    fn moulds_and_coats_need_no_field() {
        for kind in [Kind::Moulds, Kind::TubeBlanks, Kind::Coat] {
            let plan = begun(kind, 120.0, 80.0, 30.0);
            assert!(FieldTask::of(&plan, &worked(&plan), Length::ZERO, true).is_none(), "{kind:?}");
        }
    }
}

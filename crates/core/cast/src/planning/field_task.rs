//! The section or block of a plan whose field is computed, and in how many
//! dimensions it needs to be.

use fondant_heat::field::{Axis, Body, Field, LOOKED_AT, Mesh, Steps, shapes};
use fondant_heat::sides::is_wide;
use fondant_heat::{Air, HeatError, Poured};
use fondant_materials::resin::Calibrated;
use fondant_pours::layers::{Layer, LayerKind};
use fondant_pours::{ScheduledPour, StageResin};
use fondant_quantities::Length;
use serde::{Deserialize, Serialize};

use crate::document::{Conditions, Document, Kind};
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::block::Boxed;
use crate::heat::section::Section;
use crate::measure::Measured;

/// A block this many times as long as wide is cut across instead.
const LONG_RATIO: f64 = 4.0;
/// Places closer than this are one face of the mesh, m.
const MERGED_M: f64 = 0.0015;
/// Most cells across a section: fine enough for forty boards.
const MOST_ACROSS: usize = 260;

/// Which pours a field follows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Followed {
    /// The whole depth in one pour.
    InOne,
    /// The pours as they are planned.
    Planned,
}

/// How many dimensions the heat of a cast needs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Dimension {
    /// Depth alone.
    One,
    /// A section across.
    Two,
    /// The whole block.
    Three,
}

/// One pour of a field: its level and its time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PouredTo {
    /// Level of the surface, m.
    pub to_m: f64,
    /// When, s from the first.
    pub at_s: f64,
    /// Its resin and the state in which it goes in, where it is not the cast's own.
    #[serde(default)]
    pub stage: Option<StageResin>,
}

/// A field to be computed. Two that are equal have the same field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FieldTask {
    /// How many dimensions it has.
    pub dimension: Dimension,
    resin: Calibrated,
    conditions: Conditions,
    poured: Poured,
    pours: Vec<PouredTo>,
    shape: Shape,
}

#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
enum Shape {
    /// What lies in a section: its corners (across, up) and what it is of.
    Section(Section),
    /// A block or a cavity, with an object in its middle.
    Block(Boxed),
}

impl FieldTask {
    /// What a cast needs, cut where `cut` says. `None` where depth alone says it all.
    #[must_use]
    pub fn of(
        inputs: &Inputs,
        evaluation: &Evaluation,
        cut: Length,
        pours: Followed,
    ) -> Option<Self> {
        let document = &inputs.site.in_mean_air(&inputs.document);
        let measured = &evaluation.measured;
        let to = |layer: &Layer, at_s: f64, poured: Poured| {
            let resin = || evaluation.need_of(layer).resin.clone();
            let stage = (layer.resin != 0).then(|| StageResin { resin: resin(), poured });
            PouredTo { to_m: layer.to.m(), at_s, stage }
        };
        let pours = match (&evaluation.pours, pours) {
            (Ok(schedule), Followed::Planned) => {
                let is_poured = |p: &&ScheduledPour| p.layer.is_in_form();
                let first = schedule.pours.iter().find(is_poured)?.at;
                let task = evaluation.pour_task.as_ref();
                let of = |pour: &ScheduledPour| {
                    let stage = task.and_then(|task| task.stage_of(&pour.layer));
                    let poured = stage.map_or(evaluation.heat.poured, |stage| stage.poured);
                    to(&pour.layer, pour.at.duration_since(first).as_secs_f64(), poured)
                };
                schedule.pours.iter().filter(is_poured).map(of).collect()
            }
            // What lies under the main fill has cured long before it.
            _ => {
                let cured = Poured::long_cured(document.conditions.air.k());
                in_one(measured).iter().map(|layer| to(layer, 0.0, cured)).collect()
            }
        };
        let (dimension, shape) = match document.kind() {
            Kind::River => section(document, measured, cut),
            Kind::Coat => None,
            _ => block(document, measured),
        }?;
        Some(Self {
            dimension,
            resin: evaluation.resin.clone(),
            conditions: document.conditions,
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
            Shape::Block(boxed) => boxed.block.body(&layers_m, LOOKED_AT),
            Shape::Section(section) => section_body(section, &layers_m),
        }
    }

    /// The field before the first pour, with what is around it.
    ///
    /// # Errors
    /// [`HeatError`] for temperatures out of range.
    pub fn field(&self) -> Result<Field, HeatError> {
        let air = Air::Steady(self.conditions.air.k());
        let cooling = self.conditions.cooling;
        let around = match &self.shape {
            Shape::Block(boxed) => boxed.around(cooling, air),
            Shape::Section(_) => cooling.around(air, false),
        };
        let solid_k = self.conditions.air.k();
        Field::new(self.body(), &self.resin, around, solid_k, Steps::default())
    }

    /// Lets a pour into the field.
    ///
    /// # Errors
    /// [`HeatError`] where it holds no resin, or is out of range.
    pub fn pour(&self, field: &mut Field, pour: &PouredTo) -> Result<(), HeatError> {
        match &pour.stage {
            Some(stage) => field.pour_of(&stage.resin, pour.to_m, stage.poured),
            None => field.pour(pour.to_m, self.poured.t_k, self.poured.conversion),
        }
    }
}

/// The main fill in one pour, with what lies under it.
fn in_one(measured: &Measured) -> Vec<Layer> {
    let mut layers = measured.filling().split(1);
    let main = layers.iter().position(|layer| matches!(layer.kind, LayerKind::Main(_)));
    layers.truncate(main.map_or(0, |main| main + 1));
    let is_main = |layer: &Layer| matches!(layer.kind, LayerKind::Main(_));
    layers.retain(|layer| layer.is_in_form() && (layer.resin != 0 || is_main(layer)));
    layers
}

fn block(document: &Document, measured: &Measured) -> Option<(Dimension, Shape)> {
    let boxed = Boxed::of(document, measured)?;
    let block = &boxed.block;
    let depth_m = measured.fill.depth().m();
    let [length_m, width_m] = block.size_m;
    if is_wide(length_m.min(width_m), depth_m) {
        return None;
    }
    let is_plain = block.inside.is_none() && block.shell.is_none();
    if is_plain && length_m.max(width_m) >= LONG_RATIO * length_m.min(width_m) {
        let width_m = length_m.min(width_m);
        return Some((Dimension::Two, Shape::Section(Section::open(width_m))));
    }
    Some((Dimension::Three, Shape::Block(boxed)))
}

fn section(document: &Document, measured: &Measured, cut: Length) -> Option<(Dimension, Shape)> {
    let section = Section::of(document, &measured.layout, cut)?;
    let depth_m = measured.fill.depth().m();
    let widest_m = section.widest(depth_m)?.width_m();
    (!is_wide(widest_m, depth_m)).then_some((Dimension::Two, Shape::Section(section)))
}

fn section_body(section: &Section, layers_m: &[f64]) -> Body {
    let width_m = section.width_m();
    let depth: f64 = layers_m.iter().sum();
    let places = faces_across(section, width_m);
    let narrowest = places.windows(2).map(|p| p[1] - p[0]).fold(depth, f64::min);
    let mut sizing = shapes::across(depth.min(4.0 * narrowest));
    let mut x = Axis::graded(&places, |_| false, sizing);
    // Every interval keeps one cell at least, and there are no more of them than cells allowed, so
    // that this ends: cells of the whole width are the coarsest.
    while x.cells() > MOST_ACROSS && sizing.smallest_m < width_m {
        sizing.smallest_m *= 1.5;
        sizing.largest_m *= 1.5;
        x = Axis::graded(&places, |_| false, sizing);
    }
    let mesh = Mesh { is_round: false, x, y: Axis::single(1.0), z: shapes::up(layers_m) };
    Body::new(mesh, |[x, _, z]| section.content(x, z))
}

/// Where something begins or ends across a section: the faces of the mesh, in order. Where there
/// are more than the mesh has cells, the closest become one.
fn faces_across(section: &Section, width_m: f64) -> Vec<f64> {
    let mut places: Vec<f64> =
        section.corners().filter(|x| *x > MERGED_M && *x < width_m - MERGED_M).collect();
    places.push(0.0);
    places.push(width_m);
    places.sort_by(f64::total_cmp);
    let mut apart_m = MERGED_M;
    places.dedup_by(|a, b| *a - *b < apart_m);
    while places.len() > MOST_ACROSS / 2 {
        apart_m *= 1.2;
        places.dedup_by(|a, b| *a - *b < apart_m);
    }
    let last = places.len() - 1;
    places[last] = width_m;
    places
}

#[cfg(test)]
mod tests;

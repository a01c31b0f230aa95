//! The section or block of a plan whose field is computed, and in how many
//! dimensions it needs to be.

use std::ops::ControlFlow;

use fondant_heat::field::{Axis, Body, Field, FieldGoal, Mesh, Progress, Steps, shapes};
use fondant_heat::{Air, HeatError, Poured};
use fondant_materials::Material;
use fondant_materials::resin::Calibrated;
use fondant_numerics::roots::brent;
use fondant_pours::ScheduledPour;
use fondant_pours::layers::LayerKind;
use fondant_quantities::{Length, bounds};
use serde::{Deserialize, Serialize};

use crate::document::{Conditions, Document, Kind};
use crate::evaluate::{Evaluation, Inputs};
use crate::heat::section::{self, Section};
use crate::measure::Measured;

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
/// The material beside the resin at this share of its depth stands for what
/// would stand beside a deeper pour.
const UPRIGHT_RATIO: f64 = 0.6;
/// A trial ends once it is this far over the limit, K.
const ENOUGH_OVER_K: f64 = 30.0;
const DEEPEST_HORIZON_S: f64 = 14.0 * 86_400.0;

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

/// Which pours are followed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PouredTo {
    /// Level of the surface, m.
    pub to_m: f64,
    /// When, s from the first.
    pub at_s: f64,
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
    /// Above this level all goes on as it is there, m; `None` where everything is known.
    upright_m: Option<f64>,
}

#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
enum Shape {
    /// What lies in a section: its corners (across, up) and what it is of.
    Section(Section),
    /// A block with an object in its middle: half sizes and height of a box
    /// around it, its underside, and whether it is round.
    Block { length_m: f64, width_m: f64, inside: Option<Inside> },
}

#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
struct Inside {
    half_m: [f64; 3],
    middle_m: f64,
    of: Material,
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
        let depth = measured.fill.depth();
        let pours = match (&evaluation.pours, pours) {
            (Ok(schedule), Followed::Planned) => {
                let is_poured = |p: &&ScheduledPour| p.layer.kind != LayerKind::Seal;
                let first = schedule.pours.iter().find(is_poured)?.at;
                let of = |pour: &ScheduledPour| PouredTo {
                    to_m: pour.layer.to.m(),
                    at_s: pour.at.duration_since(first).as_secs_f64(),
                };
                // A brushed coat is not a layer.
                let poured = schedule.pours.iter().filter(is_poured);
                poured.map(of).collect()
            }
            _ => vec![PouredTo { to_m: depth.m(), at_s: 0.0 }],
        };
        let (dimension, shape) = match document.kind() {
            Kind::Block | Kind::Embed => block(document, measured),
            _ => section(document, measured, cut),
        }?;
        Some(Self {
            dimension,
            resin: evaluation.resin.clone(),
            conditions: document.conditions,
            poured: evaluation.heat.poured,
            pours,
            shape,
            upright_m: None,
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
    /// limit, m, from the depth that a column may have. The material beside the
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
            let task = Self { pours, upright_m: Some(UPRIGHT_RATIO * depth_now), ..self.clone() };
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

fn block(document: &Document, measured: &Measured) -> Option<(Dimension, Shape)> {
    let cast = &measured.cast;
    let depth_m = measured.fill.depth().m();
    let (length_m, width_m) = (cast.length.m(), cast.width.m());
    if length_m.min(width_m) >= WIDE_RATIO * depth_m {
        return None;
    }
    let biggest = document
        .contents
        .inserts()
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
            of: section::solid(insert.stuff()),
        }
    });
    Some((Dimension::Three, Shape::Block { length_m, width_m, inside }))
}

fn section(document: &Document, measured: &Measured, cut: Length) -> Option<(Dimension, Shape)> {
    let section = Section::of(document, &measured.layout, cut)?;
    let depth_m = measured.fill.depth().m();
    let widest_m = section.widest(depth_m)?.width_m();
    (widest_m < WIDE_RATIO * depth_m).then_some((Dimension::Two, Shape::Section(section)))
}

fn section_body(section: &Section, upright_m: Option<f64>, layers_m: &[f64]) -> Body {
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
    let mesh = Mesh { x, y: Axis::single(1.0), z: shapes::up(layers_m) };
    Body::new(mesh, |[x, _, z]| section.content(x, z.min(upright_m.unwrap_or(z))))
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

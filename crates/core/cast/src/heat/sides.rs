//! The material beside a plan's resin where it is widest and where it is
//! narrowest, and what that does to its heat.

use super::block::Boxed;
use super::conditions::surroundings;
use super::section::Section;
use crate::document::{Document, Kind};
use crate::measure::Measured;
use fondant_heat::field::Around;
use fondant_heat::sides::{Beside, Between, Extent, Sides, Stretch};
use fondant_heat::{Accuracy, Deepest, HeatError, Poured, Surroundings};
use fondant_materials::resin::Calibrated;
use fondant_quantities::Length;
use fondant_shapes::volume::layout::Layout;

/// Number of cross-sections between the ends of the piece.
const CUTS: usize = 16;
/// Resin that is narrower by less than this is as wide everywhere.
const SAME_WIDTH_RATIO: f64 = 0.95;

/// The sides of a cast's resin, before it is known what they do.
#[derive(Debug, Clone, PartialEq)]
pub struct SideTask {
    column: Surroundings,
    around: Around,
    solid_k: f64,
    /// Across at the widest place, which gets hottest and sets first; the whole of a block.
    widest: Extent,
    /// Across at the narrowest place, where that is another.
    narrowest: Option<Extent>,
}

/// One layer of a resin.
#[derive(Debug, Clone, Copy)]
pub struct LayerOf<'a> {
    /// The resin.
    pub resin: &'a Calibrated,
    /// State of the resin as it is poured.
    pub poured: Poured,
    /// How finely its columns are computed, and for how long an answer is wanted.
    pub accuracy: &'a Accuracy,
}

impl SideTask {
    /// Of a cast; `None` for a coat, which has no sides that count.
    #[must_use]
    pub fn of(document: &Document, measured: &Measured) -> Option<Self> {
        let depth = measured.fill.depth();
        let conditions = &document.conditions;
        let column = surroundings(conditions);
        let solid_k = conditions.air.k();
        if let Some(boxed) = Boxed::of(document, measured) {
            let around = boxed.around(conditions.cooling, column.air.clone());
            let widest = Extent::Block(boxed.block);
            return Some(Self { column, around, solid_k, widest, narrowest: None });
        }
        if document.kind() == Kind::Coat {
            return None;
        }
        let around = conditions.cooling.around(column.air.clone(), false);
        let (widest, narrowest) = across(document, &measured.layout, &around, depth)?;
        let is_one = narrowest.width_m > SAME_WIDTH_RATIO * widest.width_m;
        let narrowest = (!is_one).then_some(Extent::Channel(narrowest));
        Some(Self { column, around, solid_k, widest: Extent::Channel(widest), narrowest })
    }

    /// What they do to a layer at the widest place.
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn sides(&self, layer: LayerOf<'_>, depth: Length) -> Result<Sides, HeatError> {
        self.between(layer, self.widest).sides(depth.m())
    }

    /// The loss of a column of a depth that gets as hot as the layer at the widest place,
    /// W/(m³·K).
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn side_loss(&self, layer: LayerOf<'_>, depth: Length) -> Result<f64, HeatError> {
        self.between(layer, self.widest).side_loss(depth.m())
    }

    /// The deepest single pour that stays at or below a limit, K, down to some depth, and the loss
    /// of its column, W/(m³·K).
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn deepest(
        &self,
        layer: LayerOf<'_>,
        limit_k: f64,
        searched: Length,
    ) -> Result<(Deepest, f64), HeatError> {
        self.between(layer, self.widest).deepest(limit_k, searched.m())
    }

    /// How wide the narrowest place is, and what they do there; `None` where it
    /// is as wide everywhere.
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn at_narrowest(
        &self,
        layer: LayerOf<'_>,
        depth: Length,
    ) -> Result<Option<(Length, Sides)>, HeatError> {
        let Some(extent) = self.narrowest else { return Ok(None) };
        let sides = self.between(layer, extent).sides(depth.m())?;
        Ok(Some((Length::from_m(extent.width_m()), sides)))
    }

    /// From side to side at the widest place; of a block the shorter way.
    #[must_use]
    pub fn width(&self) -> Length {
        Length::from_m(self.widest.width_m())
    }

    fn between<'a>(&self, layer: LayerOf<'a>, extent: Extent) -> Between<'a> {
        Between {
            resin: layer.resin,
            poured: layer.poured,
            extent,
            column: self.column.clone(),
            around: self.around.clone(),
            accuracy: layer.accuracy.clone(),
            solid_k: self.solid_k,
        }
    }
}

/// The widest and the narrowest stretch of a piece that is cut across.
fn across(
    document: &Document,
    layout: &Layout,
    around: &Around,
    depth: Length,
) -> Option<(Stretch, Stretch)> {
    let stretch = |cut: usize| -> Option<Stretch> {
        let at = layout.length * ((cut as f64 + 0.5) / CUTS as f64);
        let section = Section::of(document, layout, at)?;
        let run = section.widest(depth.m())?;
        let found = section.beside(run, depth.m());
        let beside = std::array::from_fn(|side| match found[side] {
            Some((material, thick_m)) => Beside::Solid(material, thick_m),
            None => Beside::Wall(around.x[side]),
        });
        Some(Stretch { width_m: run.width_m(), beside })
    };
    let stretches: Vec<Stretch> = (0..CUTS).filter_map(stretch).collect();
    let by_width = |a: &&Stretch, b: &&Stretch| a.width_m.total_cmp(&b.width_m);
    Some((*stretches.iter().max_by(by_width)?, *stretches.iter().min_by(by_width)?))
}

//! The material beside a plan's resin where it is widest and where it is
//! narrowest, and what that does to its heat.

use super::conditions::surroundings;
use super::section::Section;
use crate::document::{Document, Kind};
use crate::measure::Measured;
use fondant_heat::cooling::CoolingBy;
use fondant_heat::field::{Around, Face};
use fondant_heat::sides::{Beside, Between, Sides, Stretch};
use fondant_heat::{Accuracy, HeatError, Poured, Surroundings};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
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
    solid_k: f64,
    /// Across at the widest place; of a block also along.
    widest: Vec<Stretch>,
    /// Across at the narrowest place, where that is another.
    narrowest: Option<Stretch>,
}

impl SideTask {
    /// Of a cast; `None` where sides do not count: hollows and tubes,
    /// whose heat goes by their width alone, moulds, coats, and objects in a
    /// bath, which chills its sides faster than any steady loss would say.
    #[must_use]
    pub fn of(document: &Document, measured: &Measured) -> Option<Self> {
        let fill = &measured.fill;
        let depth = fill.depth();
        let is_in_bath = document.conditions.cooling.by == CoolingBy::Bath;
        if fill.heat_depth(depth) < depth || document.kind() == Kind::Coat || is_in_bath {
            return None;
        }
        // As it stands at the pour: the section knows no later surroundings.
        let column = Surroundings { then: None, ..surroundings(&document.conditions) };
        let is_block = matches!(document.kind(), Kind::Block | Kind::Embed);
        let around = document.conditions.cooling.around(column.air.clone(), is_block);
        let (widest, narrowest) = if is_block {
            let walled = |width: Length, face: Face| Stretch {
                width_m: width.m(),
                beside: [Beside::Wall(face); 2],
            };
            let cast = &measured.cast;
            (vec![walled(cast.length, around.x[1]), walled(cast.width, around.y[1])], None)
        } else {
            let (widest, narrowest) = across(document, &measured.layout, &around, depth)?;
            let is_one = narrowest.width_m > SAME_WIDTH_RATIO * widest.width_m;
            (vec![widest], (!is_one).then_some(narrowest))
        };
        Some(Self { column, solid_k: document.conditions.air.k(), widest, narrowest })
    }

    /// What they do to a layer at the widest place, which gets hottest and sets
    /// first.
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn sides(
        &self,
        resin: &Calibrated,
        poured: Poured,
        depth: Length,
        stop: &Stop,
    ) -> Result<Sides, HeatError> {
        self.between(resin, poured, depth, stop).sides(&self.widest)
    }

    /// How wide the narrowest place is, and what they do there; `None` where it
    /// is as wide everywhere.
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn at_narrowest(
        &self,
        resin: &Calibrated,
        poured: Poured,
        depth: Length,
        stop: &Stop,
    ) -> Result<Option<(Length, Sides)>, HeatError> {
        let Some(stretch) = self.narrowest else { return Ok(None) };
        let sides = self.between(resin, poured, depth, stop).sides(&[stretch])?;
        Ok(Some((Length::from_m(stretch.width_m), sides)))
    }

    /// From side to side at the widest place; of a block the shorter way.
    #[must_use]
    pub fn width(&self) -> Length {
        let widths = self.widest.iter().map(|stretch| stretch.width_m);
        Length::from_m(widths.fold(f64::INFINITY, f64::min))
    }

    fn between<'a>(
        &self,
        resin: &'a Calibrated,
        poured: Poured,
        depth: Length,
        stop: &Stop,
    ) -> Between<'a> {
        Between {
            resin,
            poured,
            depth_m: depth.m(),
            column: self.column.clone(),
            accuracy: Accuracy::coarse().until(stop),
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

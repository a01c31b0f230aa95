//! The resin of a cast as its heat sees it, in as many dimensions as it needs: the one source of the
//! deepest pour and the peak.

use fondant_heat::{
    Accuracy, Deepest, Goal, HeatError, Poured, Stack, Surroundings, deepest_layer,
};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Temperature};

use super::conditions::{largest_batch, poured, surroundings};
use super::sides::{LayerOf, SideTask};
use crate::document::Document;
use crate::measure::Measured;

/// The whole depth in one pour is followed for this long, s.
pub(super) const WHOLE_POUR_HORIZON_S: f64 = 14.0 * 86_400.0;

/// The deepest pour between sides is looked for down to this many times the depth of the fill: what
/// is deeper still makes no difference to it.
const SEARCHED_RATIO: f64 = 2.0;

/// The resin of a cast between its sides.
#[derive(Debug, Clone)]
pub(crate) struct Bulk<'a> {
    resin: &'a Calibrated,
    poured: Result<Poured, HeatError>,
    fresh: Poured,
    column: Surroundings,
    sides: Option<SideTask>,
    /// Depth down to which the deepest pour is looked for.
    searched: Length,
    accuracy: Accuracy,
}

impl<'a> Bulk<'a> {
    /// Of a document in steady air.
    pub(crate) fn of(
        document: &Document,
        measured: &Measured,
        resin: &'a Calibrated,
        stop: &Stop,
    ) -> Self {
        Self {
            resin,
            poured: poured(
                &document.conditions,
                largest_batch(&document.conditions, measured, resin),
                resin,
                stop,
            ),
            fresh: Poured::fresh(document.conditions.resin.k()),
            column: surroundings(&document.conditions),
            sides: SideTask::of(document, measured),
            searched: measured.fill.depth() * SEARCHED_RATIO,
            accuracy: Accuracy::default().until(stop),
        }
    }

    /// The resin as it leaves the bucket; as it was mixed where the bucket cannot be followed.
    pub(crate) fn poured(&self) -> Poured {
        *self.poured.as_ref().unwrap_or(&self.fresh)
    }

    /// Surroundings of a column of it with a loss to its sides, W/(m³·K).
    pub(crate) fn losing(&self, side_loss: f64) -> Surroundings {
        self.column.clone().with_sides(side_loss)
    }

    /// The deepest single pour that stays at or below the resin's limit, and the loss of its column,
    /// W/(m³·K).
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub(crate) fn deepest(&self) -> Result<(Deepest, f64), HeatError> {
        let limit_k = self.resin.working.peak_limit.k();
        let poured = self.poured.clone()?;
        match &self.sides {
            Some(sides) => sides.deepest(self.layer(), limit_k, self.searched),
            None => {
                let column = &self.column;
                Ok((deepest_layer(self.resin, column, poured, limit_k, &self.accuracy)?, 0.0))
            }
        }
    }

    /// The surroundings of a column that gets as hot as a single layer of a depth between these
    /// sides.
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub(crate) fn around(&self, depth: Length) -> Result<Surroundings, HeatError> {
        Ok(self.column.clone().with_sides(self.side_loss(depth)?))
    }

    /// The loss of that column, W/(m³·K).
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub(crate) fn side_loss(&self, depth: Length) -> Result<f64, HeatError> {
        match &self.sides {
            Some(sides) if depth > Length::ZERO => sides.side_loss(self.layer(), depth),
            _ => Ok(0.0),
        }
    }

    /// The hottest point of a single layer of a depth.
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub(crate) fn peak(&self, depth: Length) -> Result<Temperature, HeatError> {
        peak(self.resin, self.around(depth)?, self.poured(), depth, &self.accuracy)
    }

    fn layer(&self) -> LayerOf<'_> {
        LayerOf { resin: self.resin, poured: self.poured(), accuracy: &self.accuracy }
    }
}

/// The hottest point of a column of one layer.
pub(crate) fn peak(
    resin: &Calibrated,
    around: Surroundings,
    poured: Poured,
    depth: Length,
    accuracy: &Accuracy,
) -> Result<Temperature, HeatError> {
    let mut stack = Stack::new(resin, around, accuracy);
    stack.pour(depth.m(), poured.t_k, poured.conversion)?;
    stack.run(WHOLE_POUR_HORIZON_S, Goal::Peak { enough_k: f64::INFINITY })?;
    Ok(Temperature::from_k(stack.peak().map_or(poured.t_k, |(peak, _)| peak)))
}

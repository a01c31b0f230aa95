//! A layer between its sides: its peak, its deepest pour and the loss of its column.

use std::ops::ControlFlow;

use fondant_materials::resin::Calibrated;
use fondant_numerics::roots::brent;
use fondant_quantities::bounds::SEARCHED_DEPTH;

use super::effect::Sides;
use super::extent::Extent;
use crate::column::{Accuracy, Deepest, Goal, Stack, deepest_layer};
use crate::error::HeatError;
use crate::field::{Around, Field, FieldGoal, Progress, Steps};
use crate::poured::Poured;
use crate::surroundings::Surroundings;

/// Steps twice as long as those of a field that is looked at.
const STEPS: Steps = Steps { release_k: 4.0, first_s: 5.0, liquid_s: 300.0, longest_s: 1800.0 };
/// Longest time a layer is simulated, s.
const HORIZON_S: f64 = 21.0 * 86_400.0;
/// First guess of the loss, W/(m³·K), which is doubled until the column is as cool as the
/// section; the loss is found to [`SAME_K`] of the peak.
const FIRST_LOSS: f64 = 30.0;
const MOST_LOSS: f64 = 1e5;
const LOSS_TOLERANCE: f64 = 0.5;
/// A section this close to a column has no sides that matter, K.
const SAME_K: f64 = 0.15;
/// The deepest pour is found to this share of its depth.
const DEPTH_TOLERANCE_RATIO: f64 = 5e-3;
/// A trial ends once it is this far over the limit, K: only the sign matters then.
const ENOUGH_OVER_K: f64 = 30.0;

/// A layer between its sides.
#[derive(Debug, Clone)]
pub struct Between<'a> {
    /// The resin.
    pub resin: &'a Calibrated,
    /// State of the resin as it is poured.
    pub poured: Poured,
    /// How far it reaches, and what is beside it.
    pub extent: Extent,
    /// What a column of it stands in, without sides. The air is steady.
    pub column: Surroundings,
    /// The walls of a block or the ends of a section, with the same air, top and base.
    pub around: Around,
    /// How finely the column is computed that will lose the heat.
    pub accuracy: Accuracy,
    /// The timber before the pour, K.
    pub solid_k: f64,
}

impl Between<'_> {
    /// What the sides do to a layer of a depth. Of a wide one only the rim counts: its middle is as
    /// hot as a column.
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub fn sides(&self, depth_m: f64) -> Result<Sides, HeatError> {
        let field = self.followed(depth_m, FieldGoal::Hard)?;
        let loss_w_m3k = match self.extent.is_wide(depth_m) {
            true => 0.0,
            false => self.loss(depth_m, self.hottest_k(&field))?,
        };
        let middle = self.layer(depth_m, loss_w_m3k, Goal::Hard)?;
        let hard_ratio = match (field.segments()[0].hard_s, middle.top().and_then(|t| t.hard_s)) {
            (Some(all), Some(middle)) => (all / middle).max(1.0),
            _ => 1.0,
        };
        Ok(Sides { loss_w_m3k, hard_ratio })
    }

    /// The loss that lets a column of a depth peak as hot as the layer does, W/(m³·K): the sides
    /// without their rim, in a third of the time.
    ///
    /// # Errors
    /// [`HeatError`] of the solvers.
    pub fn side_loss(&self, depth_m: f64) -> Result<f64, HeatError> {
        if self.extent.is_wide(depth_m) {
            return Ok(0.0);
        }
        let field = self.followed(depth_m, FieldGoal::Peak { enough_k: f64::INFINITY })?;
        self.loss(depth_m, self.hottest_k(&field))
    }

    /// The deepest single pour whose hottest point stays at or below a limit, down to `searched_m`
    /// or as deep as a column may be, which loses nothing to its sides: it is no less deep than that.
    /// With it the loss of its column, W/(m³·K).
    ///
    /// # Errors
    /// [`HeatError::LimitBelowStart`] where resin or air is already over the limit; otherwise what
    /// the solvers report.
    pub fn deepest(&self, limit_k: f64, searched_m: f64) -> Result<(Deepest, f64), HeatError> {
        let column = deepest_layer(self.resin, &self.column, self.poured, limit_k, &self.accuracy)?;
        let Deepest::Limited { depth_m: column_m } = column else { return Ok((column, 0.0)) };
        if self.extent.is_wide(column_m) {
            return Ok((column, 0.0));
        }
        let start_k = self.poured.t_k.max(self.column.air.range_k().1);
        let excess = |ln_depth: f64| -> Result<f64, HeatError> {
            let goal = FieldGoal::Peak { enough_k: limit_k + ENOUGH_OVER_K };
            let peak_k = self.hottest_k(&self.followed(ln_depth.exp(), goal)?);
            Ok(((peak_k - start_k).max(1e-6) / (limit_k - start_k)).ln())
        };
        let searched_m = searched_m.clamp(column_m, *SEARCHED_DEPTH.end());
        let high = (searched_m.ln(), excess(searched_m.ln())?);
        if high.1 <= 0.0 {
            let peak_k = start_k + (limit_k - start_k) * high.1.exp();
            return Ok((Deepest::Beyond { searched_m }, self.loss(searched_m, peak_k)?));
        }
        let low = (column_m.ln(), excess(column_m.ln())?);
        if low.1 >= 0.0 {
            return Ok((column, 0.0));
        }
        let root = brent(low, high, DEPTH_TOLERANCE_RATIO, excess)?;
        let depth_m = root.unwrap_or(low.0).exp();
        // There the layer just meets the limit.
        Ok((Deepest::Limited { depth_m }, self.loss(depth_m, limit_k)?))
    }

    fn followed(&self, depth_m: f64, goal: FieldGoal) -> Result<Field, HeatError> {
        let (body, around) = self.extent.meshed(depth_m, &self.around);
        // Beside another material directions take their steps in turn, which have to be shorter where
        // it is light and conducts well.
        let steps = if self.extent.is_all_resin() { STEPS } else { Steps::default() };
        let mut field = Field::new(body, self.resin, around, self.solid_k, steps)?;
        field.pour(depth_m, self.poured.t_k, self.poured.conversion)?;
        let mut wanted = |_: Progress| match self.accuracy.stop.is_requested() {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        };
        field.run(HORIZON_S, goal, &mut wanted)?;
        Ok(field)
    }

    fn hottest_k(&self, field: &Field) -> f64 {
        field.peak().map_or(self.poured.t_k, |peak| peak.t_k)
    }

    /// The loss with which a column reaches a peak, W/(m³·K).
    fn loss(&self, depth_m: f64, peak_k: f64) -> Result<f64, HeatError> {
        let over = |loss: f64| -> Result<f64, HeatError> {
            let goal = Goal::Peak { enough_k: peak_k + ENOUGH_OVER_K };
            let stack = self.layer(depth_m, loss, goal)?;
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

    fn layer(&self, depth_m: f64, loss_w_m3k: f64, goal: Goal) -> Result<Stack, HeatError> {
        let around = self.column.clone().with_sides(loss_w_m3k);
        let mut stack = Stack::new(self.resin, around, &self.accuracy);
        stack.pour(depth_m, self.poured.t_k, self.poured.conversion)?;
        stack.run(HORIZON_S, goal)?;
        Ok(stack)
    }
}

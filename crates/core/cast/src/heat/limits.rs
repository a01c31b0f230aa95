//! How hot a cast gets, and how deep it may be poured.

use fondant_heat::calibration::forecast::{self, caution};
use fondant_heat::calibration::sheet::deepest_elsewhere;
use fondant_heat::{
    Accuracy, Deepest, Goal, HeatError, LayerEvents, Poured, Stack, Surroundings, Trace,
};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Span, Temperature, TemperatureDelta};

use super::bulk::{Bulk, WHOLE_POUR_HORIZON_S};
use crate::document::{DepthOverride, Document};
use crate::measure::Measured;

/// Share kept off the deepest layer that the model allows, since without a reading
/// of the shop's own a forecast of depth is good to 15–20 % at best.
pub const DEPTH_CAUTION_RATIO: f64 = 0.15;
/// Temperatures of the whole pour are kept for this long past the peak, s.
const COOLING_SHOWN_S: f64 = 36.0 * 3600.0;

/// How hot a cast gets, and how deep its layers may be.
#[derive(Debug, Clone)]
pub struct HeatLimits {
    /// The resin as it leaves the bucket.
    pub poured: Poured,
    /// All in one pour.
    pub whole: Result<WholePour, HeatError>,
    /// The deepest single layer that stays under the limit.
    pub deepest: Result<Deepest, HeatError>,
    /// What sets the depth of a layer.
    pub limits: DepthLimits,
    /// The deepest layer that is poured.
    pub allowed: Length,
    /// What the sides take from a column.
    pub losses: SideLosses,
}

/// The side loss of columns of any depth: as fitted at two depths, in a straight line between.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SideLosses {
    /// Depth, m, and loss, W/(m³·K).
    fitted: [(f64, f64); 2],
}

impl SideLosses {
    /// At a depth, W/(m³·K).
    #[must_use]
    pub fn at(&self, depth: Length) -> f64 {
        let [(d0, g0), (d1, g1)] = self.fitted;
        if (d1 - d0).abs() < 1e-4 {
            return g1;
        }
        // Beyond both a line would soon leave what such sides can take.
        let share = ((depth.m() - d0) / (d1 - d0)).clamp(-0.5, 1.5);
        (g0 + (g1 - g0) * share).max(0.0)
    }
}

/// What datasheet, shop and model say of the deepest layer, side by side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DepthLimits {
    /// The model's deepest layer, less its caution.
    pub cautious: Length,
    /// The share that the caution takes off.
    pub caution: f64,
    /// The datasheet's, in this cast's conditions.
    pub datasheet: Option<Length>,
    /// The shop's own rule.
    pub rule_of_thumb: Option<Length>,
    /// Depth that the maker wants.
    pub wanted: Option<Length>,
    /// The maker wants more than they allow, and gives no reason.
    pub needs_reason: bool,
    /// The limit that is in force.
    pub holds: Holds,
}

/// What holds the depth of a layer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Holds {
    /// The model, less its caution.
    Model,
    /// The datasheet.
    Datasheet,
    /// The shop's own rule.
    RuleOfThumb,
    /// The maker, who wants less.
    Wish,
    /// The maker, who takes more on himself and says why.
    Maker,
}

/// The whole depth in one pour.
#[derive(Debug, Clone)]
pub struct WholePour {
    /// Depth of the pour.
    pub depth: Length,
    /// The hottest point.
    pub peak: Temperature,
    /// When, from the pour.
    pub peak_at: Span,
    /// Limit less peak; negative where it is passed.
    pub margin: TemperatureDelta,
    /// Events of the layer.
    pub events: LayerEvents,
    /// Temperatures over time.
    pub trace: Trace,
    /// What its sides take, W/(m³·K).
    side_loss: f64,
}

impl HeatLimits {
    /// Of a document in steady air, its resin as the model runs on it, and what the resin fills.
    #[must_use]
    pub fn of(document: &Document, resin: &Calibrated, measured: &Measured, stop: &Stop) -> Self {
        let bulk = Bulk::of(document, measured, resin, stop);
        let poured = bulk.poured();
        let depth = measured.filling().depth_in_one();
        let (deepest, around) = rayon::join(|| bulk.deepest(), || bulk.around(depth));
        let (deepest, loss) = match deepest {
            Ok((deepest, loss)) => (Ok(deepest), loss),
            Err(error) => (Err(error), 0.0),
        };
        let safe = Length::from_m(deepest.as_ref().map_or(0.0, Deepest::safe_m));
        let at_deepest = bulk.losing(loss);
        let layer = forecast::Layer {
            depth_m: safe.m(),
            poured,
            surroundings: at_deepest.clone(),
            stop: stop.clone(),
        };
        let limits = DepthLimits::of(document.depth_override.as_ref(), resin, &layer);
        let whole = around.and_then(|around| whole_pour(resin, around, poured, depth, stop));
        let at_whole = whole.as_ref().map_or(at_deepest.side_loss_w_m3k, |whole| whole.side_loss);
        let losses =
            SideLosses { fitted: [(safe.m(), at_deepest.side_loss_w_m3k), (depth.m(), at_whole)] };
        Self { poured, whole, deepest, limits, allowed: limits.allowed(), losses }
    }
}

impl DepthLimits {
    /// Of a resin whose deepest safe layer is `deepest`.
    fn of(wanted: Option<&DepthOverride>, resin: &Calibrated, deepest: &forecast::Layer) -> Self {
        let safe = Length::from_m(deepest.depth_m);
        let caution = match resin.is_from_readings() {
            true => caution(resin, deepest).unwrap_or(DEPTH_CAUTION_RATIO).min(DEPTH_CAUTION_RATIO),
            false => DEPTH_CAUTION_RATIO,
        };
        let (around, poured) = (&deepest.surroundings, deepest.poured);
        let datasheet = resin.datasheet.deepest.map(|said| {
            deepest_elsewhere(resin, said.depth, said.at, around, poured, &deepest.stop)
                .unwrap_or(said.depth)
        });
        let mut found = Self {
            cautious: safe * (1.0 - caution),
            caution,
            datasheet,
            rule_of_thumb: resin.datasheet.rule_of_thumb,
            wanted: wanted.map(|wanted| wanted.depth),
            needs_reason: false,
            holds: Holds::Model,
        };
        let strictest = found.strictest();
        if datasheet.is_some_and(|depth| depth <= strictest) {
            found.holds = Holds::Datasheet;
        } else if found.rule_of_thumb.is_some_and(|depth| depth <= strictest) {
            found.holds = Holds::RuleOfThumb;
        }
        if let Some(wanted) = wanted {
            let has_reason = !wanted.reason.trim().is_empty();
            if wanted.depth <= strictest {
                found.holds = Holds::Wish;
            } else if has_reason {
                found.holds = Holds::Maker;
            }
            found.needs_reason = wanted.depth > strictest && !has_reason;
        }
        found
    }

    /// The strictest of datasheet, rule and model.
    #[must_use]
    pub fn strictest(&self) -> Length {
        let stated = [self.datasheet, self.rule_of_thumb].into_iter().flatten();
        stated.fold(self.cautious, Length::min)
    }

    /// The deepest layer that the plan pours.
    fn allowed(&self) -> Length {
        match (self.wanted, self.holds) {
            (Some(wanted), Holds::Wish | Holds::Maker) => wanted,
            _ => self.strictest(),
        }
    }
}

fn whole_pour(
    resin: &Calibrated,
    around: Surroundings,
    poured: Poured,
    depth: Length,
    stop: &Stop,
) -> Result<WholePour, HeatError> {
    let side_loss = around.side_loss_w_m3k;
    let mut stack = Stack::new(resin, around, &Accuracy::default().until(stop));
    stack.record();
    stack.pour(depth.m(), poured.t_k, poured.conversion)?;
    stack.run(WHOLE_POUR_HORIZON_S, Goal::Hard)?;
    // A fast resin is hard while still hot; the curve goes on until it has cooled.
    let peak_s = stack.peak().map_or(0.0, |(_, at_s)| at_s);
    stack.run(peak_s + COOLING_SHOWN_S, Goal::Time)?;
    let events = *stack.top().ok_or(HeatError::Empty)?;
    let peak = Temperature::from_k(events.peak_k);
    Ok(WholePour {
        depth,
        peak,
        peak_at: Span::from_s(events.peak_s),
        margin: resin.working.peak_limit - peak,
        events,
        trace: stack.trace().cloned().unwrap_or_default(),
        side_loss,
    })
}

//! A column of resin poured in one or more layers, followed through time.

use fondant_materials::resin::Calibrated;
use fondant_numerics::rosenbrock::{Rosenbrock, Work};
use fondant_quantities::bounds::AIR_MODELLED;

use super::accuracy::Accuracy;
use super::element::Element;
use super::elements::Column;
use super::events::LayerEvents;
use super::layer_resin::LayerResin;
use super::trace::Trace;
use crate::air::DAY_S;
use crate::error::HeatError;
use crate::surroundings::Surroundings;

/// First step that is tried after a pour, s: about what a new layer and the one below take to exchange
/// heat. Where it is too long for the accuracy, a shorter one is taken.
const FIRST_STEP_S: f64 = 60.0;
/// A peak counts as passed once the hottest point has cooled by this, K.
const PAST_PEAK_K: f64 = 1.0;

/// When a run may end before its time is up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Goal {
    /// Only once the time is up.
    Time,
    /// The peak has passed, or a point is hotter than this, K.
    Peak {
        /// Hot enough to know.
        enough_k: f64,
    },
    /// The top layer's window has closed and its peak has passed.
    WindowClosed,
    /// The same, without waiting for what a warmer day could still do: enough
    /// for a first look, since what has set gives off little heat.
    WindowClosedOnce,
    /// Hard all through, window closed.
    Hard,
    /// Fully cured, hard all through, window closed.
    Full,
}

/// The column, its state and what has happened to it.
#[derive(Debug, Clone)]
pub struct Stack {
    pub(super) column: Column,
    pub(super) surroundings: Surroundings,
    /// What the column stands in from each pour on, where that changes with time.
    from_each_pour: Option<Surroundings>,
    accuracy: Accuracy,
    resin: LayerResin,
    /// Events of each layer, the lowest first.
    pub(super) events: Vec<LayerEvents>,
    pub(super) y: Vec<f64>,
    tolerance: Vec<f64>,
    pub(super) time_s: f64,
    pub(super) method: Rosenbrock,
    /// A state within the last step, kept so that it need not be made each time.
    pub(super) between: Vec<f64>,
    earlier_work: Work,
    pub(super) trace: Option<Trace>,
}

impl Stack {
    /// An empty form.
    #[must_use]
    pub fn new(resin: &Calibrated, surroundings: Surroundings, accuracy: &Accuracy) -> Self {
        Self {
            resin: LayerResin::new(resin, surroundings.air.mean_k()),
            column: Column::new(surroundings.clone()),
            from_each_pour: surroundings.then.is_some().then(|| surroundings.clone()),
            surroundings,
            accuracy: accuracy.clone(),
            events: Vec::new(),
            y: Vec::new(),
            tolerance: Vec::new(),
            time_s: 0.0,
            method: Rosenbrock::new(0, FIRST_STEP_S),
            between: Vec::new(),
            earlier_work: Work::default(),
            trace: None,
        }
    }

    /// Keeps temperatures over time from now on.
    pub fn record(&mut self) {
        self.trace = Some(Trace::default());
    }

    /// The temperatures kept since [`Stack::record`].
    #[must_use]
    pub fn trace(&self) -> Option<&Trace> {
        self.trace.as_ref()
    }

    /// Seconds from the first pour.
    #[must_use]
    pub fn time_s(&self) -> f64 {
        self.time_s
    }

    /// Events of each layer, the lowest first.
    pub fn layers(&self) -> impl ExactSizeIterator<Item = &LayerEvents> {
        self.events.iter()
    }

    /// Events of the layer poured last.
    #[must_use]
    pub fn top(&self) -> Option<&LayerEvents> {
        self.events.last()
    }

    /// The hottest any point has been, K, and when.
    #[must_use]
    pub fn peak(&self) -> Option<(f64, f64)> {
        self.layers().map(|e| (e.peak_k, e.peak_s)).max_by(|a, b| a.0.total_cmp(&b.0))
    }

    /// Mean conversion of all resin, weighted by depth.
    #[must_use]
    pub fn mean_conversion(&self) -> f64 {
        let conversions = &self.y[self.column.nodes()..];
        self.mean(|element| &conversions[element.cured()])
    }

    /// Mean temperature of all resin, weighted by depth, K.
    #[must_use]
    pub fn mean_temperature_k(&self) -> f64 {
        self.mean(|element| &self.y[element.nodes()])
    }

    /// Least margin of the glass transition over the temperature of the same place, now, K: negative
    /// where resin is still soft. `None` while nothing is in the form.
    #[must_use]
    pub fn glass_margin_k(&self) -> Option<f64> {
        self.least_glass_margin_k(self.moment(self.time_s, &self.y))
    }

    fn mean<'a>(&self, of: impl Fn(&Element) -> &'a [f64]) -> f64 {
        let (mut sum, mut depth) = (0.0, 0.0);
        for element in self.column.elements() {
            let parts = element.depths_m().zip(of(element));
            sum += parts.map(|(depth, value)| depth * value).sum::<f64>();
            depth += element.depth_m;
        }
        sum / depth
    }

    /// What the solver has spent.
    #[must_use]
    pub fn work(&self) -> Work {
        let now = self.method.work();
        Work {
            accepted: self.earlier_work.accepted + now.accepted,
            rejected: self.earlier_work.rejected + now.rejected,
            evaluations: self.earlier_work.evaluations + now.evaluations,
        }
    }

    /// Pours a layer on top, now. Contact with the one below is perfect; the
    /// old surface becomes interior.
    ///
    /// # Errors
    /// [`HeatError::Depth`] outside 0.1 mm to 1 m, [`HeatError::Temperature`]
    /// outside 230 to 450 K.
    pub fn pour(&mut self, depth_m: f64, t_k: f64, conversion: f64) -> Result<(), HeatError> {
        self.pour_layer(self.resin, depth_m, t_k, conversion)
    }

    /// The same with another resin than the column began with.
    ///
    /// # Errors
    /// As [`Stack::pour`].
    pub fn pour_of(
        &mut self,
        resin: &Calibrated,
        depth_m: f64,
        t_k: f64,
        conversion: f64,
    ) -> Result<(), HeatError> {
        let resin = LayerResin::new(resin, self.surroundings.air.mean_k());
        self.pour_layer(resin, depth_m, t_k, conversion)
    }

    fn pour_layer(
        &mut self,
        resin: LayerResin,
        depth_m: f64,
        t_k: f64,
        conversion: f64,
    ) -> Result<(), HeatError> {
        if !(1e-4..=1.0).contains(&depth_m) {
            return Err(HeatError::Depth { depth_m });
        }
        let (coldest, warmest) = self.surroundings.air.range_k();
        for t_k in [t_k, coldest, warmest] {
            if !AIR_MODELLED.contains(&t_k) {
                return Err(HeatError::Temperature { t_k });
            }
        }
        if let Some(again) = self.from_each_pour.clone().filter(|_| self.time_s > 0.0) {
            self.stand_in(again.delayed(self.time_s));
        }
        let conversions = self.y.split_off(self.column.nodes());
        let kept = self.column.add_layer(resin, depth_m, self.accuracy.pieces(depth_m));
        // What touches takes the mean of both by the heat that either stores there.
        if let Some(joint) = self.y.last_mut() {
            *joint = kept * *joint + (1.0 - kept) * t_k;
        }
        let (nodes, cured) = (self.column.nodes(), self.column.conversions());
        self.y.resize(nodes, t_k);
        self.y.extend(conversions);
        self.y.resize(nodes + cured, conversion);
        self.tolerance = vec![self.accuracy.temperature_k; nodes];
        self.tolerance.resize(nodes + cured, self.accuracy.conversion);
        self.events.push(LayerEvents::new(self.time_s, depth_m, t_k));
        self.earlier_work = self.work();
        self.method = Rosenbrock::new(nodes + cured, FIRST_STEP_S);
        self.sample_now();
        Ok(())
    }

    /// From now on the column stands in these surroundings: a fan is switched
    /// on, ice is taken away. Their times count from the first pour too; later pours change nothing.
    pub fn surround(&mut self, surroundings: Surroundings) {
        self.from_each_pour = None;
        self.stand_in(surroundings);
    }

    fn stand_in(&mut self, surroundings: Surroundings) {
        self.surroundings = surroundings.clone();
        self.column.surround(surroundings);
        self.earlier_work = self.work();
        if !self.y.is_empty() {
            self.method = Rosenbrock::new(self.y.len(), FIRST_STEP_S);
        }
    }

    /// Follows the column until `end_s`, or until the goal is met.
    ///
    /// # Errors
    /// [`HeatError::Empty`] before any pour; [`HeatError::Step`] where the
    /// solver cannot go on; [`HeatError::Abandoned`] where its accuracy's
    /// [`Stop`](fondant_numerics::Stop) is raised.
    pub fn run(&mut self, end_s: f64, goal: Goal) -> Result<(), HeatError> {
        if self.events.is_empty() {
            return Err(HeatError::Empty);
        }
        while self.time_s < end_s && !self.met(goal) {
            if self.accuracy.stop.is_requested() {
                return Err(HeatError::Abandoned { at_s: self.time_s });
            }
            let change_s = self.change_surroundings();
            let smooth_s = self.surroundings.air.smooth_until(self.time_s).min(end_s).min(change_s);
            let h = self.method.step(
                &mut self.column,
                self.time_s,
                smooth_s,
                &mut self.y,
                &self.tolerance,
            )?;
            if h <= 0.0 {
                break;
            }
            self.follow(h);
            self.time_s =
                if self.time_s + h >= smooth_s - 1e-6 { smooth_s } else { self.time_s + h };
        }
        Ok(())
    }

    /// Goes over to what comes next around the column, where its time has come,
    /// and says when the next change is.
    fn change_surroundings(&mut self) -> f64 {
        while let Some(then) = self.surroundings.then.take_if(|then| then.0 <= self.time_s + 1e-6) {
            self.stand_in(then.1);
        }
        self.surroundings.then.as_ref().map_or(f64::INFINITY, |then| then.0)
    }

    fn met(&self, goal: Goal) -> bool {
        let Some(top) = self.top() else { return false };
        match goal {
            Goal::Time => false,
            Goal::Peak { enough_k } => {
                self.peak().is_some_and(|(peak, _)| peak >= enough_k) || self.past_peak()
            }
            Goal::WindowClosed => top.closes_s.is_some() && self.past_peak(),
            Goal::WindowClosedOnce => top.closes_s.is_some() && self.has_cooled(),
            Goal::Hard => top.hard_s.is_some() && top.closes_s.is_some(),
            Goal::Full => top.full_s.is_some() && top.hard_s.is_some() && top.closes_s.is_some(),
        }
    }

    /// All has gelled, after which the reaction only slows in steady air,
    /// and the hottest has cooled. Cooling alone does not show it: warm resin in a
    /// cold shop cools first and warms up hours later.
    fn past_peak(&self) -> bool {
        let (_, best_s) = self.peak().unwrap_or((0.0, self.time_s));
        // A warmer afternoon, or ice taken away, may still lift what has cooled.
        let changes = !self.surroundings.air.is_steady() || self.surroundings.then.is_some();
        (!changes || self.time_s >= best_s + DAY_S) && self.has_cooled()
    }

    fn has_cooled(&self) -> bool {
        let conversions = &self.y[self.column.nodes()..];
        let is_liquid = |element: &Element| {
            let gel = element.resin.cure.gel_conversion();
            conversions[element.cured()].iter().any(|conversion| *conversion < gel)
        };
        if self.column.elements().iter().any(is_liquid) {
            return false;
        }
        let hottest = self.hottest_k(&self.y);
        let best = self.peak().map_or(hottest, |(best, _)| best);
        hottest < best - PAST_PEAK_K
            || hottest < self.surroundings.air.at(self.time_s) + PAST_PEAK_K
    }
}

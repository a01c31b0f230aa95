//! Pours with their times, windows and peaks.

use fondant_heat::Stack;
use fondant_quantities::{Length, Span, Temperature, Volume};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::breaks::Break;
use crate::layers::Layer;

/// How a layer joins the one below.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub enum Joint {
    /// No layer below.
    First,
    /// Poured while the one below was sticky: the bond is chemical.
    WetOnTacky,
    /// Poured after the one below was hard and had been sanded.
    AfterCure {
        /// When the one below was hard.
        hard: Timestamp,
        /// Start of the sanding, UTC.
        sanding: Timestamp,
    },
}

/// Why a pour is not earlier.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Binding {
    /// Work begins then.
    Begins,
    /// The layer below turns sticky then.
    Window,
    /// Earlier the air forbids it.
    Air,
    /// The shop is closed before.
    Hours,
    /// Poured earlier, a layer passes the limit.
    Limit,
    /// The layer below has to be hard and sanded first.
    Sanding,
    /// It could be earlier; a later window would then fall outside the hours,
    /// or what comes after would not be better.
    Later,
}

/// One pour of the plan.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct ScheduledPour {
    /// The layer.
    pub layer: Layer,
    /// Start of the pour, UTC.
    pub at: Timestamp,
    /// When the last bucket of it is in.
    pub done: Timestamp,
    /// Buckets.
    pub batches: u32,
    /// What is mixed for it, losses counted.
    pub mixed: Volume,
    /// How it joins the one below.
    pub joint: Joint,
    /// It always waits for the one below to be hard, not because a window was missed.
    #[serde(default)]
    pub is_never_wet: bool,
    /// Why it is not earlier; `None` for a time that the maker has set.
    pub binding: Option<Binding>,
    /// Its surface turns sticky: the window for the next layer opens.
    pub opens: Timestamp,
    /// Its surface has set: the window closes.
    pub closes: Timestamp,
    /// The hottest it gets, over the whole plan.
    pub peak: Temperature,
    /// Time of the peak, UTC.
    pub peak_at: Timestamp,
}

/// A plan that holds in the model.
#[derive(Debug, Clone)]
pub struct Schedule {
    /// The pours in order.
    pub pours: Vec<ScheduledPour>,
    /// Hard all through: the form can be opened.
    pub hard: Timestamp,
    /// The run of the model with these pours, with temperatures over time.
    pub run: Stack,
    /// What the maker's own times break, where they do.
    pub breaks: Vec<Break>,
    /// How far the search has proven it.
    pub proof: Proof,
    /// Runs of the model spent.
    pub runs: usize,
}

/// How good a plan is known to be.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub enum Proof {
    /// No plan on the grid is better.
    Best,
    /// The search ran out of its allowance: a plan that opens the form earlier,
    /// by this much at most, cannot be ruled out.
    Within(Span),
    /// Windows moved in ways that the search could not bound.
    Unproven,
    /// The maker has set the times.
    Given,
}

/// Thin layers are covered this long after the pour, s.
const COVER_THIN_S: f64 = 1800.0;
/// Layers no deeper than this are thin, m.
const THIN_M: f64 = 0.006;
/// A pour is watched this long for bubbles and leaks, s.
pub const WATCH_S: i64 = 1800;

impl ScheduledPour {
    /// Whether it waits for the one below to be hard because a window was missed.
    #[must_use]
    pub fn is_sanded_joint(&self) -> bool {
        !self.is_never_wet && matches!(self.joint, Joint::AfterCure { .. })
    }

    /// When a vented lid goes on: half an hour after a thin layer, past the
    /// peak of a deep one. A layer on it may come first.
    #[must_use]
    pub fn cover_from(&self) -> Timestamp {
        let thin = self.done + Span::from_s(COVER_THIN_S).signed();
        if self.layer.heat_depth.m() <= THIN_M { thin } else { self.peak_at.max(thin) }
    }
}

/// The hottest any of some layers gets.
#[must_use]
pub fn peak(pours: &[ScheduledPour]) -> Temperature {
    pours.iter().map(|p| p.peak).fold(Temperature::from_k(0.0), Temperature::max)
}

/// Layers in the form that wait for the one below to be hard.
#[must_use]
pub fn sanded_joints(pours: &[ScheduledPour]) -> usize {
    pours.iter().filter(|pour| pour.is_sanded_joint()).count()
}

/// When all that is poured in the form is hard, of pours that are all hard at a time.
#[must_use]
pub fn form_opens(pours: &[ScheduledPour], hard: Timestamp) -> Timestamp {
    match pours.last().map(|pour| (pour.layer.kind.is_flood(), pour.joint)) {
        Some((true, Joint::AfterCure { hard, .. })) => hard,
        _ => hard,
    }
}

/// From the first pour until all is hard.
#[must_use]
pub fn takes(pours: &[ScheduledPour], hard: Timestamp) -> Span {
    let first = pours.first().map_or(hard, |pour| pour.at);
    Span::from_s(hard.duration_since(first).as_secs_f64())
}

impl Schedule {
    /// The hottest any layer gets.
    #[must_use]
    pub fn peak(&self) -> Temperature {
        peak(&self.pours)
    }

    /// Layers in the form that wait for the one below to be hard.
    #[must_use]
    pub fn sanded_joints(&self) -> usize {
        sanded_joints(&self.pours)
    }

    /// From the first pour until it is hard.
    #[must_use]
    pub fn takes(&self) -> Span {
        takes(&self.pours, self.hard)
    }

    /// The thickest layer of the cast's own resin in the form, as far as heat goes.
    #[must_use]
    pub fn thickest(&self) -> Length {
        let own = self.pours.iter().map(|pour| pour.layer);
        let own = own.filter(|layer| layer.resin == 0 && layer.is_in_form());
        own.map(|layer| layer.heat_depth).fold(Length::ZERO, Length::max)
    }

    /// When the form can be opened: all that is poured in it is hard. A flood coat comes later.
    #[must_use]
    pub fn form_opens(&self) -> Timestamp {
        form_opens(&self.pours, self.hard)
    }

    /// When the window below a pour opens, where the pour stands before that; UTC.
    #[must_use]
    pub fn waits_for(&self, pour: usize) -> Option<Timestamp> {
        self.breaks.iter().find_map(|broken| match broken {
            Break::NotSticky { pour: of, opens } if *of == pour => Some(*opens),
            _ => None,
        })
    }

    /// Temperature of the surface at a time, while the model was followed.
    #[must_use]
    pub fn surface_at(&self, at: Timestamp) -> Option<Temperature> {
        let first = self.pours.first()?.at;
        let t_s = at.duration_since(first).as_secs_f64();
        let samples = &self.run.trace()?.samples;
        let next = samples.partition_point(|sample| sample.t_s <= t_s);
        let (a, b) = (samples.get(next.checked_sub(1)?)?, samples.get(next)?);
        let share = (t_s - a.t_s) / (b.t_s - a.t_s).max(1e-9);
        Some(Temperature::from_k(a.surface_k + (b.surface_k - a.surface_k) * share))
    }
}

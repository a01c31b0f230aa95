//! What is to be scheduled, and what comes of it.

use jiff::Timestamp;

use crate::heat::{HeatError, Poured, Stack, Surroundings};
use crate::layers::Layer;
use crate::quantities::{Span, Temperature};
use crate::resin::Resin;

use super::hours::ShopHours;

/// What is to be scheduled.
#[derive(Debug, Clone)]
pub struct Task<'a> {
    /// The resin of every layer.
    pub resin: &'a Resin,
    /// Air, film and form board.
    pub surroundings: Surroundings,
    /// The resin as it goes in.
    pub poured: Poured,
    /// No point may get hotter.
    pub limit: Temperature,
    /// The layers, the lowest first.
    pub layers: &'a [Layer],
    /// When the shop is open.
    pub hours: &'a ShopHours,
    /// No pour before this.
    pub not_before: Timestamp,
    /// Time to mix and pour one layer; it ends inside the hours and the window.
    pub hands: Span,
    /// Time to sand, wipe and dry a hard layer before the next.
    pub sanding: Span,
}

/// How a layer joins the one below.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Joint {
    /// There is none below.
    First,
    /// Poured while the one below was sticky: the bond is chemical.
    WetOnTacky,
    /// Poured after the one below was hard and had been sanded.
    AfterCure {
        /// When the one below was hard.
        hard: Timestamp,
        /// When sanding begins.
        sanding: Timestamp,
    },
}

/// One pour of the plan.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ScheduledPour {
    /// The layer.
    pub layer: Layer,
    /// When it goes in.
    pub at: Timestamp,
    /// How it joins the one below.
    pub joint: Joint,
    /// Its surface turns sticky: the window for the next layer opens.
    pub opens: Timestamp,
    /// Its surface has set: the window closes.
    pub closes: Timestamp,
    /// The hottest it gets, over the whole plan.
    pub peak: Temperature,
    /// When it is hottest.
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
    /// Runs of the model spent.
    pub runs: usize,
}

impl Schedule {
    /// The hottest any layer gets.
    #[must_use]
    pub fn peak(&self) -> Temperature {
        self.pours.iter().map(|p| p.peak).fold(Temperature::from_k(0.0), Temperature::max)
    }

    /// Layers that wait for the one below to be hard.
    #[must_use]
    pub fn sanded_joints(&self) -> usize {
        self.pours.iter().filter(|p| matches!(p.joint, Joint::AfterCure { .. })).count()
    }
}

/// Why there is no plan.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum ScheduleError {
    /// The shop is not open long enough at a time to mix and pour.
    #[error("the shop is never open for the {} minutes that a pour takes", hands.s() / 60.0)]
    NoTimeToPour {
        /// Time to mix and pour.
        hands: Span,
    },
    /// At every time tried some layer passes the limit.
    #[error("some layer passes the limit at every time tried")]
    TooHot,
    /// A surface does not set within two weeks.
    #[error("the surface does not set within two weeks in this air")]
    NeverSets,
    /// The model failed.
    #[error(transparent)]
    Heat(#[from] HeatError),
}

//! Why there is no schedule.

use super::air_rule::Unfit;
use fondant_heat::HeatError;
use fondant_quantities::Span;
use serde::{Deserialize, Serialize};

/// Why there is no plan.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
pub enum ScheduleError {
    /// The shop is not open long enough at a time to mix and pour.
    #[error("the shop is never open for the {} minutes that a pour takes", hands.s() / 60.0)]
    NoTimeToPour {
        /// Time to mix and pour.
        hands: Span,
    },
    /// Whenever the shop is open long enough, the air forbids a pour.
    #[error("the air forbids a pour at every hour")]
    NoFitAir {
        /// What is wrong with it at the best of these hours.
        least: Unfit,
    },
    /// At every time tried some layer passes the limit.
    #[error("some layer passes the limit at every time tried")]
    TooHot,
    /// No hour of the shop's falls into the window of a layer that cannot be sanded, or what is
    /// poured on it then passes the limit.
    #[error("what covers the inclusions can never be poured while they are sticky")]
    MissesInclusions,
    /// The search has spent its runs of the model and found no plan; there may be one.
    #[error("no plan found in {runs} runs of the model")]
    Exhausted {
        /// The runs.
        runs: usize,
    },
    /// A surface does not set within two weeks.
    #[error("the surface does not set within two weeks in this air")]
    NeverSets,
    /// A pour lies more than 400 days from the earliest time of work.
    #[error("pour {} is out of reach", pour + 1)]
    OutOfReach {
        /// The pour, from 0.
        pour: usize,
    },
    /// Nobody wanted the answer any more.
    #[error("abandoned")]
    Abandoned,
    /// The model failed.
    #[error(transparent)]
    Heat(#[from] HeatError),
}

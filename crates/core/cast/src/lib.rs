//! A cast: what the maker says of it, and everything that follows.
//!
//! Data walks one way, each arrow one function of the stages before it:
//!
//! `Document → Measured → HeatLimits → PourTask → Schedule → Forecast → facts → Observed`
//!
//! - [`document`]: [`Document`], what the maker has said; [`checks`]: where it contradicts itself
//! - [`measure`]: [`Measured`], what lies in the form and how much resin it takes
//! - [`heat`]: [`HeatLimits`], how hot it gets and how deep a layer may be
//! - [`pours`]: [`PourTask`], layers and times as a task for the search
//! - [`evaluate`](fn@evaluate): all of these, from [`Inputs`] to an [`Evaluation`]
//! - [`forecast`]: [`Forecast`], what was promised when a plan was taken
//! - [`facts`]: what happened, and the plan by it
//! - [`planning`]: readers of an evaluation: alternatives, fixes, charts, fields
//! - [`agenda`]: what a taken plan asks of the shop, and when
//! - [`mix`]: parts A and B, what to buy; [`shop`]: hands, machines and air of a workshop

pub mod agenda;
pub mod checks;
pub mod document;
mod evaluate;
pub mod facts;
pub mod forecast;
pub mod heat;
pub mod measure;
pub mod mix;
pub mod planning;
pub mod pours;
pub mod shop;

pub use checks::Conflict;
pub use document::{Contents, Document, Kind, PourId};
pub use evaluate::{Evaluation, Held, Inputs, NotEvaluated, Standing, evaluate};
pub use forecast::Forecast;
pub use heat::HeatLimits;
pub use measure::{Measured, measure, refusals};
pub use pours::{PourTask, PourTrouble, Site};
pub use shop::ShopSettings;

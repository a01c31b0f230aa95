//! A cast: what the maker says of it, and everything that follows. It answers how much resin to buy, how
//! deep a layer may be, when each one can be poured, and what to do next.
//!
//! Data walks one way, each arrow one function of the steps before it:
//!
//! `Document → Measured → HeatLimits → PourTask → Schedule → Forecast → facts → Observed`
//!
//! Read in this order:
//!
//! - [`document`]: [`Document`], what the maker has said; [`checks`]: where it contradicts itself
//! - [`measure`](mod@measure): [`Measured`], the contents of the form and the resin they take
//! - [`heat`]: [`HeatLimits`], how hot it gets and how deep a layer may be
//! - [`pours`]: [`PourTask`], layers and times as a task for the search
//! - [`evaluate`](fn@evaluate): all of these, from [`Inputs`] to an [`Evaluation`]
//! - [`forecast`]: [`Forecast`], what was predicted when a plan was taken
//! - [`facts`]: what happened, and the plan revised by it
//! - [`planning`]: readers of an evaluation: alternatives, fixes, charts, fields
//! - [`agenda`]: what a taken plan asks of the shop, and when
//! - [`mix`]: parts A and B, what to buy; [`shop`]: hands, machines and air of a workshop
//!
//! ```
//! use fondant_cast::{Document, Inputs, Site, evaluate};
//! use fondant_materials::resin::shipped;
//! use fondant_numerics::Stop;
//! use fondant_pours::{ShopHours, Workday};
//! use fondant_quantities::Length;
//! use fondant_shapes::form::Piece;
//!
//! let mm = Length::from_mm;
//! let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
//! let document = Document::river_top("Top".into(), piece, "2026-11-23T08:00:00Z".parse()?);
//! let resin = shipped::find(&document.resin)?;
//! let day = Workday::read_day("08:00-18:00")?;
//! let site = Site::plain(ShopHours::new(vec![day; 7].try_into().expect("a week"), "UTC")?);
//! let evaluation = evaluate(&Inputs::new(document, resin, &site), &Stop::NEVER)?;
//! assert!(!evaluation.pours?.pours.is_empty());
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

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
pub use evaluate::{Evaluation, Held, Inputs, Need, NotEvaluated, Standing, evaluate};
pub use forecast::Forecast;
pub use heat::HeatLimits;
pub use measure::{Measured, measure, refusals};
pub use pours::{PourTask, PourTrouble, Site};
pub use shop::ShopSettings;

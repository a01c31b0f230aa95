//! The plan of a cast: one typed document, and everything that follows from it.
//!
//! - [`kind`]: the seven kinds of cast
//! - [`document`]: what the maker has said; [`parts`]: subject by subject
//! - [`conflicts`]: where it contradicts itself
//! - [`measuring`]: what lies in the form, volume, lift
//! - [`heating`]: how hot it gets, and how deep it may pour
//! - [`in_bucket`]: whether a bucket is poured before it is too thick
//! - [`field_task`]: the section or block whose field is computed
//! - [`sides`]: what stands beside the resin
//! - [`pouring`]: the plan's layers and times as a task for the search
//! - [`alternatives`]: the best plans by different wishes, and how well they hold
//! - [`fixes`]: the smallest changes that make a plan possible
//! - [`facts`]: what happened, and the plan by it
//! - [`agenda`]: what it asks of the shop and when
//! - [`shop`]: hands, machines and air of a workshop
//! - [`evaluation`]: what follows: heat, layers, hours

pub mod agenda;
pub mod alternatives;
pub mod conflicts;
pub mod document;
pub mod evaluation;
pub mod facts;
pub mod field_task;
pub mod fixes;
pub mod heating;
pub mod in_bucket;
pub mod kind;
pub mod measuring;
pub mod mix;
pub mod parts;
pub mod pouring;
mod section;
pub mod shop;
pub mod sides;

pub use agenda::{Agenda, Collision, collisions};
pub use alternatives::{Alternative, Wish, alternatives};
pub use conflicts::Conflict;
pub use document::Plan;
pub use evaluation::{Evaluation, Held, Standing, evaluate};
pub use facts::{Fact, FactRow};
pub use field_task::{Dimension, FieldTask};
pub use fixes::{Fix, Offer, offers};
pub use heating::{
    Change, ChangeOf, DepthLimits, DepthMap, DepthPoint, Heat, Holds, WholePour, changes,
    depth_map, peak_by_depth, peak_by_wait,
};
pub use in_bucket::InBucket;
pub use kind::Kind;
pub use measuring::{Measured, Sunk, Ways, measure, refusals};
pub use parts::{
    AirFrom, Brief, Checks, Coat, Conditions, DepthOverride, FormBuild, FormChoices, Moulding,
    Pours, RiverWidths, Shaping, Split, TakenPour, Timber,
};
pub use pouring::{PourTask, PourTrouble, Site};
pub use shop::{Mixing, ShopSettings};
pub use sides::SideTask;

//! What follows from a plan. The one entry that pages call.

use crate::geometry::Point;
use crate::heat::HeatError;
use crate::layers::{self, LayersError, MOST_LAYERS};
use crate::mix::buying::{Order, order};
use crate::mix::{Parts, parts};
use crate::quantities::Span;
use crate::resin::Resin;
use crate::schedule::{self, Schedule, ScheduleError, ShopHours, Task};
use crate::volume::Fill;
use crate::volume::float::{Lift, lift, places};
use crate::volume::layout::What;

use super::conflicts::Conflict;
use super::document::Plan;
use super::heating::{Heat, heat, surroundings};
use super::kind::Kind;
use super::measuring::{Measured, measure};

/// Time to mix and pour one layer.
pub const HANDS: Span = Span::from_s(1800.0);
/// So many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
const EXTRA_LAYERS: usize = 3;

/// Everything that follows from a plan.
#[derive(Debug, Clone)]
pub struct Evaluation {
    /// What lies in the form and how much resin it takes.
    pub measured: Measured,
    /// The resin chosen.
    pub resin: Resin,
    /// Mass and parts of the total.
    pub parts: Parts,
    /// What to buy.
    pub order: Order,
    /// The pull on what lies in the resin, and where to hold it.
    pub held: Vec<Held>,
    /// How hot it gets.
    pub heat: Heat,
    /// When each layer goes in.
    pub pours: Result<Schedule, PourTrouble>,
}

/// The pull on one thing, and where to hold it.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// What it is.
    pub what: What,
    /// The pull.
    pub lift: Lift,
    /// Places for clamps or weights, in the form.
    pub places: Vec<Point>,
}

/// Why there are no pour times.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum PourTrouble {
    /// The depth cannot be split into layers.
    #[error(transparent)]
    Layers(#[from] LayersError),
    /// No deepest layer is known.
    #[error(transparent)]
    Heat(#[from] HeatError),
    /// No pour times.
    #[error(transparent)]
    Schedule(#[from] ScheduleError),
}

/// Works out a plan with the resin that it names, as it stands on the shelf.
///
/// # Errors
/// The plan's conflicts, where it has any; see [`Plan::conflicts`].
pub fn evaluate(
    plan: &Plan,
    resin: &Resin,
    hours: &ShopHours,
) -> Result<Evaluation, Vec<Conflict>> {
    let measured = measure(plan)?;
    let resin = resin.as_learnt();
    let held = held(&measured, &resin);
    let heat = heat(plan, &resin, &measured.fill);
    let pours = pours(plan, &resin, &measured.fill, &heat, hours);
    let sizing = &measured.sizing;
    let parts = parts(sizing.total, &resin);
    let order = order(&plan.buying, sizing.total, sizing.uncertainty);
    Ok(Evaluation { measured, resin, parts, order, held, heat, pours })
}

fn held(measured: &Measured, resin: &Resin) -> Vec<Held> {
    let hold = |sunk: &super::measuring::Sunk| {
        let lift = lift(sunk.volume, sunk.mass, resin.density);
        let laid = measured.layout.laid.iter().find(|laid| laid.what == sunk.what);
        // An object is held at its own points; a board where it does not flex.
        let places = match (sunk.what, laid) {
            (What::Board(_), Some(laid)) => places(&laid.shape.upper, &lift),
            _ => Vec::new(),
        };
        Held { what: sunk.what, lift, places }
    };
    measured.sunk.iter().map(hold).collect()
}

fn pours(
    plan: &Plan,
    resin: &Resin,
    fill: &Fill,
    heat: &Heat,
    hours: &ShopHours,
) -> Result<Schedule, PourTrouble> {
    if let Err(error) = &heat.deepest {
        return Err(error.clone().into());
    }
    let mut fewest = layers::fewest(fill, heat.allowed)?;
    if plan.kind == Kind::Coat {
        fewest = fewest.max(plan.coat.coats as usize);
    }
    let mut refusal = PourTrouble::Schedule(ScheduleError::TooHot);
    for count in fewest..=(fewest + EXTRA_LAYERS).min(MOST_LAYERS) {
        let split = layers::split(fill, count);
        let task = Task {
            resin,
            surroundings: surroundings(plan),
            poured: heat.poured,
            limit: resin.working.peak_limit,
            layers: &split,
            hours,
            not_before: plan.pours.not_before,
            hands: HANDS,
            sanding: plan.pours.sanding,
        };
        match schedule::plan(&task) {
            Ok(schedule) => return Ok(schedule),
            Err(ScheduleError::TooHot) => refusal = ScheduleError::TooHot.into(),
            Err(error) => return Err(error.into()),
        }
    }
    Err(refusal)
}

#[cfg(test)]
mod tests;

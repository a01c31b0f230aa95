//! What follows from a plan. The one entry that pages call.

use crate::mix::buying::{Order, order};
use crate::mix::{Parts, parts};
use fondant_materials::resin::Resin;
use fondant_pours::{Allowance, Schedule};
use fondant_shapes::geometry::Point;
use fondant_shapes::volume::float::{Lift, lift, places};
use fondant_shapes::volume::layout::What;

use super::conflicts::Conflict;
use super::document::Plan;
use super::heating::{Heat, heat};
use super::measuring::{Measured, measure};
use super::pouring::{PourTask, PourTrouble, Site};

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
    /// Where the pour times come from.
    pub standing: Standing,
    /// What they are searched in; `None` where there is nothing to search.
    pub pour_task: Option<PourTask>,
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

/// Where the pour times come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Standing {
    /// The quick search proposes them.
    Proposed,
    /// The maker has taken them.
    Taken,
    /// The maker had taken others; since then the form has changed.
    Outdated,
}

/// Works out a plan with the resin that it names, as it stands on the shelf.
///
/// # Errors
/// The plan's conflicts, where it has any; see [`Plan::conflicts`].
pub fn evaluate(plan: &Plan, resin: &Resin, site: &Site) -> Result<Evaluation, Vec<Conflict>> {
    let plan = &site.in_mean_air(plan);
    let measured = measure(plan)?;
    let resin = resin.as_learnt();
    let held = held(&measured, &resin);
    let heat = heat(plan, &resin, &measured.fill);
    let pour_task = PourTask::of(plan, &resin, &measured, &heat, site);
    let (pours, standing) = pours(&pour_task, !plan.pours.taken.is_empty());
    let pour_task = pour_task.ok();
    let sizing = &measured.sizing;
    let parts = parts(sizing.total, &resin);
    let order = order(&plan.buying, sizing.total, sizing.uncertainty);
    Ok(Evaluation { measured, resin, parts, order, held, heat, pours, standing, pour_task })
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

/// What the maker has taken, or what a quick search proposes.
fn pours(
    task: &Result<PourTask, PourTrouble>,
    has_taken: bool,
) -> (Result<Schedule, PourTrouble>, Standing) {
    let standing = if has_taken { Standing::Outdated } else { Standing::Proposed };
    let task = match task {
        Ok(task) => task,
        Err(trouble) => return (Err(trouble.clone()), standing),
    };
    match task.taken() {
        Some(given) => (task.judged(&given).map_err(PourTrouble::from), Standing::Taken),
        None => (task.search(&Allowance::quick()), standing),
    }
}

#[cfg(test)]
mod tests;

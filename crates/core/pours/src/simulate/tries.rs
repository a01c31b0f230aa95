//! How often a plan still holds when the air, the resin and the people are not
//! as planned.

use rayon::prelude::*;

use super::course::{Course, LIMIT_SLACK_K};
use super::error::ScheduleError;
use super::given::Given;
use super::grid::timestamp;
use super::joint::{joined, slots_of};
use super::slots::Slots;
use super::task::{Task, stage_resins_at};
use fondant_quantities::TemperatureDelta;

/// Half-range of the constant error of the air temperature, K (convention).
pub const AIR_K: f64 = 3.0;
/// Half-range of the error of the cure rate, as a share of it (convention).
pub const RATE_RATIO: f64 = 0.15;
/// Half-range of the delay of each pour, s (convention).
pub const DELAY_S: f64 = 1800.0;
/// Number of tries of a plan.
pub const TRIES: usize = 100;

/// Bases of the sequence of tries: one for the air, one for the resin, one for
/// each pour.
const BASES: [u32; 16] = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53];

/// Result of a plan's tries.
#[derive(Debug, Clone, Copy, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct Held {
    /// Tries.
    pub tries: usize,
    /// Number of tries in which every pour fell into its window, or on a hard layer,
    /// and no layer passed the limit.
    pub held: usize,
    /// Number of tries in which some layer passed the limit.
    pub too_hot: usize,
}

/// The `index`-th number of the van der Corput sequence in a base, 0…1: it fills
/// the range evenly however many tries there are (J. H. Halton, *Numerische
/// Mathematik* 2 (1960) 84–90).
fn spread(mut index: usize, base: u32) -> f64 {
    let base = base as usize;
    let (mut share, mut sum) = (1.0, 0.0);
    while index > 0 {
        share /= base as f64;
        sum += share * (index % base) as f64;
        index /= base;
    }
    sum
}

/// A number of −1…1 for a try.
fn off(index: usize, dimension: usize) -> f64 {
    2.0 * spread(index + 1, BASES[dimension % BASES.len()]) - 1.0
}

/// Runs a plan `TRIES` times with perturbed inputs.
#[must_use]
pub fn robust(task: &Task<'_>, given: &[Given], tries: usize) -> Held {
    let Ok(slots) = slots_of(task, given) else {
        return Held { tries, held: 0, too_hot: 0 };
    };
    let after_cure = after_cure(task, given).unwrap_or_else(|_| vec![false; given.len()]);
    let plan = Plan { slots: &slots, given, after_cure: &after_cure };
    let all: Vec<Outcome> = (0..tries)
        .into_par_iter()
        .map(|index| attempt(task, &plan, index).unwrap_or(Outcome::Missed))
        .collect();
    let count = |wanted: Outcome| all.iter().filter(|outcome| **outcome == wanted).count();
    Held { tries, held: count(Outcome::Held), too_hot: count(Outcome::TooHot) }
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Outcome {
    Held,
    Missed,
    TooHot,
}

/// A plan that is tried.
#[derive(Clone, Copy)]
struct Plan<'a> {
    slots: &'a Slots,
    given: &'a [Given],
    /// Pours that the plan puts on a sanded layer.
    after_cure: &'a [bool],
}

/// Which pours the plan puts after the window below them.
fn after_cure(task: &Task<'_>, given: &[Given]) -> Result<Vec<bool>, ScheduleError> {
    let mut below: Option<Course> = None;
    let mut all = Vec::with_capacity(given.len());
    for pour in given {
        let is_after = |below: &Course| {
            below.layer.joins(&pour.layer).is_never_wet() || pour.at.as_second() > below.closes
        };
        all.push(below.as_ref().is_some_and(is_after));
        below = Some(Course::next(below.as_ref(), task, pour)?);
    }
    Ok(all)
}

fn attempt(task: &Task<'_>, plan: &Plan<'_>, index: usize) -> Result<Outcome, ScheduleError> {
    let air = task.air.warmer(TemperatureDelta::from_k(AIR_K * off(index, 0)));
    let rate = 1.0 + RATE_RATIO * off(index, 1);
    let (resin, stage_resins) =
        (task.resin.scaled(rate, 1.0), stage_resins_at(task.stage_resins, |_| rate));
    let task = Task { air: &air, resin: &resin, stage_resins: &stage_resins, ..task.clone() };
    let mut below: Option<Course> = None;
    let mut missed = false;
    // A layer that is to be sanded waits until it is hard, and what follows waits with it.
    let mut waited_s = 0;
    for (pour, planned) in plan.given.iter().enumerate() {
        let late_s = DELAY_S * off(index, 2 + pour);
        let mut at = planned.at.as_second() + late_s as i64 + waited_s;
        if let Some(below) = below.as_ref().filter(|_| plan.after_cure[pour]) {
            let ready = below.prepared(&task, plan.slots, &planned.layer)?;
            let ready = ready.map_or(at, |(_, at)| at);
            waited_s += (ready - at).max(0);
            at = at.max(ready);
        }
        let pour = Given { at: timestamp(at), ..*planned };
        if let Some(below) = &below {
            // The bond asks for the window alone; to be done inside it is for
            // the plan.
            let at = pour.at.as_second();
            let is_wet = !below.layer.joins(&pour.layer).is_never_wet()
                && (below.opens..=below.closes).contains(&at);
            missed |= !is_wet && joined(&task, plan.slots, below, 0, &pour)?.1.is_some();
        }
        let course = Course::next(below.as_ref(), &task, &pour)?;
        if course.over_k > LIMIT_SLACK_K {
            return Ok(Outcome::TooHot);
        }
        below = Some(course);
    }
    Ok(if missed { Outcome::Missed } else { Outcome::Held })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tries_are_spread_evenly() {
        for dimension in 0..6 {
            let all: Vec<f64> = (0..TRIES).map(|index| off(index, dimension)).collect();
            let mean = all.iter().sum::<f64>() / TRIES as f64;
            assert!(mean.abs() < 0.06, "{dimension}: {mean}");
            assert!(all.iter().all(|x| (-1.0..=1.0).contains(x)));
            let quarter = all.iter().filter(|x| **x < -0.5).count();
            assert!((20..=31).contains(&quarter), "{dimension}: {quarter}");
        }
    }
}

//! The search from its first dive to the proof.

use fondant_heat::climate::trouble::TroubleKind;
use fondant_quantities::Span;
use jiff::Timestamp;

use super::path::Complete;
use super::state::Search;
use super::table::Table;
use super::terms::{Aim, Allowance};
use super::to_go::ToGo;
use crate::layers::{Joins, Layer, Rung};
use crate::simulate::air_rule::Unfit;
use crate::simulate::error::ScheduleError;
use crate::simulate::grid::timestamp;
use crate::simulate::schedule::{Proof, Schedule};
use crate::simulate::slots::{HORIZON, Slots};
use crate::simulate::task::Task;

/// With no plan to begin from, one is looked for within four weeks, s.
const NO_PLAN_WITHIN_S: i64 = 28 * 86_400;
/// Where another aim than the soonest counts, all is poured within two weeks of
/// the first hour that is open, s.
pub(super) const OTHER_AIMS_WITHIN_S: i64 = 14 * 86_400;
/// Sampling at or below which a search also follows windows where they jump, s.
const LEAPS_FOLLOWED: Span = Span::from_s(1800.0);
/// How often the margins of the relaxed graph are widened at most.
const MOST_WIDENINGS: usize = 3;

/// The best plan by what is asked for, or one as close to it as is allowed.
///
/// # Errors
/// [`ScheduleError`] where there is none.
pub fn search(task: &Task<'_>, terms: &Allowance<'_>) -> Result<Schedule, ScheduleError> {
    let end = task.not_before.checked_add(HORIZON).unwrap_or(Timestamp::MAX);
    let open = Slots::of(task.hours, task.not_before, end);
    let slots = open.clone().in_air(task.air_rules(), task.air);
    for level in 0..task.ladder.top() {
        let works = task.ladder.from(level).iter().map(|rung| task.work(&rung.layer));
        let Some(least) = works.min_by(|a, b| a.s().total_cmp(&b.s())) else {
            return Err(ScheduleError::TooHot);
        };
        if least.signed().as_secs() > slots.longest_s() {
            return Err(ScheduleError::NoTimeToPour { hands: least });
        }
        let is_possible = |rung: &Rung| {
            let work_s = task.work(&rung.layer).signed().as_secs();
            slots.any_has_time(work_s, rung.layer.resin)
        };
        let rungs = task.ladder.from(level);
        if !rungs.iter().any(is_possible) {
            return Err(unfit(task, &open, &rungs[0].layer));
        }
    }
    let mut search = Search { task, terms, slots, runs: 0, never_sets: false };
    let (best, proof) = search.run()?;
    search.write_out(&best, proof)
}

/// Why the air forbids a layer in every hour that is open: what is wrong with the best of them.
fn unfit(task: &Task<'_>, open: &Slots, layer: &Layer) -> ScheduleError {
    let work = task.work(layer);
    let of = |slot: usize| task.unfit(layer, timestamp(open.at(slot)));
    let has_time = |slot: &usize| open.has_time(*slot, work.signed().as_secs(), layer.resin);
    let slots = (0..open.len()).filter(has_time);
    // One kind is told of: whatever else forbids an hour, this has to be mended too.
    let all: Vec<Unfit> = slots.filter_map(of).collect();
    let least =
        all.iter().copied().reduce(|best, next| match (best.kind == next.kind, best.kind) {
            (true, TroubleKind::TooHumid) if next.figure < best.figure => next,
            (true, TroubleKind::Dew | TroubleKind::Cold) if next.figure > best.figure => next,
            _ => best,
        });
    match least {
        Some(least) => ScheduleError::NoFitAir { least },
        None => ScheduleError::NoTimeToPour { hands: work },
    }
}

impl Search<'_> {
    fn run(&mut self) -> Result<(Complete, Proof), ScheduleError> {
        let first = self.first_slots();
        let mut best = self.dive(first.clone())?;
        let follows_leaps = self.terms.close <= LEAPS_FOLLOWED;
        let mut table = Table::new(self.task, follows_leaps, self.terms.most_bounding_runs);
        for widening in 0.. {
            let until = best.as_ref().map(|b| b.cost.hard);
            let begin = if first.is_empty() { 0 } else { self.slots.at(first.start) };
            let horizon = match (self.terms.aim, until) {
                // Nothing poured after the best is hard can be sooner.
                (Aim::Soonest, Some(hard)) => hard,
                (Aim::Soonest, None) => begin + NO_PLAN_WITHIN_S,
                // Fewer pours or quieter nights may well take longer.
                (Aim::FewestPours | Aim::QuietNights, _) => begin + OTHER_AIMS_WITHIN_S,
            };
            let bounds = ToGo::work(&mut table, &self.slots, self.terms, first.clone(), horizon);
            let Ok(mut to_go) = bounds else {
                self.runs += table.runs();
                let exhausted = ScheduleError::Exhausted { runs: self.runs };
                return best.map(|best| (best, Proof::Unproven)).ok_or(exhausted);
            };
            let sound = self.climb(&first, &table, &mut to_go, &mut best)?;
            match (sound, best.clone()) {
                (Some(proof), Some(best)) => {
                    self.runs += table.runs();
                    return Ok((best, proof));
                }
                (Some(_), None) if self.never_sets => return Err(ScheduleError::NeverSets),
                (Some(_), None) => return Err(self.none()),
                (None, _) if widening >= MOST_WIDENINGS => {
                    return best.map(|best| (best, Proof::Unproven)).ok_or(self.none());
                }
                // A pour did what the relaxed graph had ruled out: wider margins.
                (None, _) => table.widening *= 2.0,
            }
        }
        Err(self.none())
    }

    /// Why nothing was found: all was tried, or the allowance was spent.
    fn none(&self) -> ScheduleError {
        let ladder = self.task.ladder;
        let has_inclusions =
            (0..ladder.top()).any(|level| ladder.joins(level) == Some(Joins::WhileSticky));
        if self.runs > self.terms.most_runs {
            ScheduleError::Exhausted { runs: self.runs }
        } else if has_inclusions {
            ScheduleError::MissesInclusions
        } else {
            ScheduleError::TooHot
        }
    }
}

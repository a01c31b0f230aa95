//! The best plans by different wishes, side by side, and how well they hold.

use fondant_pours::layers::Ladder;
use fondant_pours::simulate::schedule;
use fondant_pours::simulate::tries::{Held, TRIES, robust};
use fondant_pours::{Aim, Allowance, Given, Proof, Schedule, ScheduleError, ScheduledPour, search};
use fondant_quantities::{Span, Temperature, TemperatureDelta};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::pours::{PourTask, PourTrouble, as_given};

/// What a maker may wish of a plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Wish {
    /// The form opened soonest.
    Soonest,
    /// Fewest pours.
    FewestPours,
    /// The lowest peak.
    Coolest,
    /// Least liquid resin while nobody is in the shop.
    QuietNights,
    /// Holds most often when air, resin and people are off.
    Steadiest,
}

impl Wish {
    /// All wishes.
    pub const ALL: [Self; 5] =
        [Self::Soonest, Self::FewestPours, Self::Coolest, Self::QuietNights, Self::Steadiest];
}

/// A plan and what it is best at. It can be kept and sent.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Alternative {
    /// What it is best at; several wishes may lead to the same plan.
    pub wishes: Vec<Wish>,
    /// Pours of the plan, in order.
    pub pours: Vec<ScheduledPour>,
    /// Hard all through.
    pub hard: Timestamp,
    /// How far the search has proven it.
    pub proof: Proof,
    /// Robustness of the plan.
    pub held: Held,
    /// The one to take where nothing speaks against it: the soonest of those
    /// that hold in nine tries of ten, else the one that holds most often.
    pub is_suggested: bool,
}

impl Alternative {
    /// Its pours at their times.
    #[must_use]
    pub fn given(&self) -> Vec<Given> {
        self.pours.iter().map(|pour| Given::planned(pour.layer, pour.at)).collect()
    }

    /// The hottest any layer gets.
    #[must_use]
    pub fn peak(&self) -> Temperature {
        schedule::peak(&self.pours)
    }

    /// Layers that wait for the one below to be hard.
    #[must_use]
    pub fn sanded_joints(&self) -> usize {
        schedule::sanded_joints(&self.pours)
    }

    /// When the form can be opened.
    #[must_use]
    pub fn form_opens(&self) -> Timestamp {
        schedule::form_opens(&self.pours, self.hard)
    }

    /// From the first pour until all is hard.
    #[must_use]
    pub fn takes(&self) -> Span {
        schedule::takes(&self.pours, self.hard)
    }
}

/// Tries of a hundred in which a robust plan holds (convention).
pub const STEADY: usize = 90;
/// Steps in which the coolest plan is closed in on.
const COOLER_STEPS: usize = 4;
/// Margins of the most robust plan: of its pours to the ends of their windows, the widest
/// first, min; and of its peaks below the limit, K.
const INSETS: [(f64, f64); 5] = [(150.0, 8.0), (90.0, 8.0), (60.0, 6.0), (30.0, 4.0), (0.0, 6.0)];
/// Runs of the model that one wish may take.
const RUNS_EACH: usize = 900;

/// The best plan by every wish; those that come out the same are told once.
/// `watch` is told how much is done, 0…1, and says whether to go on.
///
/// # Errors
/// [`PourTrouble`] where there is no plan at all, and
/// [`ScheduleError::Abandoned`] where nobody wants it any more.
pub fn alternatives(
    task: &PourTask,
    watch: &(dyn Fn(f64) -> bool + Sync),
) -> Result<Vec<Alternative>, PourTrouble> {
    let wanted = |_: usize| watch(0.0);
    let ladders: Vec<Ladder> = task.ladders().into_iter().filter(Ladder::is_climbable).collect();
    let search = BestOf { task, wanted: &wanted };
    let go_on = |share: f64| match watch(share) {
        true => Ok(()),
        false => Err(PourTrouble::from(ScheduleError::Abandoned)),
    };
    let mut found: Vec<(Wish, Schedule)> = Vec::new();
    let soonest = search.best(&search.terms(Aim::Soonest), &ladders)?;
    go_on(0.3)?;
    let layers = soonest.pours.len();
    found.push((Wish::Soonest, soonest.clone()));
    let fewest = search.perhaps(&search.terms(Aim::FewestPours), &ladders)?;
    found.extend(fewest.map(|schedule| (Wish::FewestPours, schedule)));
    go_on(0.45)?;
    // As many layers as the soonest has; one more, where that is cooler.
    let near: Vec<Ladder> = ladders
        .iter()
        .filter(|ladder| ladder.top() >= layers && ladder.top() <= layers + 1 || ladders.len() == 1)
        .cloned()
        .collect();
    let quiet = search.perhaps(&search.terms(Aim::QuietNights), &near[..near.len().min(1)])?;
    found.extend(quiet.map(|schedule| (Wish::QuietNights, schedule)));
    go_on(0.6)?;
    found.push((Wish::Coolest, search.coolest(&soonest, &near)?));
    go_on(0.75)?;
    found.extend(search.steadiest(&near)?.map(|schedule| (Wish::Steadiest, schedule)));
    go_on(0.85)?;
    Ok(held(task, found))
}

/// The search for the best plan over several ways to split the depth.
struct BestOf<'a> {
    task: &'a PourTask,
    wanted: &'a (dyn Fn(usize) -> bool + Sync),
}

impl BestOf<'_> {
    fn terms(&self, aim: Aim) -> Allowance<'_> {
        Allowance { most_runs: RUNS_EACH, watch: self.wanted, ..Allowance::thorough(aim) }
    }

    /// The same; `Ok(None)` where a wish cannot be met.
    fn perhaps(
        &self,
        terms: &Allowance<'_>,
        ladders: &[Ladder],
    ) -> Result<Option<Schedule>, PourTrouble> {
        match self.best(terms, ladders) {
            Ok(found) => Ok(Some(found)),
            Err(ScheduleError::Abandoned) => Err(ScheduleError::Abandoned.into()),
            Err(_) => Ok(None),
        }
    }

    /// The soonest of the best plans of each ladder; of the first that has one, where fewest pours
    /// are asked for. A ladder that leads nowhere leaves the others their chance.
    fn best(&self, terms: &Allowance<'_>, ladders: &[Ladder]) -> Result<Schedule, ScheduleError> {
        let mut best: Option<Schedule> = None;
        let mut refusal = ScheduleError::TooHot;
        for ladder in ladders {
            match search(&self.task.task(ladder), terms) {
                Ok(found) if best.as_ref().is_none_or(|b| found.hard < b.hard) => {
                    best = Some(found);
                }
                Ok(_) | Err(ScheduleError::TooHot) => {}
                Err(ScheduleError::Abandoned) => return Err(ScheduleError::Abandoned),
                Err(error) => refusal = error,
            }
            if terms.aim == Aim::FewestPours && best.is_some() {
                break;
            }
        }
        best.ok_or(refusal)
    }

    /// The lowest peak, closed in on from the soonest plan's.
    fn coolest(&self, soonest: &Schedule, ladders: &[Ladder]) -> Result<Schedule, PourTrouble> {
        let limit = self.task.resin().working.peak_limit;
        let mut coolest = soonest.clone();
        let from = soonest.pours.first().map_or(soonest.hard, |pour| pour.at);
        let floor = self.task.air().mean(from, soonest.hard);
        let mut low_k = floor.k().min(coolest.peak().k());
        for _ in 0..COOLER_STEPS {
            let aim_k = 0.5 * (low_k + coolest.peak().k());
            let terms = Allowance {
                cooler: TemperatureDelta::from_k(limit.k() - aim_k),
                most_runs: RUNS_EACH / 3,
                ..self.terms(Aim::Soonest)
            };
            match self.perhaps(&terms, ladders)? {
                Some(schedule) if schedule.peak() < coolest.peak() => coolest = schedule,
                _ => low_k = aim_k,
            }
        }
        Ok(coolest)
    }

    /// The soonest plan whose pours keep farthest inside their windows and peaks.
    fn steadiest(&self, ladders: &[Ladder]) -> Result<Option<Schedule>, PourTrouble> {
        for (inset_min, cooler_k) in INSETS {
            let terms = Allowance {
                inset: Span::from_s(inset_min * 60.0),
                cooler: TemperatureDelta::from_k(cooler_k),
                ..self.terms(Aim::Soonest)
            };
            if let Some(steady) = self.perhaps(&terms, ladders)? {
                return Ok(Some(steady));
            }
        }
        Ok(None)
    }
}

/// Those that differ, each put to its tries.
fn held(task: &PourTask, found: Vec<(Wish, Schedule)>) -> Vec<Alternative> {
    let mut all: Vec<Alternative> = Vec::new();
    for (wish, schedule) in found {
        let given = as_given(&schedule);
        if let Some(same) = all.iter_mut().find(|a| a.given() == given) {
            same.wishes.push(wish);
            continue;
        }
        let held = robust(&task.task(&task.ladder_of(&given)), &given, TRIES);
        let Schedule { pours, hard, proof, .. } = schedule;
        let wishes = vec![wish];
        all.push(Alternative { wishes, pours, hard, proof, held, is_suggested: false });
    }
    // What holds most often is the steadiest, whichever search found it.
    let steadiest =
        (0..all.len()).max_by_key(|i| (all[*i].held.held, std::cmp::Reverse(all[*i].hard)));
    for (index, alternative) in all.iter_mut().enumerate() {
        alternative.wishes.retain(|wish| *wish != Wish::Steadiest);
        if Some(index) == steadiest {
            alternative.wishes.push(Wish::Steadiest);
        }
    }
    all.retain(|alternative| !alternative.wishes.is_empty());
    let steady = all.iter().enumerate().filter(|(_, a)| a.held.held >= STEADY);
    let suggested = steady.min_by_key(|(_, a)| a.hard).map(|(index, _)| index);
    let most = (0..all.len()).max_by_key(|i| (all[*i].held.held, std::cmp::Reverse(*i)));
    if let Some(index) = suggested.or(most) {
        all[index].is_suggested = true;
    }
    all
}

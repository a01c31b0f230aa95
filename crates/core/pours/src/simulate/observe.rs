//! Windows by what was poured and touched: the model runs on from what has
//! happened, and a finger on the witness cup corrects its clock.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use super::course::Course;
use super::error::ScheduleError;
use super::given::Given;
use super::judge::judge;
use super::schedule::Schedule;
use super::task::{StageResin, Task, stage_resins_at};
use fondant_heat::witness::window_s;
use fondant_materials::resin::Calibrated;
use fondant_quantities::{Mass, Temperature};

/// Rates that a touch may ask for.
const RATES: (f64, f64) = (0.5, 2.0);
/// A rate this close to an end of their range is the end, by its share.
const EDGE_RATIO: f64 = 1e-3;
/// Halvings of their range.
const HALVINGS: usize = 14;
/// "Still clear" means that tacky is at least this far off.
const CLEAR_MEANS: SignedDuration = SignedDuration::from_mins(20);

/// A cup stands in the mean of the shop's air over this long: it sets within about a day.
const CUP_AIR: SignedDuration = SignedDuration::from_hours(24);

/// What a gloved finger finds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Touch {
    /// Liquid: it comes off on the glove.
    Clear,
    /// Sticky, leaves nothing on the glove.
    Tacky,
    /// Set: no stick, a nail hardly marks it.
    Hard,
}

/// A touch of a layer's surface, or of its witness cup.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Touched {
    /// The layer, from 0.
    pub pour: usize,
    /// Time of the touch test, UTC.
    pub at: Timestamp,
    /// Result of the touch test.
    pub touch: Touch,
    /// What its witness cup holds, where that was touched; `None` where the layer was.
    pub cup: Option<Mass>,
}

/// A layer that was poured.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PouredAt {
    /// The layer, from 0.
    pub pour: usize,
    /// Start of the pour, UTC.
    pub at: Timestamp,
    /// How warm the resin was, where it was measured.
    pub resin_at: Option<Temperature>,
}

/// The plan by what has happened.
#[derive(Debug, Clone)]
pub struct Observed {
    /// The pours: those that were, and those to come as planned.
    pub schedule: Schedule,
    /// How fast each resin cures against the model, by the touches.
    pub rates: Rates,
    /// The touches contradict one another, or go beyond what a resin does; the
    /// last one was followed as far as it goes.
    pub contradictory: bool,
}

/// The rates of cure against the model that a touch allows.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Allowed {
    /// Slowest.
    pub least: f64,
    /// Fastest.
    pub most: f64,
    /// None between half and twice the model's does.
    pub is_beyond: bool,
}

impl Allowed {
    /// The rate that is nearest to the model's.
    #[must_use]
    pub fn nearest(&self) -> f64 {
        1.0f64.clamp(self.least.min(self.most), self.most)
    }

    /// How far that is from the model's, as a logarithm.
    #[must_use]
    pub fn distance(&self) -> f64 {
        self.nearest().ln().abs()
    }

    /// Whether one rate satisfies both.
    #[must_use]
    pub fn agrees(&self, other: &Self) -> bool {
        self.least.max(other.least) <= self.most.min(other.most)
    }
}

/// Planned pours, with those that have happened as they were.
#[must_use]
pub fn with_poured(planned: &[Given], poured: &[PouredAt]) -> Vec<Given> {
    let mut given = planned.to_vec();
    for fact in poured {
        if let Some(pour) = given.get_mut(fact.pour) {
            pour.at = fact.at;
            pour.resin_at = fact.resin_at;
            pour.is_poured = true;
        }
    }
    given
}

/// How fast each of a cast's resins cures against the model: its own first, then those of the stages.
#[derive(Debug, Clone, PartialEq)]
pub struct Rates(Vec<f64>);

impl Rates {
    /// Of a cast with its own resin alone.
    #[must_use]
    pub fn own(rate: f64) -> Self {
        Self(vec![rate])
    }

    fn as_modelled(task: &Task<'_>) -> Self {
        Self(vec![1.0; task.stage_resins.len() + 1])
    }

    /// Of one resin.
    #[must_use]
    pub fn of(&self, resin: u8) -> f64 {
        self.0.get(usize::from(resin)).copied().unwrap_or(1.0)
    }

    /// The one that is farthest from the model's.
    #[must_use]
    pub fn farthest(&self) -> f64 {
        let far = |rate: &f64| rate.ln().abs();
        self.0.iter().copied().max_by(|a, b| far(a).total_cmp(&far(b))).unwrap_or(1.0)
    }

    fn with(&self, resin: u8, rate: f64) -> Self {
        let mut all = self.0.clone();
        if let Some(of) = all.get_mut(usize::from(resin)) {
            *of = rate;
        }
        Self(all)
    }

    /// A cast's own resin and those of its stages, curing so fast.
    #[must_use]
    pub fn scaled(&self, own: &Calibrated, stages: &[StageResin]) -> (Calibrated, Vec<StageResin>) {
        (own.scaled(self.of(0), 1.0), stage_resins_at(stages, |number| self.of(number)))
    }

    /// Does something with a task whose resins cure so fast.
    fn apply<T>(&self, task: &Task<'_>, then: impl FnOnce(&Task<'_>) -> T) -> T {
        let (resin, stage_resins) = self.scaled(task.resin, task.stage_resins);
        then(&Task { resin: &resin, stage_resins: &stage_resins, ..task.clone() })
    }
}

/// Runs the model from what has happened; `given` are the pours as they were or are planned.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn observe(
    task: &Task<'_>,
    given: &[Given],
    touched: &[Touched],
) -> Result<Observed, ScheduleError> {
    let (rates, contradictory) = rates(task, given, touched)?;
    let schedule = rates.apply(task, |task| judge(task, given))?;
    Ok(Observed { schedule, rates, contradictory })
}

/// How fast the resins cure against the model by touches, and whether those contradict one another.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn rates(
    task: &Task<'_>,
    given: &[Given],
    touched: &[Touched],
) -> Result<(Rates, bool), ScheduleError> {
    let mut found = Rates::as_modelled(task);
    let mut all = vec![Allowed { least: RATES.0, most: RATES.1, is_beyond: false }; found.0.len()];
    let mut contradictory = false;
    let mut in_order: Vec<&Touched> = touched.iter().filter(|t| t.pour < given.len()).collect();
    in_order.sort_by_key(|touch| touch.at);
    for touch in in_order {
        let resin = given[touch.pour].layer.resin;
        let Some(known) = all.get_mut(usize::from(resin)) else { continue };
        let one = allowed_beside(task, given, touch, &found)?;
        contradictory |= one.is_beyond || !one.agrees(known);
        *known = match one.agrees(known) {
            true => {
                let (least, most) = (known.least.max(one.least), known.most.min(one.most));
                Allowed { least, most, ..one }
            }
            false => one,
        };
        // Of all rates that the touches allow, the one nearest to the model's.
        found = found.with(resin, known.nearest());
    }
    Ok((found, contradictory))
}

/// The rates that a touch allows the resin it was of.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow the pours.
pub fn allowed(
    task: &Task<'_>,
    given: &[Given],
    touch: &Touched,
) -> Result<Allowed, ScheduleError> {
    allowed_beside(task, given, touch, &Rates::as_modelled(task))
}

/// When a witness cup turns sticky and when it has set, s since 1970. A cup of another size than the
/// layer keeps another time; the rate of its resin is the same.
fn cup_window(task: &Task<'_>, given: &Given, mass: Mass) -> Result<(i64, i64), ScheduleError> {
    let air = task.air.mean(given.at, given.at + CUP_AIR);
    let resin = task.resin_of(&given.layer);
    let window = window_s(resin, mass, air, given.poured(task), &task.stop)?;
    let (opens_s, closes_s) = window.ok_or(ScheduleError::NeverSets)?;
    let filled = given.at.as_second();
    Ok((filled + opens_s.ceil() as i64, filled + closes_s.floor() as i64))
}

fn allowed_beside(
    task: &Task<'_>,
    given: &[Given],
    touch: &Touched,
    others: &Rates,
) -> Result<Allowed, ScheduleError> {
    let resin = given[touch.pour].layer.resin;
    let window = |rate: f64| -> Result<(i64, i64), ScheduleError> {
        others.with(resin, rate).apply(task, |task| {
            if let Some(mass) = touch.cup {
                return cup_window(task, &given[touch.pour], mass);
            }
            let mut below: Option<Course> = None;
            for pour in &given[..=touch.pour] {
                below = Some(Course::next(below.as_ref(), task, pour)?);
            }
            Ok(below.map_or((i64::MAX, i64::MAX), |course| (course.opens, course.closes)))
        })
    };
    // A faster resin opens and closes earlier: the rate at which it just does.
    let rate_at = |at: i64, closes: bool| -> Result<f64, ScheduleError> {
        let (mut slow, mut fast) = (RATES.0.ln(), RATES.1.ln());
        for _ in 0..HALVINGS {
            let middle = 0.5 * (slow + fast);
            let found = match window(middle.exp()) {
                Ok((opened, closed)) => {
                    if closes {
                        closed
                    } else {
                        opened
                    }
                }
                Err(ScheduleError::NeverSets) => i64::MAX,
                Err(error) => return Err(error),
            };
            if found > at { slow = middle } else { fast = middle }
        }
        Ok((0.5 * (slow + fast)).exp())
    };
    let at = touch.at.as_second();
    let (least, most) = RATES;
    let (least, most) = match touch.touch {
        Touch::Clear => (least, rate_at(at + CLEAR_MEANS.as_secs(), false)?),
        Touch::Tacky => (rate_at(at, false)?, rate_at(at, true)?),
        Touch::Hard => (rate_at(at, true)?, most),
    };
    // A search that ends at the edge of the range has not found what it looked for.
    let is_beyond = least > RATES.1 * (1.0 - EDGE_RATIO) || most < RATES.0 * (1.0 + EDGE_RATIO);
    Ok(Allowed { least, most, is_beyond })
}

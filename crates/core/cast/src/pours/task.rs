//! A cast's layers and times as a task for the search.

use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::AirLimits;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_heat::{HeatError, Poured};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_pours::layers::{Ladder, Layer, LayersError};
use fondant_pours::simulate::observe::Rates;
use fondant_pours::{
    AirRule, Allowance, Crew, Given, Schedule, ScheduleError, ShopHours, StageResin, Task,
    bindings, judge, search,
};
use fondant_quantities::{Length, Mass, Span, Temperature};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::depths::Depths;
use super::in_bucket::InBucket;
use super::lead;
use super::mixes::Mixes;
use super::sides::{sides_of, thickest};
use super::site::Site;
use crate::document::{Document, PourId, Split, TakenPour};
use crate::heat::{HeatLimits, SideTask};
use crate::measure::Measured;

/// Why there are no pour times.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
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

/// Everything that pour times follow from, owned, to be worked out anywhere.
#[derive(Debug, Clone)]
pub struct PourTask {
    pub(super) resin: Calibrated,
    stage_resins: Vec<StageResin>,
    pub(super) around: Around,
    pub(super) depths: Depths,
    work: Work,
    in_bucket: InBucket,
    batch: Mass,
    pub(super) taken: Vec<TakenPour>,
    pub(super) stop: Stop,
}

/// What a column of the resin stands in.
#[derive(Debug, Clone)]
pub(super) struct Around {
    pub(super) air: AirSeries,
    pub(super) cooling: Cooling,
    pub(super) side_task: Option<SideTask>,
    pub(super) sides: Sides,
    pub(super) poured: Poured,
}

/// When somebody can pour, and how long that takes.
#[derive(Debug, Clone)]
struct Work {
    hours: ShopHours,
    not_before: Timestamp,
    air_rule: Option<AirRule>,
    crew: Crew,
    sanding: Span,
    finishing: Span,
}

/// A pour that was taken, as a layer at a time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Planned {
    /// Id of the pour; it stays the same when layers are split again.
    pub id: PourId,
    /// Its layer and its time.
    pub given: Given,
}

impl PourTask {
    /// Of a document and its resins as the model runs on them: its own, then those of its stages.
    ///
    /// # Errors
    /// [`PourTrouble`] where no depth is safe or too many layers are needed.
    pub fn of(
        document: &Document,
        (resin, of_stages): (&Calibrated, &[Calibrated]),
        measured: &Measured,
        heat: &HeatLimits,
        site: &Site,
        stop: &Stop,
    ) -> Result<Self, PourTrouble> {
        let resins: Vec<&Calibrated> = std::iter::once(resin).chain(of_stages).collect();
        if let Err(error) = &heat.deepest {
            return Err(error.clone().into());
        }
        let depths = Depths::of(document, measured, heat)?;
        let layers = depths.layers(&document.pours.taken);
        let conditions = &document.conditions;
        let crew = Crew {
            hands: site.hands,
            bucket: conditions.bucket,
            mixing: site.mixing,
            pouring: site.pouring,
            mixed: measured.mixed_ratio(),
        };
        let Mixes { batch, poured, stages } =
            Mixes::of(conditions, (resin, of_stages), &crew, &layers, stop)?;
        let side_task = SideTask::of(document, measured);
        let sides = sides_of(side_task.as_ref(), (resin, poured), thickest(&layers), stop)?;
        let in_bucket = InBucket::of(conditions, &resins, &crew, &layers)?;
        let (air, cooling) = (site.air_of(document), conditions.cooling);
        Ok(Self {
            resin: resin.clone(),
            stage_resins: stages,
            around: Around { air, cooling, side_task, sides, poured },
            depths,
            work: Work {
                hours: site.hours.clone(),
                not_before: earliest(document, measured, site),
                air_rule: air_rule(document, &resins, site, poured),
                crew: Crew { bucket: in_bucket.mass(conditions.bucket), ..crew },
                sanding: document.pours.sanding,
                finishing: document.finishing(),
            },
            in_bucket,
            batch: in_bucket.mass(batch),
            taken: document.pours.taken.clone(),
            stop: stop.clone(),
        })
    }

    /// The same, with no pour before a moment.
    #[must_use]
    pub fn no_sooner_than(mut self, from: Option<Timestamp>) -> Self {
        self.work.not_before =
            from.map_or(self.work.not_before, |from| self.work.not_before.max(from));
        self
    }

    /// The same with resins that cure faster than the model's by these factors.
    #[must_use]
    pub fn curing_at(&self, rates: &Rates) -> Self {
        let (resin, stage_resins) = rates.scaled(&self.resin, &self.stage_resins);
        Self { resin, stage_resins, ..self.clone() }
    }

    /// The same for as long as an answer is wanted.
    #[must_use]
    pub fn until(&self, stop: &Stop) -> Self {
        Self { stop: stop.clone(), ..self.clone() }
    }

    /// The task of one ladder.
    #[must_use]
    pub fn task<'a>(&'a self, ladder: &'a Ladder) -> Task<'a> {
        Task {
            resin: &self.resin,
            stage_resins: &self.stage_resins,
            air: &self.around.air,
            cooling: self.around.cooling,
            sides: self.around.sides,
            poured: self.around.poured,
            air_rule: self.work.air_rule,
            limit: self.resin.working.peak_limit,
            ladder,
            hours: &self.work.hours,
            not_before: self.work.not_before,
            crew: self.work.crew,
            sanding: self.work.sanding,
            finishing: self.work.finishing,
            stop: self.stop.clone(),
        }
    }

    /// The ways in which the depth may be split, the fewest layers first.
    #[must_use]
    pub fn ladders(&self) -> Vec<Ladder> {
        self.depths.ladders()
    }

    /// How far apart the levels of a search for depths are.
    #[must_use]
    pub fn depth_grid(&self) -> Length {
        self.depths.grid()
    }

    /// The first of the ways to split that has a schedule; where depths are searched, the soonest.
    ///
    /// # Errors
    /// [`PourTrouble`] where none has.
    pub fn search(&self, allowance: &Allowance<'_>) -> Result<Schedule, PourTrouble> {
        let mut refusal = ScheduleError::TooHot;
        let mut soonest: Option<Schedule> = None;
        for ladder in self.ladders() {
            if !ladder.is_climbable() {
                continue;
            }
            match search(&self.task(&ladder), allowance) {
                Ok(found) if self.depths.split == Split::Search => {
                    soonest = soonest.filter(|known| known.hard <= found.hard).or(Some(found));
                }
                Ok(found) => return Ok(found),
                // More, thinner layers may fit where these get too hot.
                Err(ScheduleError::TooHot) => {}
                Err(
                    error @ (ScheduleError::NoTimeToPour { .. }
                    | ScheduleError::MissesInclusions
                    | ScheduleError::Exhausted { .. }),
                ) => refusal = error,
                Err(error) => return Err(error.into()),
            }
        }
        soonest.ok_or(refusal.into())
    }

    /// The pours that the maker has taken, as layers; `None` where there are none
    /// or the form is no longer the one they were taken for.
    #[must_use]
    pub fn taken(&self) -> Option<Vec<Planned>> {
        let layers = self.depths.taken(&self.taken)?;
        let planned = |(layer, taken): (Layer, &TakenPour)| Planned {
            id: taken.id,
            given: Given::planned(layer, taken.at),
        };
        Some(layers.into_iter().zip(&self.taken).map(planned).collect())
    }

    /// Whether a bucket can be poured before it is too thick.
    #[must_use]
    pub fn in_bucket(&self) -> InBucket {
        self.in_bucket
    }

    /// Largest mass that is mixed at a time.
    #[must_use]
    pub fn batch(&self) -> Mass {
        self.batch
    }

    /// No pour before this: work can begin, and the work before the first pour is done.
    #[must_use]
    pub fn earliest(&self) -> Timestamp {
        self.work.not_before
    }

    /// The air of the pours.
    #[must_use]
    pub fn air(&self) -> &AirSeries {
        &self.around.air
    }

    /// What given times do and break.
    ///
    /// # Errors
    /// [`ScheduleError`] where the model cannot follow them.
    pub fn judged(&self, given: &[Given]) -> Result<Schedule, ScheduleError> {
        let ladder = self.ladder_of(given);
        let task = self.task(&ladder);
        let mut schedule = judge(&task, given)?;
        // What breaks something is told of as such.
        if schedule.breaks.is_empty() {
            for (pour, binding) in schedule.pours.iter_mut().zip(bindings(&task, given)?) {
                pour.binding = Some(binding);
            }
        }
        Ok(schedule)
    }

    /// The ladder of given layers.
    #[must_use]
    pub fn ladder_of(&self, given: &[Given]) -> Ladder {
        Ladder::of(&given.iter().map(|pour| pour.layer).collect::<Vec<_>>())
    }

    /// Fewest main layers that the heat allows.
    #[must_use]
    pub fn fewest(&self) -> usize {
        self.depths.fewest
    }

    /// The cast's own resin as the model runs on it.
    #[must_use]
    pub fn resin(&self) -> &Calibrated {
        &self.resin
    }

    /// The resin of a layer as the model runs on it.
    #[must_use]
    pub fn resin_of(&self, layer: &Layer) -> &Calibrated {
        self.stage_of(layer).map_or(&self.resin, |stage| &stage.resin)
    }

    /// The resin of a layer, and the state in which it goes in; `None` for the cast's own.
    #[must_use]
    pub fn stage_of(&self, layer: &Layer) -> Option<&StageResin> {
        StageResin::of(layer, &self.stage_resins)
    }
}

/// When the first pour can be: work begins, the work before it is done, and not in the past.
fn earliest(document: &Document, measured: &Measured, site: &Site) -> Timestamp {
    let pours = &document.pours;
    let from = pours.not_before;
    match pours.lead {
        Some(lead) => from.checked_add(lead.signed()).unwrap_or(from),
        None => lead::ready(&lead::steps(document, measured), &site.hours, from),
    }
}

/// The limits of the air, the strictest of all resins, unless the maker has lifted them with a
/// reason.
fn air_rule(
    document: &Document,
    resins: &[&Calibrated],
    site: &Site,
    poured: Poured,
) -> Option<AirRule> {
    let is_lifted = !document.pours.outside_air.trim().is_empty();
    let surface = Temperature::from_k(poured.t_k);
    let limits = resins.iter().map(|resin| site.air_limits(resin)).reduce(AirLimits::strictest)?;
    (!is_lifted).then_some(AirRule { limits, surface })
}

//! A cast's layers and times as a task for the search.

use fondant_heat::climate::AirSeries;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_heat::{Accuracy, HeatError, Poured};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_pours::layers::{self, Ladder, Layer, LayersError, MOST_LAYERS};
use fondant_pours::{
    Allowance, Crew, Given, Schedule, ScheduleError, ShopHours, Task, bindings, judge, search,
};
use fondant_quantities::{Length, Mass, Span};
use fondant_shapes::volume::Fill;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::in_bucket::InBucket;
use super::site::Site;
use super::taken::as_given;
use crate::document::{Contents, Document, PourId, Split, TakenPour};
use crate::heat::conditions::poured;
use crate::heat::{HeatLimits, LayerOf, SideTask};
use crate::measure::Measured;

/// This many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
pub const EXTRA_LAYERS: usize = 3;
/// A search for depths looks at this many levels at most ...
const DEPTH_LEVELS: f64 = 8.0;
/// ... no closer than this.
const DEPTH_GRID: Length = Length::from_mm(5.0);

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
    resin: Calibrated,
    around: Around,
    depths: Depths,
    work: Work,
    in_bucket: InBucket,
    batch: Mass,
    taken: Vec<TakenPour>,
    stop: Stop,
}

/// What a column of the resin stands in.
#[derive(Debug, Clone)]
struct Around {
    air: AirSeries,
    cooling: Cooling,
    side_task: Option<SideTask>,
    sides: Sides,
    poured: Poured,
}

/// How the fill may be split.
#[derive(Debug, Clone)]
struct Depths {
    fill: Fill,
    allowed: Length,
    split: Split,
    seal: Option<Layer>,
    /// Fewest main layers.
    fewest: usize,
}

/// When somebody can pour, and how long that takes.
#[derive(Debug, Clone)]
struct Work {
    hours: ShopHours,
    not_before: Timestamp,
    crew: Crew,
    sanding: Span,
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
    /// Of a document, its resin as the model runs on it.
    ///
    /// # Errors
    /// [`PourTrouble`] where no depth is safe or too many layers are needed.
    pub fn of(
        document: &Document,
        resin: &Calibrated,
        measured: &Measured,
        heat: &HeatLimits,
        site: &Site,
        stop: &Stop,
    ) -> Result<Self, PourTrouble> {
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
        let batches = layers.iter().map(|layer| crew.batch(layer, resin.density));
        let batch = batches.fold(Mass::ZERO, Mass::max);
        let poured = poured(conditions, batch, resin, stop)?;
        let side_task = SideTask::of(document, measured);
        let sides = match &side_task {
            Some(task) => {
                let accuracy = Accuracy::coarse().until(stop);
                task.sides(LayerOf { resin, poured, accuracy: &accuracy }, thickest(&layers))?
            }
            None => Sides::NONE,
        };
        let in_bucket = InBucket::of(conditions, resin, &crew, &layers)?;
        let (air, cooling) = (site.air_of(document), conditions.cooling);
        Ok(Self {
            resin: resin.clone(),
            around: Around { air, cooling, side_task, sides, poured },
            depths,
            work: Work {
                hours: site.hours.clone(),
                not_before: document.pours.not_before,
                crew: Crew { bucket: in_bucket.mass(conditions.bucket), ..crew },
                sanding: document.pours.sanding,
            },
            in_bucket,
            batch: in_bucket.mass(batch),
            taken: document.pours.taken.clone(),
            stop: stop.clone(),
        })
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
            air: &self.around.air,
            cooling: self.around.cooling,
            sides: self.around.sides,
            poured: self.around.poured,
            limit: self.resin.working.peak_limit,
            ladder,
            hours: &self.work.hours,
            not_before: self.work.not_before,
            crew: self.work.crew,
            sanding: self.work.sanding,
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
                    error @ (ScheduleError::NoTimeToPour { .. } | ScheduleError::Exhausted { .. }),
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

    /// The air of the pours.
    #[must_use]
    pub fn air(&self) -> &AirSeries {
        &self.around.air
    }

    /// From side to side at the place that the heat is worked out for, if it has sides.
    #[must_use]
    pub fn width(&self) -> Option<Length> {
        self.around.side_task.as_ref().map(SideTask::width)
    }

    /// How wide the narrowest place is, and by how much windows open later
    /// there than the schedule says; `None` where it is as wide everywhere or
    /// nothing waits for a window.
    ///
    /// # Errors
    /// [`PourTrouble`] where the model cannot follow that place.
    pub fn later_at_narrowest(
        &self,
        schedule: &Schedule,
    ) -> Result<Option<(Length, Span)>, PourTrouble> {
        let side_task = self.around.side_task.as_ref();
        let Some(task) = side_task.filter(|_| schedule.pours.len() > 1) else {
            return Ok(None);
        };
        let layers: Vec<Layer> = schedule.pours.iter().map(|pour| pour.layer).collect();
        let accuracy = Accuracy::coarse().until(&self.stop);
        let layer = LayerOf { resin: &self.resin, poured: self.around.poured, accuracy: &accuracy };
        let found = task.at_narrowest(layer, thickest(&layers))?;
        let Some((width, sides)) = found else { return Ok(None) };
        let given = as_given(schedule);
        let ladder = self.ladder_of(&given);
        let there = judge(&Task { sides, ..self.task(&ladder) }, &given)?;
        let later = schedule.pours.iter().zip(&there.pours).rev().skip(1);
        let later = later.map(|(here, there)| there.opens.duration_since(here.opens));
        Ok(later.max().map(|later| (width, Span::from_s(later.as_secs_f64()))))
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

    /// The resin as the model runs on it.
    #[must_use]
    pub fn resin(&self) -> &Calibrated {
        &self.resin
    }
}

impl Depths {
    fn of(
        document: &Document,
        measured: &Measured,
        heat: &HeatLimits,
    ) -> Result<Self, LayersError> {
        let fill = measured.fill.clone();
        let mut fewest = match &document.pours.split {
            Split::Fewest | Split::Search => layers::fewest(&fill, heat.allowed)?,
            Split::Equal { count } => (*count as usize).clamp(1, MOST_LAYERS),
            Split::ByHand { levels } => levels.len() + 1,
        };
        if let Contents::Coat(coat) = &document.contents {
            fewest = fewest.max(coat.coats as usize);
        }
        let seal = document.seals().then(|| layers::seal_coat(measured.sizing.bare));
        let split = document.pours.split.clone();
        Ok(Self { fill, allowed: heat.allowed, split, seal, fewest })
    }

    /// The layers that sides and buckets are worked out for: those that are taken or set by hand,
    /// else as few as the heat allows.
    fn layers(&self, taken: &[TakenPour]) -> Vec<Layer> {
        let by_split = || match &self.split {
            Split::ByHand { levels } => layers::split_at(&self.fill, levels),
            Split::Fewest | Split::Equal { .. } | Split::Search => {
                layers::split(&self.fill, self.fewest)
            }
        };
        self.taken(taken).unwrap_or_else(by_split)
    }

    /// The layers of pours that were taken; `None` where there are none or the form is no longer
    /// the one they were taken for.
    fn taken(&self, taken: &[TakenPour]) -> Option<Vec<Layer>> {
        let last = taken.last()?;
        let same = |a: Length, b: Length| (a - b).m().abs() < 1e-5;
        if !same(last.to, self.fill.depth()) {
            return None;
        }
        let levels: Vec<Length> = taken.iter().map(|pour| pour.to).collect();
        let layers = self.sealed(layers::split_at(&self.fill, &levels));
        let fits = layers.len() == taken.len()
            && layers.iter().zip(&levels).all(|(layer, level)| same(layer.to, *level));
        fits.then_some(layers)
    }

    fn sealed(&self, mut layers: Vec<Layer>) -> Vec<Layer> {
        if let Some(seal) = self.seal {
            layers.insert(0, seal);
        }
        layers
    }

    fn ladders(&self) -> Vec<Ladder> {
        let equal = |count| Ladder::of(&self.sealed(layers::split(&self.fill, count)));
        match &self.split {
            Split::Fewest => {
                let most = (self.fewest + EXTRA_LAYERS).min(MOST_LAYERS);
                (self.fewest..=most.max(self.fewest)).map(equal).collect()
            }
            Split::Equal { .. } => vec![equal(self.fewest)],
            Split::ByHand { levels } => {
                vec![Ladder::of(&self.sealed(layers::split_at(&self.fill, levels)))]
            }
            Split::Search => {
                let ladder = Ladder::over(&self.fill, self.grid(), self.allowed);
                let ladder = match self.seal {
                    Some(seal) => ladder.after(seal),
                    None => ladder,
                };
                // Equal layers need not lie on the grid.
                vec![ladder, equal(self.fewest)]
            }
        }
    }

    fn grid(&self) -> Length {
        let main = self.fill.depth() - self.fill.base();
        DEPTH_GRID.max(main / DEPTH_LEVELS).min(main)
    }
}

/// The thickest of some layers, as far as heat goes.
fn thickest(layers: &[Layer]) -> Length {
    layers.iter().map(|layer| layer.heat_depth).fold(Length::ZERO, Length::max)
}

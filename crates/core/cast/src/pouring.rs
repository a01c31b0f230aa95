//! The plan's layers and times as a task for the search.

use jiff::{SignedDuration, Timestamp};

use super::document::Plan;
use super::heating::{Heat, poured};
use super::in_bucket::InBucket;
use super::kind::Kind;
use super::measuring::Measured;
use super::parts::{AirFrom, Split};
use super::sides::SideTask;
use fondant_heat::climate::AirSeries;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_heat::{HeatError, Poured};
use fondant_materials::resin::Resin;
use fondant_pours::layers::{self, Ladder, Layer, LayerKind, LayersError, MOST_LAYERS};
use fondant_pours::{
    Allowance, Crew, Given, Schedule, ScheduleError, ShopHours, Task, bindings, judge, search,
};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::volume::Fill;

/// So many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
pub const EXTRA_LAYERS: usize = 3;
/// The shop's mean air is taken over so long.
const MEAN_OVER: SignedDuration = SignedDuration::from_hours(72);
/// A search for depths looks at so many levels at most ...
const DEPTH_LEVELS: f64 = 8.0;
/// ... no closer than this.
const DEPTH_GRID: Length = Length::from_mm(5.0);

/// What a shop brings to every plan.
#[derive(Debug, Clone, PartialEq)]
pub struct Site {
    /// When it is open.
    pub hours: ShopHours,
    /// Its air.
    pub air: AirSeries,
    /// People who mix and pour at the same time.
    pub hands: u32,
    /// To measure out and mix one bucket.
    pub mixing: Span,
    /// To pour it.
    pub pouring: Span,
}

impl Site {
    /// One pair of hands in steady air of 20 °C.
    #[must_use]
    pub fn plain(hours: ShopHours) -> Self {
        let crew = Crew::default();
        Self {
            hours,
            air: AirSeries::steady(Temperature::from_celsius(20.0), 50.0),
            hands: crew.hands,
            mixing: crew.mixing,
            pouring: crew.pouring,
        }
    }

    /// The air that a plan's pours stand in.
    #[must_use]
    pub fn air_of(&self, plan: &Plan) -> AirSeries {
        match plan.conditions.air_from {
            AirFrom::Shop => self.air.warmer(plan.conditions.heated),
            AirFrom::Steady => {
                let humidity = self.air.at(plan.pours.not_before).humidity_percent;
                AirSeries::steady(plan.conditions.air, humidity)
            }
        }
    }

    /// The plan with the mean of its air in the place of the steady one, for
    /// what is reckoned in steady air: depth, bucket, bubbles.
    #[must_use]
    pub fn in_mean_air(&self, plan: &Plan) -> Plan {
        let mut plan = plan.clone();
        if plan.conditions.air_from == AirFrom::Shop {
            let from = plan.pours.not_before;
            plan.conditions.air = self.air_of(&plan).mean(from, from + MEAN_OVER);
        }
        plan
    }
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

/// Everything that pour times follow from, owned, to be worked out anywhere.
#[derive(Debug, Clone)]
pub struct PourTask {
    resin: Resin,
    /// The air of the pours.
    pub air: AirSeries,
    cooling: Cooling,
    side_task: Option<SideTask>,
    sides: Sides,
    poured: Poured,
    hours: ShopHours,
    not_before: Timestamp,
    crew: Crew,
    in_bucket: InBucket,
    sanding: Span,
    fill: Fill,
    allowed: Length,
    split: Split,
    seal: Option<Layer>,
    /// Fewest main layers.
    fewest: usize,
    taken: Vec<super::parts::TakenPour>,
}

impl PourTask {
    /// Of a plan, its resin as it has learnt.
    ///
    /// # Errors
    /// [`PourTrouble`] where no depth is safe or too many layers are needed.
    pub fn of(
        plan: &Plan,
        resin: &Resin,
        measured: &Measured,
        heat: &Heat,
        site: &Site,
    ) -> Result<Self, PourTrouble> {
        if let Err(error) = &heat.deepest {
            return Err(error.clone().into());
        }
        let fill = measured.fill.clone();
        let mut fewest = match &plan.pours.split {
            Split::Fewest | Split::Search => layers::fewest(&fill, heat.allowed)?,
            Split::Equal { count } => (*count as usize).clamp(1, MOST_LAYERS),
            Split::ByHand { levels } => levels.len() + 1,
        };
        if plan.kind == Kind::Coat {
            fewest = fewest.max(plan.coat.coats as usize);
        }
        let conditions = &plan.conditions;
        let poured = poured(plan, resin)?;
        let side_task = SideTask::of(plan, measured);
        let layers = layers::split(&fill, fewest);
        let sides = match &side_task {
            Some(task) => task.sides(resin, poured, thickest(&layers))?,
            None => Sides::NONE,
        };
        let crew = Crew {
            hands: site.hands,
            bucket: conditions.bucket,
            mixing: site.mixing,
            pouring: site.pouring,
        };
        let in_bucket = InBucket::of(plan, resin, &crew, &layers)?;
        let seal = plan.seals().then(|| layers::seal_coat(measured.sizing.bare));
        Ok(Self {
            air: site.air_of(plan),
            cooling: conditions.cooling,
            side_task,
            sides,
            poured,
            hours: site.hours.clone(),
            not_before: plan.pours.not_before,
            crew: Crew { bucket: in_bucket.mass(conditions.bucket), ..crew },
            in_bucket,
            sanding: plan.pours.sanding,
            fill,
            allowed: heat.allowed,
            split: plan.pours.split.clone(),
            seal,
            fewest,
            taken: plan.pours.taken.clone(),
            resin: resin.clone(),
        })
    }

    /// The task of one ladder.
    #[must_use]
    pub fn task<'a>(&'a self, ladder: &'a Ladder) -> Task<'a> {
        Task {
            resin: &self.resin,
            air: &self.air,
            cooling: self.cooling,
            sides: self.sides,
            poured: self.poured,
            limit: self.resin.working.peak_limit,
            ladder,
            hours: &self.hours,
            not_before: self.not_before,
            crew: self.crew,
            sanding: self.sanding,
        }
    }

    fn sealed(&self, mut layers: Vec<Layer>) -> Vec<Layer> {
        if let Some(seal) = self.seal {
            layers.insert(0, seal);
        }
        layers
    }

    /// The ways in which the depth may be split, the fewest layers first.
    #[must_use]
    pub fn ladders(&self) -> Vec<Ladder> {
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
                let ladder = Ladder::over(&self.fill, self.depth_grid(), self.allowed);
                vec![match self.seal {
                    Some(seal) => ladder.after(seal),
                    None => ladder,
                }]
            }
        }
    }

    /// How far apart the levels of a search for depths are.
    #[must_use]
    pub fn depth_grid(&self) -> Length {
        let main = self.fill.depth() - self.fill.base();
        DEPTH_GRID.max(main / DEPTH_LEVELS).min(main)
    }

    /// The first of the ways to split that has a plan.
    ///
    /// # Errors
    /// [`PourTrouble`] where none has.
    pub fn search(&self, allowance: &Allowance<'_>) -> Result<Schedule, PourTrouble> {
        let mut refusal = ScheduleError::TooHot;
        for ladder in self.ladders() {
            if !ladder.is_climbable() {
                continue;
            }
            match search(&self.task(&ladder), allowance) {
                Ok(schedule) => return Ok(schedule),
                // More, thinner layers may fit where these get too hot.
                Err(ScheduleError::TooHot) => {}
                Err(error @ ScheduleError::NoTimeToPour { .. }) => refusal = error,
                Err(error) => return Err(error.into()),
            }
        }
        Err(refusal.into())
    }

    /// The plan that the maker has taken, as layers; `None` where there is none
    /// or the form is no longer the one it was taken for.
    #[must_use]
    pub fn taken(&self) -> Option<Vec<Given>> {
        let last = self.taken.last()?;
        let same = |a: Length, b: Length| (a - b).m().abs() < 1e-5;
        if !same(last.to, self.fill.depth()) {
            return None;
        }
        let levels: Vec<Length> = self.taken.iter().map(|pour| pour.to).collect();
        let layers = self.sealed(layers::split_at(&self.fill, &levels));
        let fits = layers.len() == self.taken.len()
            && layers.iter().zip(&levels).all(|(layer, level)| same(layer.to, *level));
        fits.then(|| {
            layers.into_iter().zip(&self.taken).map(|(l, t)| Given::planned(l, t.at)).collect()
        })
    }

    /// Whether a bucket can be poured before it is too thick.
    #[must_use]
    pub fn in_bucket(&self) -> InBucket {
        self.in_bucket
    }

    /// From side to side where the plan's heat is reckoned, if it has sides.
    #[must_use]
    pub fn width(&self) -> Option<Length> {
        self.side_task.as_ref().map(SideTask::width)
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
        let Some(task) = self.side_task.as_ref().filter(|_| schedule.pours.len() > 1) else {
            return Ok(None);
        };
        let layers: Vec<Layer> = schedule.pours.iter().map(|pour| pour.layer).collect();
        let found = task.at_narrowest(&self.resin, self.poured, thickest(&layers))?;
        let Some((width, sides)) = found else { return Ok(None) };
        let given = as_given(schedule);
        let ladder = self.ladder_of(&given);
        let there = judge(&Task { sides, ..self.task(&ladder) }, &given)?;
        let later = schedule.pours.iter().zip(&there.pours).rev().skip(1);
        let later = later.map(|(here, there)| there.opens.duration_since(here.opens));
        Ok(later.max().map(|later| (width, Span::from_s(later.as_secs_f64()))))
    }

    /// The same without what the maker has taken: what a search answers to.
    #[must_use]
    pub fn untaken(&self) -> Self {
        Self { taken: Vec::new(), ..self.clone() }
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
        self.fewest
    }

    /// The resin, as it has learnt.
    #[must_use]
    pub fn resin(&self) -> &Resin {
        &self.resin
    }
}

/// The thickest of some layers, as far as heat goes.
fn thickest(layers: &[Layer]) -> Length {
    layers.iter().map(|layer| layer.heat_depth).fold(Length::ZERO, Length::max)
}

/// The levels of a schedule's main layers, but for the top: as the maker would
/// set them by hand.
#[must_use]
pub fn levels_of(schedule: &Schedule) -> Vec<Length> {
    let main: Vec<Length> = schedule
        .pours
        .iter()
        .filter(|pour| matches!(pour.layer.kind, LayerKind::Main(_)))
        .map(|pour| pour.layer.to)
        .collect();
    main[..main.len().saturating_sub(1)].to_vec()
}

/// A schedule as the plan keeps it once it is taken.
#[must_use]
pub fn as_taken(schedule: &Schedule) -> Vec<super::parts::TakenPour> {
    let taken =
        |p: &fondant_pours::ScheduledPour| super::parts::TakenPour { at: p.at, to: p.layer.to };
    schedule.pours.iter().map(taken).collect()
}

/// A schedule's pours at their times.
#[must_use]
pub fn as_given(schedule: &Schedule) -> Vec<Given> {
    schedule.pours.iter().map(|pour| Given::planned(pour.layer, pour.at)).collect()
}

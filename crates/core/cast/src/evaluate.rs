//! From a document to everything that follows from it, step by step: each is one function of the
//! steps before it, and none works an earlier one out again.

use fondant_heat::{Sample, Trace};
use fondant_materials::resin::{Calibrated, Record, ResinId};
use fondant_numerics::Stop;
use fondant_pours::layers::Layer;
use fondant_pours::{Allowance, Schedule};
use fondant_quantities::{Mass, Volume};
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::volume::float::{Lift, lift, places};
use fondant_shapes::volume::layout::{Laid, What};
use fondant_shapes::volume::triangle::Triangle;
use fondant_shapes::volume::{Contribution, UncertaintySource};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::checks::Conflict;
use crate::document::{Document, Typed};
use crate::heat::HeatLimits;
use crate::heat::conditions::largest_batch;
use crate::measure::{COAT_RATIO, Measured, Submerged, measure};
use crate::mix::{Parts, parts};
use crate::pours::{Planned, PourTask, PourTrouble, Site};

const HOUR_S: i64 = 3600;

/// Everything that an evaluation follows from. It can be kept and sent: two that are equal have
/// the same evaluation, wherever it is worked out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Inputs {
    /// What the maker has said.
    pub document: Document,
    /// The resin that the document names, as it stands on the shelf.
    pub resin: Record,
    /// The resins that its stages name, as they stand there.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub stage_resins: Vec<Record>,
    /// The shop, as far as the cast depends on it.
    pub site: Site,
    /// The next full hour, where a plan would begin before it.
    #[serde(default)]
    pub now: Option<Timestamp>,
}

/// Everything that follows from a document.
#[derive(Debug, Clone)]
pub struct Evaluation {
    /// What lies in the form and how much resin it takes.
    pub measured: Measured,
    /// The resin as the model runs on it.
    pub resin: Calibrated,
    /// What each resin comes to: the cast's own first, then those of its stages.
    pub needs: Vec<Need>,
    /// The pull on what lies in the resin, and where to hold it.
    pub held: Vec<Held>,
    /// How hot it gets, and how deep it may be poured.
    pub heat: HeatLimits,
    /// Largest mass that is mixed at a time.
    pub batch: Mass,
    /// What pour times are searched in; `None` where there is nothing to search.
    pub pour_task: Option<PourTask>,
    /// The pours that were taken; `None` unless they still fit the form.
    pub planned: Option<Vec<Planned>>,
    /// When each layer goes in.
    pub pours: Result<Schedule, PourTrouble>,
    /// Where the pour times come from.
    pub standing: Standing,
}

/// What is mixed of one resin.
#[derive(Debug, Clone, PartialEq)]
pub struct Need {
    /// The resin as the model runs on it.
    pub resin: Calibrated,
    /// Mass and parts of all that is mixed of it.
    pub parts: Parts,
    /// How far that may be off, ± for 95 in 100.
    pub uncertainty: Volume,
}

/// The pull on one thing, and where to hold it.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// Kind and index of the thing.
    pub what: What,
    /// The pull.
    pub lift: Lift,
    /// Places for clamps or weights, in the form.
    pub places: Vec<Point>,
    /// What outline, scale and density say of a board that was weighed.
    pub weighed: Option<Triangle>,
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

/// Why there is no evaluation.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NotEvaluated {
    /// The document contradicts itself or leaves its bounds.
    #[error("the document has {} conflicts", .0.len())]
    Conflicts(Vec<Conflict>),
    /// The answer was no longer wanted.
    #[error("abandoned")]
    Abandoned,
}

impl Inputs {
    /// Of a document, its resin and its shop, without what the cast does not depend on.
    #[must_use]
    pub fn new(mut document: Document, resin: Record, site: &Site) -> Self {
        // In which words a figure was typed changes nothing that follows from it.
        document.typed = Typed::default();
        let site = site.as_seen_by(&document);
        Self { document, resin, stage_resins: Vec::new(), site, now: None }
    }

    /// The same with the resins that the document's stages name.
    #[must_use]
    pub fn with_stage_resins(self, stage_resins: Vec<Record>) -> Self {
        Self { stage_resins, ..self }
    }

    /// The same at a moment: what is proposed then begins with the next full hour.
    #[must_use]
    pub fn at(self, now: Timestamp) -> Self {
        let next = now.as_second().div_euclid(HOUR_S) * HOUR_S + HOUR_S;
        let next = Timestamp::from_second(next).unwrap_or(now);
        Self { now: (self.document.pours.not_before < next).then_some(next), ..self }
    }

    /// The same with another document.
    #[must_use]
    pub fn with_document(&self, document: Document) -> Self {
        Self { document, ..self.clone() }
    }

    /// The resins of the stages as the model runs on them, as the layers count them from 1.
    ///
    /// # Errors
    /// [`Conflict::UnknownResin`] for one that is not among them.
    fn of_stages(&self) -> Result<Vec<Calibrated>, Conflict> {
        let found = |id: ResinId| {
            let found = self.stage_resins.iter().find(|record| record.id == id);
            found.map(Record::calibrated).ok_or(Conflict::UnknownResin(id.0))
        };
        self.document.stage_resins().into_iter().map(found).collect()
    }
}

impl Evaluation {
    /// What the cast's own resin comes to.
    #[must_use]
    pub fn own(&self) -> &Need {
        &self.needs[0]
    }

    /// What each resin comes to of which something is mixed: of the cast's own nothing is where all that is
    /// in is of another.
    pub fn mixed(&self) -> impl Iterator<Item = &Need> {
        self.needs.iter().filter(|need| need.parts.volume > Volume::ZERO)
    }

    /// The resin of a layer, and what it comes to.
    #[must_use]
    pub fn need_of(&self, layer: &Layer) -> &Need {
        self.needs.get(usize::from(layer.resin)).unwrap_or(&self.needs[0])
    }

    /// All that is mixed, whatever its resin.
    #[must_use]
    pub fn total(&self) -> Volume {
        self.needs.iter().map(|need| need.parts.volume).sum()
    }

    /// How far that may be off, ± for 95 in 100.
    #[must_use]
    pub fn uncertainty(&self) -> Volume {
        both(self.measured.sizing.uncertainty, self.flood() * COAT_RATIO)
    }

    /// What is mixed for a flood coat.
    #[must_use]
    pub fn flood(&self) -> Volume {
        if self.measured.stages.flood.is_none() {
            return Volume::ZERO;
        }
        (self.total() - self.measured.sizing.total).max(Volume::ZERO)
    }

    /// Sources of the uncertainty.
    #[must_use]
    pub fn contributions(&self) -> Vec<Contribution> {
        let standard = self.flood() * (0.5 * COAT_RATIO);
        let flood = Contribution { source: UncertaintySource::Coat, volume: standard };
        let flood = (standard > Volume::ZERO).then_some(flood);
        self.measured.sizing.contributions.iter().copied().chain(flood).collect()
    }

    /// The mass of all that is mixed.
    #[must_use]
    pub fn mass(&self) -> Mass {
        self.needs.iter().map(|need| need.parts.mass).sum()
    }

    /// About how much memory it takes, bytes: for caches with a bound.
    #[must_use]
    pub fn bytes(&self) -> usize {
        /// Arrays of fixed length inside, of the solver above all.
        const FIXED: usize = 32 * 1024;
        let of_laid = |laid: &Laid| {
            let rings = [&laid.shape.upper, &laid.shape.lower].into_iter().flat_map(Outline::rings);
            rings.map(Vec::len).sum::<usize>() * size_of::<Point>()
        };
        // The fill holds each shape once more, level by level.
        let shapes: usize = self.measured.layout.laid.iter().map(of_laid).sum::<usize>() * 2;
        let of_trace = |trace: &Trace| trace.samples.len() * size_of::<Sample>();
        let whole = self.heat.whole.as_ref().map_or(0, |whole| of_trace(&whole.trace));
        let planned = self.pours.as_ref().ok().and_then(|schedule| schedule.run.trace());
        let lines = self.needs.len() * 4
            + self.measured.sizing.lines.len()
            + self.measured.sizing.contributions.len();
        FIXED + shapes + whole + planned.map_or(0, of_trace) + lines * 256 + self.held.len() * 512
    }
}

/// Works a document out.
///
/// # Errors
/// [`NotEvaluated`].
pub fn evaluate(inputs: &Inputs, stop: &Stop) -> Result<Evaluation, NotEvaluated> {
    let document = &inputs.site.in_mean_air(&inputs.document);
    let measured = measure(document).map_err(NotEvaluated::Conflicts)?;
    let of_stages = inputs.of_stages().map_err(|unknown| NotEvaluated::Conflicts(vec![unknown]))?;
    let resin = inputs.resin.calibrated();
    let heat = HeatLimits::of(document, &resin, &measured, stop);
    let mut task =
        PourTask::of(document, (&resin, &of_stages), &measured, &heat, &inputs.site, stop);
    let planned = task.as_ref().ok().and_then(PourTask::taken);
    if planned.is_none() {
        // Nothing is proposed in the past.
        task = task.map(|task| task.no_sooner_than(inputs.now));
    }
    let (pours, standing) = pours(&task, planned.as_deref(), !document.pours.taken.is_empty());
    if stop.is_requested() {
        return Err(NotEvaluated::Abandoned);
    }
    Ok(Evaluation {
        needs: needs(&measured, &layers(task.as_ref().ok(), &measured), (&resin, &of_stages)),
        held: held(&measured, &resin),
        batch: task.as_ref().map_or_else(
            |_| largest_batch(&document.conditions, &measured, &resin),
            PourTask::batch,
        ),
        measured,
        resin,
        heat,
        pour_task: task.ok(),
        planned,
        pours,
        standing,
    })
}

/// Layers by which is told what each resin comes to. How the depth is split makes no difference to it, but
/// where some of it is in of another resin.
fn layers(task: Option<&PourTask>, measured: &Measured) -> Vec<Layer> {
    task.and_then(PourTask::of_several).unwrap_or_else(|| measured.filling().split(1))
}

/// What each resin comes to.
fn needs(
    measured: &Measured,
    layers: &[Layer],
    (own, of_stages): (&Calibrated, &[Calibrated]),
) -> Vec<Need> {
    let (sizing, mixed) = (&measured.sizing, measured.mixed_ratio());
    let need = |(number, resin): (usize, &Calibrated)| {
        let own = layers.iter().filter(|layer| usize::from(layer.resin) == number);
        let (flood, in_form): (Vec<&Layer>, Vec<&Layer>) = own.partition(|l| l.kind.is_flood());
        let mixed = |layers: Vec<&Layer>| layers.into_iter().map(|l| mixed.of(l)).sum::<Volume>();
        let (flood, in_form) = (mixed(flood), mixed(in_form));
        let uncertainty = both(sizing.uncertainty * (in_form / sizing.total), flood * COAT_RATIO);
        let volume = in_form + flood;
        Need { resin: resin.clone(), parts: parts(volume, resin), uncertainty }
    };
    std::iter::once(own).chain(of_stages).enumerate().map(need).collect()
}

/// The uncertainty of two volumes together that know nothing of each other.
fn both(a: Volume, b: Volume) -> Volume {
    Volume::from_m3(a.m3().hypot(b.m3()))
}

fn held(measured: &Measured, resin: &Calibrated) -> Vec<Held> {
    let hold = |submerged: &Submerged| {
        let lift = lift(submerged.volume, submerged.mass, resin.density);
        let laid = measured.layout.laid.iter().find(|laid| laid.what == submerged.what);
        // An object is held at its own points; a board where it does not flex.
        let places = match (submerged.what, laid) {
            (What::Board(_), Some(laid)) => places(&laid.shape.upper, &lift),
            _ => Vec::new(),
        };
        Held { what: submerged.what, lift, places, weighed: submerged.weighed }
    };
    measured.submerged.iter().map(hold).collect()
}

/// What the maker has taken, or what a quick search proposes.
fn pours(
    task: &Result<PourTask, PourTrouble>,
    planned: Option<&[Planned]>,
    has_taken: bool,
) -> (Result<Schedule, PourTrouble>, Standing) {
    let standing = if has_taken { Standing::Outdated } else { Standing::Proposed };
    let task = match task {
        Ok(task) => task,
        Err(trouble) => return (Err(trouble.clone()), standing),
    };
    match planned {
        Some(planned) => {
            let given: Vec<_> = planned.iter().map(|pour| pour.given).collect();
            (task.judged(&given).map_err(PourTrouble::from), Standing::Taken)
        }
        None => (task.search(&Allowance::quick()), standing),
    }
}

#[cfg(test)]
mod tests;

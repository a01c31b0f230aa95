//! Everything that is kept of what was worked out.

use fondant_cast::planning::Offer;
use fondant_cast::pours::Planned;
use fondant_cast::{Evaluation, Forecast};
use fondant_pours::Schedule;
use fondant_pours::simulate::Observed;

use super::kept::{Kept, KeptSorts};
use crate::jobs::results::{ComparedPlans, FieldResult};
use crate::looked::{Looked, LookedMesh};
use crate::surroundings::{Stock, Surroundings};

const MB: u64 = 1024 * 1024;

/// Results of one process.
pub(crate) struct Results {
    pub(crate) evaluations: Kept<Evaluation>,
    pub(crate) observed: Kept<Option<Observed>>,
    /// What comes over what is in, where the plan that was taken fits no longer.
    pub(crate) over_poured: Kept<Option<(Vec<Planned>, Schedule)>>,
    pub(crate) drawings: Kept<Looked>,
    pub(crate) meshes: Kept<LookedMesh>,
    pub(crate) forecasts: Kept<Option<Forecast>>,
    pub(crate) offers: Kept<Vec<Offer>>,
    pub(crate) surroundings: Kept<Surroundings>,
    pub(crate) stock: Kept<Stock>,
    pub(crate) fields: Kept<FieldResult>,
    pub(crate) plans: Kept<ComparedPlans>,
    /// What pages work out beside an evaluation, of sorts that only they know.
    pub(crate) beside: KeptSorts,
}

fn bytes(schedule: Option<&Schedule>) -> usize {
    let trace = schedule.and_then(|schedule| schedule.run.trace());
    16 * 1024 + trace.map_or(0, |trace| size_of_val(trace.samples.as_slice()))
}

impl Default for Results {
    fn default() -> Self {
        Self {
            evaluations: Kept::new(48 * MB, Evaluation::bytes),
            observed: Kept::new(16 * MB, |observed| bytes(observed.as_ref().map(|o| &o.schedule))),
            over_poured: Kept::new(4 * MB, |over| {
                bytes(over.as_ref().map(|(_, schedule)| schedule))
            }),
            drawings: Kept::new(16 * MB, Looked::bytes),
            meshes: Kept::new(MB, |_| 1024),
            forecasts: Kept::new(2 * MB, |_| 8 * 1024),
            offers: Kept::new(MB, |offers| 64 + offers.len() * 256),
            surroundings: Kept::new(4 * MB, Surroundings::bytes),
            stock: Kept::new(4 * MB, Stock::bytes),
            fields: Kept::new(48 * MB, FieldResult::bytes),
            plans: Kept::new(8 * MB, ComparedPlans::bytes),
            beside: KeptSorts::new(16 * MB),
        }
    }
}

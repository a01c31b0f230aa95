//! What can be wrong with the pours beside the main fill.

use fondant_pours::layers::Purpose;
use fondant_quantities::{Length, bounds};

use super::bounds::Found;
use super::conflict::{Conflict, Countable, StagesError, Written};
use crate::document::{CracksFirst, Document, Flood, Stage, Stages};

/// Least depth of the main fill.
const LEAST_MAIN: Length = Length::from_mm(1.0);

impl Found {
    pub(super) fn stages(&mut self, stages: &Stages) {
        // What resins are on the shelf is looked at where they are found.
        let Stages { cracks, below, above, flood } = stages;
        if let Some(CracksFirst { resin: _, tint }) = cracks {
            self.text(Written::Tint, tint, 0, bounds::NAME_CHARACTERS);
        }
        self.count(Countable::Stages, below.len() + above.len(), bounds::MOST_STAGES);
        for Stage { purpose: _, depth, resin: _, tint } in below.iter().chain(above) {
            self.within(&bounds::STAGE_DEPTH, *depth);
            self.text(Written::Tint, tint, 0, bounds::NAME_CHARACTERS);
        }
        if let Some(Flood { thickness, run_off_ratio, finishing, resin: _, tint }) = flood {
            self.within(&bounds::COAT_THICKNESS, *thickness);
            self.number(&bounds::RUN_OFF_PERCENT, run_off_ratio * 100.0);
            self.number(&bounds::FINISHING_HOURS, finishing.h());
            self.text(Written::Tint, tint, 0, bounds::NAME_CHARACTERS);
        }
    }
}

/// Where stages contradict the kind of cast or each other.
pub(super) fn contradictions(document: &Document, all: &mut Vec<Conflict>) {
    let stages = &document.stages;
    let is_outside = |stage: &Stage| matches!(stage.purpose, Purpose::Flood | Purpose::Cracks);
    let has_flood_inside = stages.in_form().any(is_outside);
    let takes_none = !document.takes_stages() && stages.in_form().next().is_some();
    if has_flood_inside || takes_none || (stages.flood.is_some() && !document.takes_flood()) {
        all.push(Conflict::Stages(StagesError::NoSuch));
    }
    if stages.above.last().is_some_and(|stage| stage.purpose == Purpose::Inclusions) {
        all.push(Conflict::Stages(StagesError::NothingCovers));
    }
}

/// Where stages leave no room for the main fill in a depth of resin.
pub(crate) fn room(document: &Document, depth: Length) -> Option<Conflict> {
    let taken = document.layered().depth_in_form();
    (taken + LEAST_MAIN > depth && taken > Length::ZERO)
        .then_some(Conflict::Stages(StagesError::TooDeep { stages: taken, depth }))
}

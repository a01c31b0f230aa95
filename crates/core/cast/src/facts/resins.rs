//! What is in stays of the resin that it was poured with, whatever its cast gets.

use fondant_materials::resin::ResinId;

use crate::document::{Document, PourId, PouredOf};
use crate::pours::Planned;

/// Whether the resins of pours may be others than before.
#[must_use]
pub fn may_differ(before: &Document, after: &Document) -> bool {
    before.resin != after.resin || before.stages != after.stages
}

/// Notes in a changed cast of which resins its pours are that are in, by its layers before the change.
pub fn keep(after: &mut Document, (before, planned): (&Document, &[Planned]), poured: &[PourId]) {
    let kept = &mut after.pours.poured_of;
    for pour in planned.iter().filter(|pour| poured.contains(&pour.id)) {
        if kept.iter().all(|known| known.pour != pour.id) {
            kept.push(PouredOf { pour: pour.id, resin: before.resin_of(&pour.given.layer) });
        }
    }
}

/// Notes of which resin a pour is that was weighed for a run, where its cast got another one meanwhile.
pub fn keep_weighed(after: &mut Document, pour: PourId, weighed: &ResinId) {
    if after.named_resins().all(|named| named != weighed) {
        after.pours.poured_of.retain(|known| known.pour != pour);
        after.pours.poured_of.push(PouredOf { pour, resin: weighed.clone() });
    }
}

/// Forgets the resins of pours that are not in: a note that one was has been withdrawn.
pub fn forget(after: &mut Document, poured: &[PourId]) {
    after.pours.poured_of.retain(|known| poured.contains(&known.pour));
}

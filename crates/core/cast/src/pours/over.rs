//! What comes over pours that are in, where the form is no longer the one that they were planned for.

use fondant_pours::Given;
use fondant_pours::layers::Layer;
use jiff::Timestamp;

use super::task::{Planned, PourTask};
use crate::document::{PourId, TakenPour};

impl PourTask {
    /// The layers of a cast of which some is in that is of another resin than the rest; `None` where there
    /// is no such pour.
    #[must_use]
    pub fn of_several(&self) -> Option<Vec<Layer>> {
        self.depths.of_several(&self.taken)
    }

    /// The pours that have happened of a plan that was taken for another form, and what comes over them in
    /// this one: in as few layers as the heat allows, and `more`, none of which has its hour yet. `None`
    /// where none has happened, or what is in cannot be part of this form.
    #[must_use]
    pub fn over_poured(
        &self,
        poured: &[PourId],
        (now, more): (Timestamp, usize),
    ) -> Option<Vec<Planned>> {
        let is_in = |pour: &&TakenPour| poured.contains(&pour.id);
        let taken: Vec<&TakenPour> = self.taken.iter().take_while(is_in).collect();
        let layers = self.depths.over(&taken, more)?;
        let planned = |(place, layer): (usize, Layer)| match taken.get(place) {
            Some(taken) => Planned { id: taken.id, given: Given::planned(layer, taken.at) },
            // It gets its id once it is taken: until then it has none that any pour can have.
            None => Planned { id: PourId::proposed(place), given: Given::planned(layer, now) },
        };
        Some(layers.into_iter().enumerate().map(planned).collect())
    }
}

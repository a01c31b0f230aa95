//! Pours beside other sides than those of the plan: of thinner layers, and where the piece is narrowest.

use fondant_heat::{Accuracy, HeatError};
use fondant_pours::layers::Layer;
use fondant_pours::{Schedule, Task, judge};
use fondant_quantities::{Length, Span};

use super::sides::{sides_of, thickest};
use super::taken::as_given;
use super::task::{PourTask, PourTrouble};
use crate::heat::{LayerOf, SideTask};

impl PourTask {
    /// The same with what stands at the sides as it is for these layers: thinner ones lose less to it, and
    /// their rim is hard sooner.
    ///
    /// # Errors
    /// What the solvers of heat report.
    pub fn beside(&self, layers: &[Layer]) -> Result<Self, HeatError> {
        let (of, depth) = ((&self.resin, self.around.poured), thickest(layers));
        let sides = sides_of(self.around.side_task.as_ref(), of, depth, &self.stop)?;
        let mut task = self.clone();
        task.around.sides = sides;
        Ok(task)
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
}

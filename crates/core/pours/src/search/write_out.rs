//! The best plan written out: followed once more, with the reason of each time.

use super::path::Complete;
use super::state::Search;
use crate::simulate::bindings::bindings;
use crate::simulate::error::ScheduleError;
use crate::simulate::given::Given;
use crate::simulate::grid::timestamp;
use crate::simulate::judge::judge;
use crate::simulate::schedule::{Proof, Schedule};

impl Search<'_> {
    /// Runs the best plan once more with temperatures kept, and dates it.
    pub(super) fn write_out(
        &self,
        best: &Complete,
        proof: Proof,
    ) -> Result<Schedule, ScheduleError> {
        let mut level = 0;
        let mut given = Vec::with_capacity(best.path.len());
        for step in &best.path {
            let rung = self.task.ladder.from(level)[step.rung];
            given.push(Given::planned(rung.layer, timestamp(step.at)));
            level = rung.to;
        }
        let mut schedule = judge(self.task, &given)?;
        for (pour, binding) in schedule.pours.iter_mut().zip(bindings(self.task, &given)?) {
            pour.binding = Some(binding);
        }
        Ok(Schedule { proof, runs: self.runs, ..schedule })
    }
}

//! A bucket under vacuum.

use fondant_bench::vacuum::room;
use fondant_heat::bubbles::swollen_ratio;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::units::trimmed;

use super::telling::{ActView, Entry, Other, Telling, of_batch};
use crate::words::measures::vacuum;

/// The caution of a vacuum chamber.
const CHAMBER: &str = "A chamber can break inwards: goggles on, no crack in its lid, nothing that dissolves its \
     window. It smells out of the pump: moving air.";

impl Telling<'_> {
    /// The way into the vacuum, for a bucket that was not there yet.
    pub(super) fn evacuate(&self, batch: u32) -> Option<Other> {
        self.run.plan.vacuum_mbar?;
        let begun = self.run.batch(batch)?;
        if !begun.vacuum.is_empty() {
            return None;
        }
        let mixed = begun.mass(&self.run.plan) / self.run.plan.resin.density;
        let [least, better] = room(mixed).map(|volume| self.shown.volume(volume));
        Some(Other {
            label: format!("Under vacuum first, in a container of {least}, better {better}"),
            sent: of_batch("evacuated", batch),
        })
    }

    pub(super) fn air(&self, batch: u32) -> ActView {
        let plan = &self.run.plan;
        let read = self.run.batch(batch).and_then(|begun| begun.vacuum.last()?.1);
        let mbar = read.or(plan.vacuum_mbar).unwrap_or_default();
        ActView {
            heading: format!("Vacuum: {}", self.vessel(batch)),
            until_ms: self.ends_ms(batch),
            is_bucket: true,
            says: vec![
                format!(
                    "Bubbles swell to {} times their size at {}. The foam rises, breaks and falls: then \
                     let the air in slowly, and pour.",
                    trimmed(swollen_ratio(mbar), 1),
                    vacuum(mbar, self.shown)
                ),
                "Its minutes count: the time above is the bucket's own.".to_owned(),
            ],
            sent: of_batch("evacuated", batch),
            entry: Some(Entry {
                name: "mbar",
                label: match self.shown.system {
                    UnitSystem::Metric => "Gauge, absolute".to_owned(),
                    UnitSystem::UsCustomary => "Gauge, below the air".to_owned(),
                },
                value: String::new(),
                hint: match self.shown.system {
                    UnitSystem::Metric => "mbar; leave empty where it has none",
                    UnitSystem::UsCustomary => "inHg; leave empty where it has none",
                },
            }),
            button: "Write the gauge down".to_owned(),
            others: vec![Other {
                label: "Air is let in".to_owned(),
                sent: of_batch("aired", batch),
            }],
            caution: CHAMBER.to_owned(),
            ..ActView::default()
        }
    }
}

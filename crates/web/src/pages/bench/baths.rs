//! Bottles in warm water, and the form in cold water.

use fondant_bench::Run;
use fondant_bench::run::ReadyItem;
use fondant_heat::cooling::CoolingBy;
use fondant_quantities::{Mass, Temperature};
use jiff::Timestamp;

use crate::ui::units::Shown;

/// What a bath of bottles begins with, unless the maker says otherwise (convention).
pub(super) const USUAL_BOTTLE: Mass = Mass::from_kg(2.0);
pub(super) const USUAL_WATER: Mass = Mass::from_kg(10.0);
pub(super) const USUAL_WATER_AT: Temperature = Temperature::from_celsius(40.0);

/// What can be written down of bottles in warm water.
pub(super) enum Warm {
    /// Nothing: it is warm enough, or mixed.
    No,
    /// How they went in: fields by name, label and value.
    Begin(Vec<(&'static str, &'static str, String)>),
    /// What one of them reads.
    Read,
}

impl Warm {
    pub(super) fn of(run: &Run, shown: Shown) -> Self {
        let (plan, is_over) = (&run.plan, run.ready.contains(&ReadyItem::Warm));
        match () {
            () if is_over || !run.batches.is_empty() || plan.resin_at <= plan.air => Self::No,
            () if run.warming.is_some() => Self::Read,
            () => Self::Begin(vec![
                ("bottle", "Largest bottle holds", shown.mass(USUAL_BOTTLE)),
                ("bottle_at", "It is at", shown.temperature(plan.air)),
                ("water", "Water in the tub", shown.mass(USUAL_WATER)),
                ("water_at", "Water at", shown.temperature(USUAL_WATER_AT)),
            ]),
        }
    }
}

/// Whether the form stands in water that can be read.
pub(super) fn has_cold_bath(run: &Run) -> bool {
    run.chills().is_some() && run.plan.chill.is_some_and(|chill| chill.by == CoolingBy::Bath)
}

/// What is known of the bottles.
pub(super) fn warming(run: &Run, shown: Shown) -> String {
    let Some(warming) = run.warming else { return String::new() };
    let target = shown.temperature(run.plan.resin_at);
    match warming.read {
        Some((_, read)) => format!("to {target}; a bottle read {}", shown.temperature(read)),
        None => format!(
            "to {target}; read a bottle to be sure. Lidded and upright; dry it before you open it"
        ),
    }
}

/// What is known of the cold round the form.
pub(super) fn chilled(run: &Run, shown: Shown, when: impl Fn(Timestamp) -> String) -> String {
    let Some(chill) = run.plan.chill else { return String::new() };
    let by = match chill.by {
        CoolingBy::Fan => "the fan",
        CoolingBy::CoolerBox => "the box of cold air",
        _ => "the bath",
    };
    let mut says = match run.chilled.last() {
        Some((_, water, _)) => format!("{by} read {}", shown.temperature(*water)),
        None => chill
            .at
            .filter(|_| chill.by != CoolingBy::Fan)
            .map_or_else(|| by.to_owned(), |at| format!("{by} at {}", shown.temperature(at))),
    };
    if let Some(gone) = run.ice_until() {
        says.push_str(&format!("; ice until about {}", when(gone)));
    }
    says.push_str("; never taken away before the peak");
    says
}

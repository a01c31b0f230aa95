//! Acts once all is in: the pot, the watch, the level.

use fondant_quantities::units::UnitSystem;
use jiff::Timestamp;

use fondant_bench::run::PotLevel;

use super::telling::{ActView, Entry, Other, Telling, sent};
use crate::ui::units::Shown;
use crate::words::cautions::POT;
use crate::words::measures::little_resin;
use crate::words::rack::{out_of_pot, standing};

impl Telling<'_> {
    pub(super) fn close_pot(&self, gels: Timestamp) -> ActView {
        let rated = self.run.plan.pot_bar.unwrap_or_default();
        ActView {
            heading: "Close the pot and bring it to pressure".to_owned(),
            until_ms: gels.as_millisecond(),
            says: self.of_pot(rated),
            sent: sent("gauge"),
            entry: Some(Entry {
                name: "bar",
                label: "Gauge".to_owned(),
                value: String::new(),
                hint: gauge_hint(self.shown),
            }),
            button: "Pot is closed".to_owned(),
            caution: POT.to_owned(),
            ..ActView::default()
        }
    }

    /// How the rack is loaded, and how far the pot goes.
    fn of_pot(&self, rated_bar: f64) -> Vec<String> {
        let plan = &self.run.plan;
        let level = |(place, level): (usize, &PotLevel)| {
            let moulds = standing(self.kind, &level.name, level.count);
            format!("Level {}: {moulds}.", place + 1)
        };
        let mut says: Vec<String> = plan.pot_levels.iter().enumerate().map(level).collect();
        if says.len() > 1 {
            says.insert(
                0,
                "Load the rack from the bottom, so that nothing drips on what is set.".to_owned(),
            );
        }
        if plan.out_of_pot > 0 {
            says.push(out_of_pot(plan.out_of_pot));
        }
        let rated = self.shown.pressure(rated_bar);
        says.push(format!("Before the resin gels. Rated for {rated}: never more."));
        says
    }
}

pub(super) fn look(at: Timestamp, until: Timestamp) -> ActView {
    ActView {
        heading: "Look for bubbles and leaks".to_owned(),
        until_ms: at.as_millisecond(),
        says: vec!["Every five minutes for half an hour, with a pin at hand.".to_owned()],
        sent: sent("looked"),
        button: "Looked".to_owned(),
        others: vec![Other { label: "The watch is over".to_owned(), sent: sent("watched") }],
        caution: if until > at {
            "Stay in reach until the watch is over.".to_owned()
        } else {
            "The half hour is over.".to_owned()
        },
        ..ActView::default()
    }
}

const fn gauge_hint(shown: Shown) -> &'static str {
    match shown.system {
        UnitSystem::Metric => "bar over the air, or with psi",
        UnitSystem::UsCustomary => "psi over the air, or with bar",
    }
}

pub(super) fn vent(at: Timestamp, shown: Shown) -> ActView {
    ActView {
        heading: "Hold the pressure until it has set".to_owned(),
        until_ms: at.as_millisecond(),
        says: vec![
            "Read the gauge now and then: a leak shows early. Vent slowly and fully, then open."
                .to_owned(),
        ],
        sent: sent("gauge"),
        entry: Some(Entry {
            name: "bar",
            label: "Gauge".to_owned(),
            value: String::new(),
            hint: gauge_hint(shown),
        }),
        button: "Write the gauge down".to_owned(),
        others: vec![Other { label: "Vented".to_owned(), sent: sent("vented") }],
        caution: POT.to_owned(),
        ..ActView::default()
    }
}

pub(super) fn level(at: Timestamp, shown: Shown) -> ActView {
    ActView {
        heading: "Look at the level, top up what has soaked in".to_owned(),
        until_ms: at.as_millisecond(),
        says: vec!["At 1 h, then after a day and two.".to_owned()],
        sent: sent("topped_up"),
        entry: Some(Entry {
            name: "amount",
            label: "Topped up".to_owned(),
            value: String::new(),
            hint: little_resin(shown.system).asked_if_any,
        }),
        button: "Level is looked at".to_owned(),
        ..ActView::default()
    }
}

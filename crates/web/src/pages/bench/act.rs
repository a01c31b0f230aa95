//! The act at hand: what is to be done, how much of it, and what is tapped once it is done.

use fondant_bench::run::Act;
use fondant_materials::resin::Hazard;
use jiff::Timestamp;

use super::after::{level, look, vent};
use super::form::item_name;
use super::model::Modelled;
use super::telling::{ActView, Entry, Other, Telling, of_batch, sent};
use crate::words::bench as words;
use crate::words::layers::capitalised;

impl Telling<'_> {
    pub(super) fn view(&self, act: &Act) -> ActView {
        let mut view = self.act(act);
        view.others.extend(self.early(act));
        view
    }

    fn act(&self, act: &Act) -> ActView {
        match *act {
            Act::Ready(item) => self.ready(item),
            Act::Weigh { batch, part, target } => self.weigh(batch, part, target),
            Act::Tint { batch, colour, target } => self.tint(batch, colour, target),
            Act::Mix { batch } => self.mix(batch),
            Act::MixOn { batch, until } => self.mix_on(batch, until),
            Act::Air { batch } => self.air(batch),
            Act::Pour { batch } => self.pour(batch),
            Act::PourOn { batch } => self.pour_on(batch),
            Act::ClosePot { gels } => self.close_pot(gels),
            Act::Look { at, until } => look(at, until),
            Act::Cover { at } => ActView {
                heading: "Vented lid on".to_owned(),
                says: vec![
                    "Once the heat has passed. Off the surface, with room for air; never cardboard."
                        .to_owned(),
                ],
                until_ms: at.as_millisecond(),
                sent: sent("covered"),
                button: "Lid is on".to_owned(),
                ..ActView::default()
            },
            Act::Vent { at } => vent(at, self.shown),
            Act::Level { at } => level(at, self.shown),
            Act::Finish => ActView {
                heading: "This pour is done".to_owned(),
                says: vec![
                    "Touch tests and top-ups can still be written down until you close it."
                        .to_owned(),
                ],
                sent: sent("finished"),
                button: "Close the run".to_owned(),
                ..ActView::default()
            },
        }
    }

    /// One line for what comes after.
    pub(super) fn line(&self, act: &Act) -> String {
        let title = |batch| capitalised(&self.vessel(batch));
        match *act {
            Act::Ready(item) => words::ready(item).0.to_owned(),
            Act::Weigh { batch, part, target } => {
                let (figure, unit) = self.amount(part, target);
                format!("{}: {figure}\u{202f}{unit} {}", title(batch), words::part(part))
            }
            Act::Tint { batch, colour, target } => {
                let name = self.run.plan.recipe.get(colour).map_or("colour", |one| &one.colour);
                format!("{}: {} of {name}", title(batch), self.shown.weighed(target))
            }
            Act::Mix { batch } => format!("{}: A meets B, mix", title(batch)),
            Act::MixOn { batch, .. } => format!("{}: go on mixing", title(batch)),
            Act::Air { batch } => format!("{}: vacuum, until the foam has fallen", title(batch)),
            Act::Pour { batch } => format!("{}: pour", title(batch)),
            Act::PourOn { batch } => format!("{}: empty it", title(batch)),
            Act::ClosePot { gels } => {
                format!("Close the pot before {}", self.shown.day_and_time(gels, self.zone))
            }
            Act::Look { .. } => "Look for bubbles and leaks".to_owned(),
            Act::Cover { at } => format!("Lid on from {}", self.shown.day_and_time(at, self.zone)),
            Act::Vent { at } => {
                format!("Pressure on until {} at least", self.shown.day_and_time(at, self.zone))
            }
            Act::Level { at } => {
                format!("Look at the level from {}", self.shown.day_and_time(at, self.zone))
            }
            Act::Finish => "Close the run".to_owned(),
        }
    }

    fn ready(&self, item: fondant_bench::run::ReadyItem) -> ActView {
        let (asks, spoils) = words::ready(item);
        let known = (self.known)(item);
        let known = if known.is_empty() { None } else { Some(known) };
        ActView {
            heading: asks.to_owned(),
            says: known.into_iter().chain([spoils.to_owned()]).collect(),
            sent: vec![("what", "ready".to_owned()), ("item", item_name(item))],
            button: "Yes".to_owned(),
            ..ActView::default()
        }
    }

    fn mix_on(&self, batch: u32, until: Timestamp) -> ActView {
        let has_second = self.run.batch(batch).is_some_and(|batch| batch.has_second_pot);
        let second = Other {
            label: "Into a second, clean bucket".to_owned(),
            sent: of_batch("second_pot", batch),
        };
        ActView {
            heading: format!("Mix {}", self.vessel(batch)),
            until_ms: until.as_millisecond(),
            says: vec!["Sides, corners, bottom, each minute. Slowly by hand; a drill only with its mixer under the surface.".to_owned()],
            sent: of_batch("mix_ended", batch),
            button: "Mixed, no streaks".to_owned(),
            others: if has_second { Vec::new() } else { vec![second] },
            caution: "It heats itself now. One that smokes goes outdoors, on stone, spread thin, never sealed."
                .to_owned(),
            ..ActView::default()
        }
    }

    /// When a bucket's time is up, milliseconds since 1970; 0 where the model says two weeks or more.
    pub(super) fn ends_ms(&self, batch: u32) -> i64 {
        let found = self.modelled.iter().find(|modelled| modelled.batch == batch);
        found.and_then(Modelled::ends).map_or(0, Timestamp::as_millisecond)
    }

    fn pour(&self, batch: u32) -> ActView {
        if self.run.plan.join.is_some() {
            return self.join(batch);
        }
        ActView {
            heading: format!("Pour {}", self.vessel(batch)),
            until_ms: self.ends_ms(batch),
            is_bucket: true,
            says: vec!["Low and slow, from one spot, off the stick. Do not scrape the last out of the bucket.".to_owned()],
            sent: of_batch("pour_begun", batch),
            button: "It goes in".to_owned(),
            others: self.evacuate(batch).into_iter().collect(),
            caution: self.flame(),
            ..ActView::default()
        }
    }

    fn pour_on(&self, batch: u32) -> ActView {
        ActView {
            heading: format!("Empty {}", self.vessel(batch)),
            until_ms: self.ends_ms(batch),
            is_bucket: true,
            says: vec!["What is left over can go into small moulds; never leave it standing in the bucket.".to_owned()],
            sent: of_batch("pour_ended", batch),
            entry: Some(Entry {
                name: "amount",
                label: "Left over in the bucket".to_owned(),
                value: String::new(),
                hint: "grams; leave empty for nothing",
            }),
            tick: Some(("full", "The form is full")),
            button: "Bucket is empty".to_owned(),
            caution: self.flame(),
            ..ActView::default()
        }
    }

    pub(super) fn flame(&self) -> String {
        if self.run.plan.resin.hazards.contains(&Hazard::Flammable) {
            "Flammable: no flame, no heat gun, no spark.".to_owned()
        } else {
            "Bubbles: a flame moves all the time and never near solvent or paper; over silicone warm air alone."
                .to_owned()
        }
    }
}

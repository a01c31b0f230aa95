//! The act at hand: what is to be done, how much of it, and what is tapped once it is done.

use fondant_bench::bucket::BucketClock;
use fondant_bench::run::{Act, Batch};
use fondant_bench::weighing::{Pair, Part, judged};
use fondant_bench::{Run, batches};
use fondant_materials::resin::{Hazard, MeasuredBy};
use fondant_quantities::Mass;
use fondant_quantities::units::trimmed;
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::form::item_name;
use crate::ui::units::{Shown, span};
use crate::words::bench as words;
use crate::words::cautions::POT;

/// The act at hand.
#[derive(Debug, Default)]
pub(super) struct ActView {
    pub(super) heading: String,
    /// A figure for arm's length, and its unit.
    pub(super) figure: String,
    pub(super) unit: &'static str,
    /// What the scale is to show, kg; 0 where nothing is weighed.
    pub(super) target_kg: f64,
    pub(super) says: Vec<String>,
    /// Counts down to this, milliseconds since 1970; 0 for nothing.
    pub(super) until_ms: i64,
    /// Whether the bucket's time is what counts down.
    pub(super) is_bucket: bool,
    /// What is sent with a tap.
    pub(super) sent: Vec<(&'static str, String)>,
    pub(super) entry: Option<Entry>,
    pub(super) choice: Option<Choice>,
    pub(super) tick: Option<(&'static str, &'static str)>,
    pub(super) button: String,
    /// Another way to do it.
    pub(super) others: Vec<Other>,
    pub(super) caution: String,
}

/// Something to be typed.
#[derive(Debug)]
pub(super) struct Entry {
    pub(super) name: &'static str,
    pub(super) label: String,
    pub(super) value: String,
    pub(super) hint: &'static str,
}

/// Something to be chosen, the first of it unless another is.
#[derive(Debug, Clone)]
pub(super) struct Choice {
    pub(super) name: &'static str,
    pub(super) label: &'static str,
    pub(super) all: Vec<(String, String)>,
}

/// Another thing that can be tapped instead.
#[derive(Debug)]
pub(super) struct Other {
    pub(super) label: String,
    pub(super) sent: Vec<(&'static str, String)>,
}

/// What an act is told from.
pub(super) struct Telling<'a> {
    pub(super) run: &'a Run,
    pub(super) clocks: &'a [(u32, Timestamp, BucketClock)],
    /// Lots of its resin, the one to be used first.
    pub(super) lots: &'a [(String, String)],
    pub(super) shown: Shown,
    pub(super) zone: &'a TimeZone,
    /// What is known of an item of the ready list.
    pub(super) known: &'a dyn Fn(fondant_bench::run::ReadyItem) -> String,
}

fn sent(what: &str) -> Vec<(&'static str, String)> {
    vec![("what", what.to_owned())]
}

fn of_batch(what: &str, batch: u32) -> Vec<(&'static str, String)> {
    vec![("what", what.to_owned()), ("batch", batch.to_string())]
}

impl Telling<'_> {
    pub(super) fn view(&self, act: &Act) -> ActView {
        match *act {
            Act::Ready(item) => self.ready(item),
            Act::Weigh { batch, part, target } => self.weigh(batch, part, target),
            Act::Mix { batch } => self.mix(batch),
            Act::MixOn { batch, until } => self.mix_on(batch, until),
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
            Act::Vent { at } => vent(at),
            Act::Level { at } => level(at),
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
        match *act {
            Act::Ready(item) => words::ready(item).0.to_owned(),
            Act::Weigh { batch, part, target } => {
                let (figure, unit) = self.amount(part, target);
                format!("Bucket {}: {figure}\u{202f}{unit} {}", batch, words::part(part))
            }
            Act::Mix { batch } => format!("Bucket {batch}: A meets B, mix"),
            Act::MixOn { batch, .. } => format!("Bucket {batch}: go on mixing"),
            Act::Pour { batch } => format!("Bucket {batch}: pour"),
            Act::PourOn { batch } => format!("Bucket {batch}: empty it"),
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

    /// An amount of a part as its figure at arm's length, and the unit.
    fn amount(&self, part: Part, mass: Mass) -> (String, &'static str) {
        let resin = &self.run.plan.resin;
        if resin.measured_by == MeasuredBy::Volume {
            let density = match part {
                Part::A => resin.mix.density_a,
                Part::B => resin.mix.density_b,
            };
            let ml = (mass / density).l() * 1e3;
            return (trimmed(ml, usize::from(ml < 100.0)), "mL");
        }
        let g = mass.kg() * 1e3;
        (trimmed(g, usize::from(g < 99.95)), "g")
    }

    fn weigh(&self, batch: u32, part: Part, target: Mass) -> ActView {
        let (run, resin) = (self.run, &self.run.plan.resin);
        let begun = run.batch(batch);
        let other = begun.and_then(|begun| begun.part(part.other()));
        let (figure, unit) = self.amount(part, target);
        let mut says = Vec::new();
        let name = words::part(part);
        let measured = if unit == "g" { "Weigh" } else { "Measure" };
        match other {
            Some(other) => {
                let running = self.shown.weighed(other.mass + target);
                let asked = Pair::of(begun.map_or(target, |b| b.planned), resin).part(part.other());
                let over = other.mass - asked;
                if over.kg().abs() > asked.kg() * 0.002 {
                    let side = if over > Mass::ZERO { "over" } else { "short" };
                    let by = self.shown.weighed(Mass::from_kg(over.kg().abs()));
                    says.push(format!(
                        "{} is {by} {side}, so {name} follows it: {figure}\u{202f}{unit} in place of {}.",
                        words::part(part.other()),
                        self.shown.weighed(Pair::of(begun.map_or(target, |b| b.planned), resin).part(part))
                    ));
                }
                says.push(format!("In one container the scale then shows {running}."));
            }
            None => {
                let step = batches::scale_step(run.next_mass(batch), resin);
                if step.kg() < 0.9e-3 {
                    says.push(format!("Use a scale that shows {}.", self.shown.weighed(step)));
                }
            }
        }
        let whole = begun.map_or_else(|| run.next_mass(batch), |begun| begun.mass(&run.plan));
        if whole > run.plan.bucket * 1.02 {
            says.push(format!(
                "That is {} in a bucket for {}: it will be fuller than two thirds. Take a larger one.",
                self.shown.weighed(whole),
                self.shown.weighed(run.plan.bucket)
            ));
        }
        ActView {
            heading: format!("{measured} {name} into bucket {batch}"),
            entry: Some(Entry {
                name: "amount",
                label: format!("{name} on the scale"),
                value: figure.clone(),
                hint: if unit == "g" {
                    "grams, or with a unit"
                } else {
                    "millilitres, or grams with g"
                },
            }),
            figure,
            unit,
            target_kg: target.kg(),
            says,
            sent: vec![
                ("what", "weighed".to_owned()),
                ("batch", batch.to_string()),
                ("part", name.to_lowercase()),
            ],
            button: format!("{name} is in"),
            ..ActView::default()
        }
    }

    fn mix(&self, batch: u32) -> ActView {
        let run = self.run;
        let weighed = run.batch(batch).and_then(Batch::weighed);
        let mut says = Vec::new();
        let mut others = Vec::new();
        if let Some(pair) = weighed {
            let error = pair.ratio_error(&run.plan.resin);
            let verdict = judged(error, run.plan.resin.class);
            let said = words::ratio(error, verdict);
            if !said.is_empty() {
                says.push(said);
                let (part, more) = pair.way_back(&run.plan.resin);
                let name = words::part(part);
                let mut sent = of_batch("added", batch);
                sent.push(("part", name.to_lowercase()));
                sent.push(("amount", format!("{:.1} g", more.kg() * 1e3)));
                others.push(Other {
                    label: format!("{} {name} more is in", self.shown.weighed(more)),
                    sent,
                });
            }
            let ratio = format!("{:.1} : {:.1}", 100.0, 100.0 * (pair.b / pair.a));
            says.push(format!(
                "{} in the bucket, A : B {ratio} by mass.",
                self.shown.weighed(pair.mixed())
            ));
        }
        says.push(format!(
            "At least {}. Scrape sides, corners and bottom every minute; no streaks at the end.",
            span(run.plan.mixing)
        ));
        ActView {
            heading: format!("Bucket {batch}: let A meet B"),
            says,
            sent: of_batch("mix_begun", batch),
            entry: Some(Entry {
                name: "temperature",
                label: "Resin by the infrared gun".to_owned(),
                value: String::new(),
                hint: "leave empty for the plan's temperature",
            }),
            choice: (!self.lots.is_empty()).then(|| Choice {
                name: "lot",
                label: "Taken from",
                all: self.lots.to_vec(),
            }),
            button: "A has met B".to_owned(),
            others,
            caution: "From here on the bucket heats itself. Gloves, goggles, moving air; datasheet first."
                .to_owned(),
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
            heading: format!("Mix bucket {batch}"),
            until_ms: until.as_millisecond(),
            says: vec!["Sides, corners, bottom, each minute. Slowly by hand; a drill only with its mixer under the surface.".to_owned()],
            sent: of_batch("mix_ended", batch),
            button: "Mixed, no streaks".to_owned(),
            others: if has_second { Vec::new() } else { vec![second] },
            ..ActView::default()
        }
    }

    /// When a bucket's time is up, milliseconds since 1970; 0 where the model says two weeks or more.
    fn ends_ms(&self, batch: u32) -> i64 {
        let clock = self.clocks.iter().find(|(number, ..)| *number == batch);
        let ends = clock.and_then(|(_, met, clock)| Some(*met + clock.life?.signed()));
        ends.map_or(0, Timestamp::as_millisecond)
    }

    fn pour(&self, batch: u32) -> ActView {
        ActView {
            heading: format!("Pour bucket {batch}"),
            until_ms: self.ends_ms(batch),
            is_bucket: true,
            says: vec!["Low and slow, from one spot, off the stick. Do not scrape the last out of the bucket.".to_owned()],
            sent: of_batch("pour_begun", batch),
            button: "It goes in".to_owned(),
            caution: self.flame(),
            ..ActView::default()
        }
    }

    fn pour_on(&self, batch: u32) -> ActView {
        ActView {
            heading: format!("Empty bucket {batch}"),
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

    fn flame(&self) -> String {
        if self.run.plan.resin.hazards.contains(&Hazard::Flammable) {
            "Flammable: no flame, no heat gun, no spark.".to_owned()
        } else {
            "Bubbles: a flame moves all the time and never near solvent or paper; over silicone warm air alone."
                .to_owned()
        }
    }

    fn close_pot(&self, gels: Timestamp) -> ActView {
        let rated = self.run.plan.pot_bar.unwrap_or_default();
        ActView {
            heading: "Close the pot and bring it to pressure".to_owned(),
            until_ms: gels.as_millisecond(),
            says: vec![format!(
                "Before the resin gels. Rated for {rated:.1}\u{202f}bar: never more."
            )],
            sent: sent("gauge"),
            entry: Some(Entry {
                name: "bar",
                label: "Gauge".to_owned(),
                value: String::new(),
                hint: "bar over the air, or with psi",
            }),
            button: "Pot is closed".to_owned(),
            caution: POT.to_owned(),
            ..ActView::default()
        }
    }
}

fn look(at: Timestamp, until: Timestamp) -> ActView {
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

fn vent(at: Timestamp) -> ActView {
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
            hint: "bar over the air, or with psi",
        }),
        button: "Write the gauge down".to_owned(),
        others: vec![Other { label: "Vented".to_owned(), sent: sent("vented") }],
        caution: POT.to_owned(),
        ..ActView::default()
    }
}

fn level(at: Timestamp) -> ActView {
    ActView {
        heading: "Look at the level, top up what has soaked in".to_owned(),
        until_ms: at.as_millisecond(),
        says: vec!["At 1 h, then after a day and two.".to_owned()],
        sent: sent("topped_up"),
        entry: Some(Entry {
            name: "amount",
            label: "Topped up".to_owned(),
            value: String::new(),
            hint: "millilitres; leave empty for nothing",
        }),
        button: "Level is looked at".to_owned(),
        ..ActView::default()
    }
}

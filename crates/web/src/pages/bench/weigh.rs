//! What goes on the scale, and what follows before A meets B.

use fondant_bench::batches;
use fondant_bench::run::Batch;
use fondant_bench::weighing::{Pair, Part, judged};
use fondant_materials::resin::MeasuredBy;
use fondant_quantities::Mass;
use fondant_quantities::units::trimmed;

use super::telling::{ActView, Choice, Entry, Other, Telling, of_batch};
use crate::ui::numbers::span;
use crate::words::bench as words;
use crate::words::layers::capitalised;

/// A part that is off by less than this share is as it was asked for: a hand pours no closer
/// (convention).
const FELT_RATIO: f64 = 0.002;
/// What most scales show; a batch that asks for finer steps says so.
const GRAM: Mass = Mass::from_kg(0.9e-3);

impl Telling<'_> {
    /// An amount of a part as its figure at arm's length, and the unit.
    pub(super) fn amount(&self, part: Part, mass: Mass) -> (String, &'static str) {
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

    pub(super) fn weigh(&self, batch: u32, part: Part, target: Mass) -> ActView {
        let (figure, unit) = self.amount(part, target);
        let name = words::part(part);
        let measured = if unit == "g" { "Weigh" } else { "Measure" };
        let says = self.says_of((batch, part), target, &format!("{figure}\u{202f}{unit}"));
        ActView {
            heading: format!("{measured} {name} into {}", self.vessel(batch)),
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

    /// What is to be known while a part is weighed: that it follows the other one, what one container
    /// then shows, which scale it takes, and whether the bucket holds it.
    fn says_of(&self, (batch, part): (u32, Part), target: Mass, figure: &str) -> Vec<String> {
        let (run, resin) = (self.run, &self.run.plan.resin);
        let begun = run.batch(batch);
        let planned = Pair::of(begun.map_or(target, |begun| begun.planned), resin);
        let mut says = Vec::new();
        if let Some(other) = begun.and_then(|begun| begun.part(part.other())) {
            let over = other.mass - planned.part(part.other());
            if over.kg().abs() > planned.part(part.other()).kg() * FELT_RATIO {
                says.push(format!(
                    "{} is {} {}, so {} follows it: {figure} in place of {}.",
                    words::part(part.other()),
                    self.shown.weighed(Mass::from_kg(over.kg().abs())),
                    if over > Mass::ZERO { "over" } else { "short" },
                    words::part(part),
                    self.shown.weighed(planned.part(part))
                ));
            }
            let running = self.shown.weighed(other.mass + target);
            says.push(format!("In one container the scale then shows {running}."));
        } else {
            let step = batches::scale_step(run.next_mass(batch), resin);
            if step < GRAM {
                says.push(format!("Use a scale that shows {}.", self.shown.weighed(step)));
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
        says
    }

    pub(super) fn mix(&self, batch: u32) -> ActView {
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
        let colour = run.cup_of(batch).filter(|cup| !cup.colour.is_empty());
        let is_bare = run.batch(batch).is_none_or(|begun| begun.tints.is_empty());
        if let Some(cup) = colour.filter(|_| is_bare) {
            says.push(format!("Its colour is {}: none of it is written down yet.", cup.colour));
        }
        says.push(format!(
            "At least {}. Scrape sides, corners and bottom every minute; no streaks at the end.",
            span(run.plan.mixing)
        ));
        ActView {
            heading: format!("{}: let A meet B", capitalised(&self.vessel(batch))),
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
}

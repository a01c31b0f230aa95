//! Colour by the recipe: what goes in next, and how near its ceiling the bucket is.

use fondant_bench::run::Tinting;
use fondant_bench::tinting::share;
use fondant_quantities::Mass;
use fondant_quantities::units::trimmed;

use super::telling::{ActView, Entry, Other, Telling, of_batch};
use crate::words::layers::capitalised;

/// Under this, scales of a tenth of a gram are too coarse by a hundredth (convention).
const FINE: Mass = Mass::from_kg(0.01);

impl Telling<'_> {
    pub(super) fn tint(&self, batch: u32, colour: usize, target: Mass) -> ActView {
        let Some(tinting) = self.run.plan.recipe.get(colour) else { return ActView::default() };
        let grams = target.kg() * 1e3;
        let figure = trimmed(grams, if target < FINE { 2 } else { 1 });
        let mut sent = of_batch("tinted", batch);
        sent.push(("colour", tinting.colour.clone()));
        ActView {
            heading: format!("{} into {}", capitalised(&tinting.colour), self.vessel(batch)),
            entry: Some(Entry {
                name: "amount",
                label: format!("{} on the scale", capitalised(&tinting.colour)),
                value: figure.clone(),
                hint: "grams; less, where you creep up on it",
            }),
            figure,
            unit: "g",
            target_kg: target.kg(),
            says: self.says_of_colour((batch, target), tinting),
            sent,
            button: "Colour is in".to_owned(),
            others: vec![Other {
                label: "The colour is right as it is".to_owned(),
                sent: of_batch("coloured", batch),
            }],
            ..ActView::default()
        }
    }

    fn says_of_colour(&self, (batch, target): (u32, Mass), tinting: &Tinting) -> Vec<String> {
        let run = self.run;
        let begun = run.batch(batch);
        let mixed = begun.map_or_else(|| run.next_mass(batch), |begun| begun.mass(&run.plan));
        let held = begun.map_or(Mass::ZERO, |begun| begun.tint_of(&tinting.colour));
        let percent = |mass| trimmed(share(mass, mixed) * 100.0, 2);
        let mut says = Vec::new();
        if held > Mass::ZERO {
            says.push(format!("{} is in, {}\u{202f}%.", self.shown.weighed(held), percent(held)));
        }
        let settled = (run.share_of(tinting) - tinting.share).abs() > 1e-9;
        says.push(if settled {
            format!(
                "{}\u{202f}% of the mixed mass, as in the bucket before.",
                percent(held + target)
            )
        } else {
            format!("{}\u{202f}% of the mixed mass, by the recipe.", percent(held + target))
        });
        let over = tinting.ceiling.filter(|most| share(held + target, mixed) > *most);
        if let Some(most) = over {
            says.push(format!(
                "▲ Over the {}\u{202f}% that this colour stands: the resin may stay soft.",
                trimmed(most * 100.0, 1)
            ));
        }
        if target < FINE {
            says.push("Take a scale that shows a hundredth of a gram.".to_owned());
        }
        says.push(
            "Little by little: nothing takes it out again. Look at it in a dip cup as deep as the piece."
                .to_owned(),
        );
        says
    }
}

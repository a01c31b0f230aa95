//! The alternatives side by side.

use fondant_cast::planning::{Alternative, Wish};
use fondant_pours::Proof;
use jiff::tz::TimeZone;

use crate::ui::numbers::with_unit;
use crate::ui::units::Shown;
use crate::words::{plans, pours};

/// One alternative.
pub(crate) struct Card {
    pub(crate) number: usize,
    pub(crate) title: String,
    pub(crate) is_suggested: bool,
    pub(crate) hard: String,
    pub(crate) first: String,
    pub(crate) pours: String,
    pub(crate) peak: String,
    pub(crate) held: String,
    pub(crate) is_shaky: bool,
    pub(crate) proof: String,
}

/// The alternatives, the suggested one first.
pub(crate) fn cards(all: &[Alternative], shown: Shown, zone: &TimeZone) -> Vec<Card> {
    let mut cards: Vec<Card> = all
        .iter()
        .enumerate()
        .map(|(number, alternative)| {
            let held = alternative.held;
            let titles: Vec<&str> =
                alternative.wishes.iter().map(|wish| plans::wish(*wish)).collect();
            let first = alternative.pours.first().map(|pour| shown.date_and_time(pour.at, zone));
            let soonest = alternative.wishes.contains(&Wish::Soonest);
            Card {
                number,
                title: titles.join(", "),
                is_suggested: alternative.is_suggested,
                hard: shown.date_and_time(alternative.form_opens(), zone),
                first: first.unwrap_or_default(),
                pours: count(alternative),
                peak: shown.temperature(alternative.peak()),
                held: format!("{} of {}", held.held, held.tries),
                is_shaky: held.held * 10 < held.tries * 7,
                proof: match (soonest, alternative.proof) {
                    (true, proof @ (Proof::Best | Proof::Within(_))) => plans::proof(proof),
                    _ => String::new(),
                },
            }
        })
        .collect();
    cards.sort_by_key(|card| !card.is_suggested);
    cards
}

fn count(plan: &Alternative) -> String {
    let sanded = pours::sanded(plan.sanded_joints());
    let hours = with_unit(&format!("{:.0}", plan.takes().h()), "h");
    let all = [Some(pours::pours(plan.pours.len())), sanded, Some(format!("{hours} in all"))];
    all.into_iter().flatten().collect::<Vec<_>>().join(", ")
}

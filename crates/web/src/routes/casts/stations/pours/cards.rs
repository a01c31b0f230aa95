//! The alternatives side by side.

use fondant_cast::{Alternative, Wish};
use fondant_pours::{Proof, Schedule};
use jiff::tz::TimeZone;

use crate::views::format::{Shown, with_unit};
use crate::views::pour_words;

/// One alternative.
pub(in crate::routes) struct Card {
    pub(in crate::routes) number: usize,
    pub(in crate::routes) title: String,
    pub(in crate::routes) is_suggested: bool,
    pub(in crate::routes) hard: String,
    pub(in crate::routes) first: String,
    pub(in crate::routes) pours: String,
    pub(in crate::routes) peak: String,
    pub(in crate::routes) held: String,
    pub(in crate::routes) is_shaky: bool,
    pub(in crate::routes) proof: String,
}

/// The alternatives, the suggested one first.
pub(in crate::routes) fn cards(all: &[Alternative], shown: Shown, zone: &TimeZone) -> Vec<Card> {
    let mut cards: Vec<Card> = all
        .iter()
        .enumerate()
        .map(|(number, alternative)| {
            let (schedule, held) = (&alternative.schedule, alternative.held);
            let titles: Vec<&str> =
                alternative.wishes.iter().map(|wish| pour_words::wish(*wish)).collect();
            let first = schedule.pours.first().map(|pour| shown.date_and_time(pour.at, zone));
            let soonest = alternative.wishes.contains(&Wish::Soonest);
            Card {
                number,
                title: titles.join(", "),
                is_suggested: alternative.is_suggested,
                hard: shown.date_and_time(schedule.hard, zone),
                first: first.unwrap_or_default(),
                pours: pours(schedule),
                peak: shown.temperature(schedule.peak()),
                held: format!("{} of {}", held.held, held.tries),
                is_shaky: held.held * 10 < held.tries * 7,
                proof: match (soonest, schedule.proof) {
                    (true, proof @ (Proof::Best | Proof::Within(_))) => pour_words::proof(proof),
                    _ => String::new(),
                },
            }
        })
        .collect();
    cards.sort_by_key(|card| !card.is_suggested);
    cards
}

fn pours(schedule: &Schedule) -> String {
    let count = schedule.pours.len();
    let pours = if count == 1 { "1 pour".to_owned() } else { format!("{count} pours") };
    let sanded = match schedule.sanded_joints() {
        0 => String::new(),
        1 => ", one joint sanded".to_owned(),
        count => format!(", {count} joints sanded"),
    };
    let hours = with_unit(&format!("{:.0}", schedule.takes().h()), "h");
    format!("{pours}{sanded}, {hours} in all")
}

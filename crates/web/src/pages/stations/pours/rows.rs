//! The pours as a table.

use fondant_cast::mix::parts;
use fondant_pours::{Joint, Schedule};
use fondant_quantities::Span;

use crate::pages::stations::asked::Asked;
use crate::ui::units::span;
use crate::words::{kinds, layers, pours};

pub(super) struct PourRow {
    pub(super) name: String,
    pub(super) when: String,
    pub(super) takes: String,
    pub(super) why: String,
    pub(super) depth: String,
    pub(super) volume: String,
    pub(super) parts: String,
    pub(super) joint: String,
    pub(super) window: String,
    pub(super) peak: String,
    pub(super) is_poured: bool,
}

pub(super) fn row(
    asked: &Asked<'_>,
    schedule: &Schedule,
    index: usize,
    is_poured: bool,
) -> PourRow {
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let pour = &schedule.pours[index];
    let time = |at| shown.day_and_time(at, zone);
    let mixed = pour.mixed;
    let mixed = parts(mixed, &asked.evaluation.resin);
    let takes = Span::between(pour.at, pour.done);
    PourRow {
        name: layers::heading(pour.layer.kind),
        when: shown.date_and_time(pour.at, zone),
        why: match (is_poured, pour.binding) {
            (true, _) => "poured".to_owned(),
            (false, Some(binding)) => pours::binding(binding).to_owned(),
            (false, None) => "as you set it".to_owned(),
        },
        depth: shown.length(pour.layer.depth()),
        volume: shown.volume(mixed.volume),
        takes: format!("{}, {}", pours::buckets(pour.batches), span(takes)),
        parts: format!("{} A + {} B", shown.mass(mixed.a_mass), shown.mass(mixed.b_mass)),
        joint: match pour.joint {
            Joint::First => kinds::hard(asked.document.kind()).joins.to_owned(),
            Joint::WetOnTacky => "sticky on sticky".to_owned(),
            Joint::AfterCure { sanding, .. } => format!("after sanding, from {}", time(sanding)),
        },
        window: if index + 1 == schedule.pours.len() {
            format!("top-ups until {}", time(pour.closes))
        } else {
            format!("{} – {}", time(pour.opens), time(pour.closes))
        },
        peak: shown.temperature(pour.peak),
        is_poured,
    }
}

//! The pours as a table.

use fondant_cast::mix::parts;
use fondant_pours::layers::Layer;
use fondant_pours::{Binding, Joint, Schedule};
use fondant_quantities::{Length, Span, Volume};

use super::stages;
use crate::pages::stations::asked::Asked;
use crate::ui::numbers::span;
use crate::words::mixing::lines_of_each_bucket;
use crate::words::{kinds, layers, pours};

pub(crate) struct PourRow {
    pub(crate) name: String,
    /// Its resin and its colour, where the cast has more than one.
    pub(crate) of: String,
    pub(crate) when: String,
    pub(crate) takes: String,
    pub(crate) why: String,
    pub(crate) depth: String,
    pub(crate) volume: String,
    /// What goes into each bucket, by one measure or two.
    pub(crate) parts: Vec<String>,
    pub(crate) joint: String,
    pub(crate) window: String,
    pub(crate) peak: String,
    pub(crate) is_poured: bool,
}

/// The resin of a layer where the cast has several, and what colours it.
fn of_what(asked: &Asked<'_>, layer: &Layer) -> String {
    let evaluation = asked.evaluation;
    let resin = (evaluation.needs.len() > 1).then(|| evaluation.need_of(layer).resin.name.clone());
    let tint = stages::tint(asked.document, layer.kind).unwrap_or_default();
    let brushed = (layer.brushed > Volume::ZERO)
        .then(|| format!("edges sealed first with {}", asked.shown.volume_fine(layer.brushed)));
    let tint = (!tint.is_empty()).then(|| tint.to_owned());
    [resin, tint, brushed].into_iter().flatten().collect::<Vec<_>>().join(", ")
}

pub(crate) fn row(
    asked: &Asked<'_>,
    schedule: &Schedule,
    index: usize,
    is_poured: bool,
) -> PourRow {
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let pour = &schedule.pours[index];
    let time = |at| shown.day_and_time(at, zone);
    let mixed = pour.mixed;
    let resin = &asked.evaluation.need_of(&pour.layer).resin;
    let mixed = parts(mixed, resin);
    let is_flood = pour.layer.kind.is_flood();
    let takes = Span::between(pour.at, pour.done);
    PourRow {
        name: layers::heading(pour.layer.kind),
        of: of_what(asked, &pour.layer),
        when: shown.date_and_time(pour.at, zone),
        why: match (is_poured, pour.binding) {
            (true, _) => "poured".to_owned(),
            (false, Some(Binding::Sanding)) if is_flood => {
                "the face is finished by then".to_owned()
            }
            (false, Some(binding)) => pours::binding(binding).to_owned(),
            (false, None) => "as you set it".to_owned(),
        },
        depth: match pour.layer.depth() > Length::ZERO {
            true => shown.length(pour.layer.depth()),
            false => "–".to_owned(),
        },
        volume: shown.volume(mixed.volume),
        takes: format!("{}, {}", pours::buckets(pour.batches), span(takes)),
        parts: lines_of_each_bucket(&mixed, pour.batches, resin, shown),
        joint: match pour.joint {
            Joint::First => kinds::hard(asked.document.kind()).joins.to_owned(),
            Joint::WetOnTacky => "sticky on sticky".to_owned(),
            Joint::AfterCure { sanding, .. } if is_flood => {
                format!("on the finished face, worked on from {}", time(sanding))
            }
            Joint::AfterCure { sanding, .. } => format!("after sanding, from {}", time(sanding)),
        },
        window: match schedule.pours.get(index + 1) {
            _ if is_flood || pour.layer.kind.is_of_cracks() => "–".to_owned(),
            Some(next) if !next.layer.kind.is_flood() => {
                format!("{} – {}", time(pour.opens), time(pour.closes))
            }
            _ => format!("top-ups until {}", time(pour.closes)),
        },
        peak: shown.temperature(pour.peak),
        is_poured,
    }
}

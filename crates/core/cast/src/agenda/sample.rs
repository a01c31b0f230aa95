//! Agendas for tests.

use super::agenda::{Agenda, AgendaPour, Fit};
use crate::document::PourId;
use fondant_materials::resin::ResinId;
use fondant_pours::layers::LayerKind;
use fondant_quantities::{Length, Volume};
use jiff::SignedDuration;
use jiff::Timestamp;

pub(super) fn at(hour: i64) -> Timestamp {
    Timestamp::UNIX_EPOCH + SignedDuration::from_hours(hour)
}

pub(super) fn agenda(pours: &[i64], in_pot: bool) -> Agenda {
    let pour = |(index, hour): (usize, &i64)| AgendaPour {
        id: PourId::of_place(index),
        layer: LayerKind::Main(index + 1),
        resin: None,
        at: at(*hour),
        done: at(*hour) + SignedDuration::from_mins(40),
        waits_for: None,
        opens: at(hour + 10),
        closes: at(hour + 20),
        cover: at(hour + 6),
        sanding: None,
        depth: Length::from_mm(20.0),
        volume: Volume::from_l(4.0),
        batches: 2,
    };
    let last = pours.last().copied().unwrap_or(0);
    Agenda {
        resin: ResinId("slow".into()),
        pours: pours.iter().enumerate().map(pour).collect(),
        hard: at(last + 48),
        form_opens: None,
        in_pot,
        poured: 0,
        fit: Fit::Whole,
        changed: at(0),
        sequence: 7,
    }
}

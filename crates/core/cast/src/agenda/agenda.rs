//! The dates of one cast, and what is to be done at them.

use fondant_materials::resin::ResinId;
use fondant_pours::layers::LayerKind;
use fondant_pours::{Joint, Schedule, ScheduledPour};
use fondant_quantities::{Length, Volume};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::document::{Document, PourId};
use crate::pours::Planned;

/// The dates of one cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Agenda {
    /// Its resin, which says what air it stands.
    pub resin: ResinId,
    /// Pours of the cast, in order.
    pub pours: Vec<AgendaPour>,
    /// Hard all through.
    pub hard: Timestamp,
    /// The form can be opened, where that comes before all is hard: a flood coat goes over the
    /// finished face.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub form_opens: Option<Timestamp>,
    /// It cures in the pressure pot.
    pub in_pot: bool,
    /// How many of its pours have happened, from the first on.
    pub poured: usize,
    /// How far it fits what is cast.
    #[serde(default, skip_serializing_if = "Fit::is_whole")]
    pub fit: Fit,
    /// Time of the last change.
    pub changed: Timestamp,
    /// Rises with every change, for calendars.
    pub sequence: u32,
}

/// How far an agenda fits what is cast: a plan that was taken is none for a cast that was changed since.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Fit {
    /// The plan that was taken is the plan of this cast.
    #[default]
    Whole,
    /// The cast was changed, and the form is full: a coat over it may have no hours.
    Poured,
    /// The agenda holds what is poured, and what is still to go into the form has no hours.
    Lacking,
}

impl Fit {
    const fn is_whole(&self) -> bool {
        matches!(self, Self::Whole)
    }
}

/// One pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct AgendaPour {
    /// Id of the pour; it stays the same when layers are split again.
    pub id: PourId,
    /// Kind of layer.
    pub layer: LayerKind,
    /// Its resin, where that is not the cast's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resin: Option<ResinId>,
    /// When the first bucket is measured out.
    pub at: Timestamp,
    /// When the last is in.
    pub done: Timestamp,
    /// The layer below is still liquid at that hour: its window opens only then.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub waits_for: Option<Timestamp>,
    /// Time at which the surface turns tacky: the window opens, UTC.
    pub opens: Timestamp,
    /// Time at which the surface has set: the window closes, UTC.
    pub closes: Timestamp,
    /// A vented lid goes on.
    pub cover: Timestamp,
    /// Sanding of the layer below begins, where it is sanded.
    pub sanding: Option<Timestamp>,
    /// Depth of the layer.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Mixed volume.
    #[serde(rename = "volume_m3")]
    pub volume: Volume,
    /// Buckets.
    pub batches: u32,
}

/// Something to do, in the order of what is due at one moment.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum ActKind {
    /// Sand the layer below.
    Sand,
    /// Wait for the window of the layer below, and test its witness cup.
    Wait,
    /// The window for the next pour opens.
    Opens,
    /// Mix and pour.
    Pour,
    /// Watch for bubbles and leaks.
    Watch,
    /// Put a vented lid on.
    Cover,
    /// The window closes.
    Closes,
    /// Look at the level, and top up what has soaked in.
    Level,
    /// The form can be opened.
    Open,
    /// A flood coat is hard.
    Hard,
}

/// An act of a cast.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Act {
    /// Time of the act, UTC.
    pub at: Timestamp,
    /// Kind of act.
    pub kind: ActKind,
    /// The pour it belongs to, from 0.
    pub pour: usize,
}

/// Sequences count seconds from the beginning of 2026, so that they rise even
/// over a plan that was given up in between.
const SEQUENCE_FROM_S: i64 = 1_767_225_600;
/// How long after the last pour top-ups are checked, h.
pub const TOP_UPS_H: [i64; 3] = [1, 24, 48];

/// The sequence of what was changed at a time.
#[must_use]
pub fn sequence(changed: Timestamp) -> u32 {
    u32::try_from(changed.as_second() - SEQUENCE_FROM_S).unwrap_or(0)
}

impl Agenda {
    /// Of the pours that were taken, as the schedule has them, of which `poured` have happened.
    #[must_use]
    pub fn of(
        document: &Document,
        planned: &[Planned],
        schedule: &Schedule,
        poured: usize,
        now: Timestamp,
    ) -> Self {
        let form_opens = schedule.form_opens();
        let pour = |(place, (p, planned)): (usize, (&ScheduledPour, &Planned))| AgendaPour {
            waits_for: schedule.waits_for(place).filter(|_| place >= poured),
            id: planned.id,
            layer: p.layer.kind,
            resin: (p.layer.resin > 0).then(|| document.resin_of(&p.layer)),
            at: p.at,
            done: p.done,
            opens: p.opens,
            closes: p.closes,
            cover: p.cover_from(),
            sanding: match p.joint {
                Joint::AfterCure { sanding, .. } => Some(sanding),
                Joint::First | Joint::WetOnTacky => None,
            },
            depth: p.layer.depth(),
            volume: p.mixed,
            batches: p.batches,
        };
        Self {
            resin: document.resin.clone(),
            pours: schedule.pours.iter().zip(planned).enumerate().map(pour).collect(),
            hard: schedule.hard,
            form_opens: (form_opens != schedule.hard).then_some(form_opens),
            in_pot: document.contents.pot().is_some(),
            poured,
            fit: Fit::Whole,
            changed: now,
            sequence: sequence(now),
        }
    }

    /// What of it holds where the rest is not taken: the pours that have happened, with their windows and
    /// hours. `None` where none has.
    #[must_use]
    pub fn of_poured(&self, poured: &[PourId]) -> Option<Self> {
        let count = self.pours.iter().take_while(|pour| poured.contains(&pour.id)).count();
        let (is_in, to_come) = self.pours.split_at(count);
        let is_full = to_come.iter().all(|pour| pour.layer.is_flood()) && self.fit != Fit::Lacking;
        // A coat that is to come is what all would be hard with.
        let (hard, form_opens) = match self.form_opens {
            Some(opens) if !to_come.is_empty() => (opens, None),
            form_opens => (self.hard, form_opens),
        };
        (count > 0).then(|| Self {
            pours: is_in.to_vec(),
            poured: count,
            fit: if is_full { Fit::Poured } else { Fit::Lacking },
            hard,
            form_opens,
            ..self.clone()
        })
    }

    /// In the place of a former one: that one still where nothing else has
    /// changed, else with a sequence above it, whatever the clock says.
    #[must_use]
    pub fn following(mut self, former: &Self) -> Self {
        let (changed, sequence) = (self.changed, self.sequence);
        (self.changed, self.sequence) = (former.changed, former.sequence);
        if self != *former {
            self.changed = changed;
            self.sequence = sequence.max(former.sequence.saturating_add(1));
        }
        self
    }

    /// All acts in order of time.
    #[must_use]
    pub fn acts(&self) -> Vec<Act> {
        let mut acts = Vec::new();
        let last = self.pours.len().saturating_sub(1);
        let has_flood = self.pours.last().is_some_and(|pour| pour.layer.is_flood());
        let last_in_form = if has_flood { last.saturating_sub(1) } else { last };
        for (index, pour) in self.pours.iter().enumerate() {
            let mut add = |kind, at| acts.push(Act { at, kind, pour: index });
            if let Some(sanding) = pour.sanding {
                add(ActKind::Sand, sanding);
            }
            if pour.waits_for.is_some() {
                add(ActKind::Wait, pour.at);
            }
            add(ActKind::Pour, pour.waits_for.unwrap_or(pour.at));
            add(ActKind::Watch, pour.done);
            let next = self.pours.get(index + 1);
            if next.is_none_or(|next| pour.cover < next.at) {
                add(ActKind::Cover, pour.cover);
            }
            let is_followed = match next {
                Some(next) => next.sanding.is_none(),
                None => self.fit == Fit::Lacking,
            };
            if is_followed {
                add(ActKind::Opens, pour.opens);
                add(ActKind::Closes, pour.closes);
            }
        }
        if let Some(done) = self.pours.get(last_in_form).map(|pour| pour.done) {
            acts.extend(TOP_UPS_H.map(|hours| {
                let at = done + jiff::SignedDuration::from_hours(hours);
                Act { at, kind: ActKind::Level, pour: last_in_form }
            }));
        }
        // What is still to be poured says when the form can be opened.
        if self.fit != Fit::Lacking {
            let opens = self.form_opens.unwrap_or(self.hard);
            acts.push(Act { at: opens, kind: ActKind::Open, pour: last_in_form });
        }
        if has_flood {
            acts.push(Act { at: self.hard, kind: ActKind::Hard, pour: last });
        }
        acts.sort_by_key(|act| (act.at, act.kind));
        acts
    }

    /// What is still to be done: acts of pours that have not happened, and what
    /// of the others is yet to come.
    #[must_use]
    pub fn next(&self, now: Timestamp) -> Vec<Act> {
        let pending = |act: &Act| match act.kind {
            ActKind::Pour | ActKind::Wait | ActKind::Sand => act.pour >= self.poured,
            ActKind::Level => act.at >= now && act.pour < self.poured,
            _ => act.at >= now,
        };
        self.acts().into_iter().filter(pending).collect()
    }

    /// Whether all of it lies behind.
    #[must_use]
    pub fn is_over(&self, now: Timestamp) -> bool {
        self.hard < now && self.poured >= self.pours.len() && self.fit != Fit::Lacking
    }
}

#[cfg(test)]
mod tests;

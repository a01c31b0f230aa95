//! What a taken plan asks of the shop and when: kept beside the cast, so that a
//! shop's day is read without running a model.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::document::Plan;
use super::kind::Kind;
use fondant_materials::resin::ResinId;
use fondant_pours::layers::LayerKind;
use fondant_pours::{Joint, Schedule, WATCH_S};
use fondant_quantities::{Length, Volume};

/// The dates of one cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Agenda {
    /// Its resin, which says what air it stands.
    pub resin: ResinId,
    /// Its pours, in order.
    pub pours: Vec<AgendaPour>,
    /// Hard all through.
    pub hard: Timestamp,
    /// It cures in the pressure pot.
    pub in_pot: bool,
    /// So many pours have happened.
    pub poured: usize,
    /// When it last became another.
    pub changed: Timestamp,
    /// Rises with every change, for calendars.
    pub sequence: u32,
}

/// One pour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct AgendaPour {
    /// Its name: `base`, `layer 2`.
    pub name: String,
    /// When the first bucket is measured out.
    pub at: Timestamp,
    /// When the last is in.
    pub done: Timestamp,
    /// Sticky from ...
    pub opens: Timestamp,
    /// ... to.
    pub closes: Timestamp,
    /// A vented lid goes on.
    pub cover: Timestamp,
    /// Sanding of the layer below begins, where it is sanded.
    pub sanding: Option<Timestamp>,
    /// Depth.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Mixed volume.
    #[serde(rename = "volume_m3")]
    pub volume: Volume,
    /// Buckets.
    pub batches: u32,
}

/// Something to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum ActKind {
    /// Sand the layer below.
    Sand,
    /// Mix and pour.
    Pour,
    /// Watch for bubbles and leaks.
    Watch,
    /// Put a vented lid on.
    Cover,
    /// The window for the next pour opens.
    Opens,
    /// It closes.
    Closes,
    /// See what the timber drank, and top up.
    Level,
    /// The form can be opened.
    Open,
}

/// An act of a cast.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Act {
    /// When.
    pub at: Timestamp,
    /// What.
    pub kind: ActKind,
    /// The pour it belongs to, from 0.
    pub pour: usize,
}

/// Sequences count seconds from the beginning of 2026, so that they rise even
/// over a plan that was given up in between.
const SEQUENCE_FROM_S: i64 = 1_767_225_600;
/// Top-ups are looked for so long after the last pour, h.
pub const TOP_UPS_H: [i64; 3] = [1, 24, 48];

/// A layer's name in a sentence.
#[must_use]
pub fn layer_name(kind: LayerKind) -> String {
    match kind {
        LayerKind::Seal => "seal coat".to_owned(),
        LayerKind::Base => "base".to_owned(),
        LayerKind::Main(number) => format!("layer {number}"),
    }
}

impl Agenda {
    /// Of a schedule of which so many pours have happened.
    #[must_use]
    pub fn of(plan: &Plan, schedule: &Schedule, poured: usize, now: Timestamp) -> Self {
        let pour = |p: &fondant_pours::ScheduledPour| AgendaPour {
            name: layer_name(p.layer.kind),
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
            volume: p.layer.volume,
            batches: p.batches,
        };
        let potted = matches!(plan.kind, Kind::TubeBlanks | Kind::Moulds | Kind::Block);
        Self {
            resin: plan.resin.clone(),
            pours: schedule.pours.iter().map(pour).collect(),
            hard: schedule.hard,
            in_pot: potted && plan.moulding.pot.is_some(),
            poured,
            changed: now,
            sequence: u32::try_from(now.as_second() - SEQUENCE_FROM_S).unwrap_or(0),
        }
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
        for (index, pour) in self.pours.iter().enumerate() {
            let mut add = |kind, at| acts.push(Act { at, kind, pour: index });
            if let Some(sanding) = pour.sanding {
                add(ActKind::Sand, sanding);
            }
            add(ActKind::Pour, pour.at);
            add(ActKind::Watch, pour.done);
            let next = self.pours.get(index + 1);
            if next.is_none_or(|next| pour.cover < next.at) {
                add(ActKind::Cover, pour.cover);
            }
            if index < last && next.is_some_and(|next| next.sanding.is_none()) {
                add(ActKind::Opens, pour.opens);
                add(ActKind::Closes, pour.closes);
            }
        }
        if let Some(done) = self.pours.last().map(|pour| pour.done) {
            acts.extend(TOP_UPS_H.map(|hours| {
                let at = done + jiff::SignedDuration::from_hours(hours);
                Act { at, kind: ActKind::Level, pour: last }
            }));
        }
        acts.push(Act { at: self.hard, kind: ActKind::Open, pour: last });
        acts.sort_by_key(|act| (act.at, act.kind));
        acts
    }

    /// What is still to be done: acts of pours that have not happened, and what
    /// of the others is yet to come.
    #[must_use]
    pub fn next(&self, now: Timestamp) -> Vec<Act> {
        let pending = |act: &Act| match act.kind {
            ActKind::Pour | ActKind::Sand => act.pour >= self.poured,
            ActKind::Level => act.at >= now && act.pour < self.poured,
            _ => act.at >= now,
        };
        self.acts().into_iter().filter(pending).collect()
    }

    /// Whether all of it lies behind.
    #[must_use]
    pub fn is_over(&self, now: Timestamp) -> bool {
        self.hard < now && self.poured >= self.pours.len()
    }
}

/// Two things that want the same hands or the same pot.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Collision {
    /// More pours at once than there are hands.
    Hands {
        /// The first one, by its place in the list and its pour.
        first: (usize, usize),
        /// The one that comes too soon after it.
        second: (usize, usize),
    },
    /// The pot is still full.
    Pot {
        /// What is in it.
        first: (usize, usize),
        /// What should go in.
        second: (usize, usize),
    },
}

impl Collision {
    /// The pour that gives way: the second.
    #[must_use]
    pub const fn gives_way(&self) -> (usize, usize) {
        match self {
            Self::Hands { second, .. } | Self::Pot { second, .. } => *second,
        }
    }
}

/// Collisions among pours yet to come, in order of time.
#[must_use]
pub fn collisions(agendas: &[Agenda], hands: u32) -> Vec<Collision> {
    let mut pours: Vec<(Timestamp, Timestamp, usize, usize)> = Vec::new();
    for (cast, agenda) in agendas.iter().enumerate() {
        for (index, pour) in agenda.pours.iter().enumerate().skip(agenda.poured) {
            // The first half hour after a pour is watched, by the same hands.
            let busy = pour.done + jiff::SignedDuration::from_secs(WATCH_S / 2);
            pours.push((pour.at, busy, cast, index));
        }
    }
    pours.sort();
    let mut found: Vec<(Timestamp, Collision)> = Vec::new();
    for (place, pour) in pours.iter().enumerate() {
        let mut busy = pours[..place].iter().filter(|other| other.1 > pour.0);
        let count = busy.clone().count();
        // Whoever mixes keeps all hands busy that the plan reckoned with: one
        // pour at a time, two where there are two pairs.
        if count >= hands as usize
            && let Some(first) = busy.next()
        {
            let (first, second) = ((first.2, first.3), (pour.2, pour.3));
            found.push((pour.0, Collision::Hands { first, second }));
        }
    }
    let potted = |cast: usize| {
        let agenda = &agendas[cast];
        let first = agenda.pours.first().map_or(agenda.hard, |pour| pour.done);
        (first, agenda.hard, cast)
    };
    let mut in_pot: Vec<(Timestamp, Timestamp, usize)> =
        (0..agendas.len()).filter(|cast| agendas[*cast].in_pot).map(potted).collect();
    in_pot.sort();
    for pair in in_pot.windows(2) {
        if pair[1].0 < pair[0].1 {
            let collision = Collision::Pot { first: (pair[0].2, 0), second: (pair[1].2, 0) };
            found.push((pair[1].0, collision));
        }
    }
    found.sort_by_key(|(at, _)| *at);
    found.into_iter().map(|(_, collision)| collision).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::SignedDuration;

    fn at(hour: i64) -> Timestamp {
        Timestamp::UNIX_EPOCH + SignedDuration::from_hours(hour)
    }

    fn agenda(pours: &[i64], in_pot: bool) -> Agenda {
        let pour = |(index, hour): (usize, &i64)| AgendaPour {
            name: format!("layer {}", index + 1),
            at: at(*hour),
            done: at(*hour) + SignedDuration::from_mins(40),
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
            in_pot,
            poured: 0,
            changed: at(0),
            sequence: 7,
        }
    }

    #[test]
    fn acts_come_in_order_and_what_is_poured_is_not_asked_for_again() {
        let mut plan = agenda(&[0, 12], false);
        let kinds: Vec<ActKind> = plan.acts().iter().map(|act| act.kind).collect();
        assert_eq!(kinds[0], ActKind::Pour);
        assert!(kinds.contains(&ActKind::Open));
        assert_eq!(kinds.iter().filter(|kind| **kind == ActKind::Level).count(), 3);
        assert!(kinds.contains(&ActKind::Opens) && kinds.contains(&ActKind::Cover));
        plan.poured = 1;
        let next = plan.next(at(11));
        assert_eq!((next[0].kind, next[0].pour), (ActKind::Pour, 1));
        assert!(plan.next(at(99)).iter().any(|act| act.kind == ActKind::Pour), "missed, not gone");
    }

    #[test]
    fn a_sequence_rises_when_something_changes_and_only_then() {
        let former = agenda(&[0, 12], false);
        let same = Agenda { changed: at(5), sequence: 900, ..former.clone() };
        assert_eq!(same.following(&former), former);
        let later = Agenda { changed: at(5), sequence: 3, ..agenda(&[0, 13], false) };
        let found = later.following(&former);
        assert_eq!((found.changed, found.sequence), (at(5), 8), "though the clock went back");
        assert_eq!(found.pours[1].at, at(13));
    }

    #[test]
    fn two_pours_at_once_collide_unless_there_are_hands_for_both() {
        let both = [agenda(&[0], false), agenda(&[0, 30], false)];
        let found = collisions(&both, 1);
        assert_eq!(found, [Collision::Hands { first: (0, 0), second: (1, 0) }]);
        assert_eq!(found[0].gives_way(), (1, 0));
        assert_eq!(collisions(&both, 2), []);
        assert_eq!(collisions(&[agenda(&[0], false), agenda(&[2], false)], 1), []);
    }

    #[test]
    fn a_pot_holds_one_cast_until_it_is_hard() {
        let both = [agenda(&[0], true), agenda(&[5], true)];
        assert_eq!(collisions(&both, 1), [Collision::Pot { first: (0, 0), second: (1, 0) }]);
        assert_eq!(collisions(&[agenda(&[0], true), agenda(&[60], true)], 1), []);
        assert_eq!(collisions(&[agenda(&[0], true), agenda(&[5], false)], 1), []);
    }
}

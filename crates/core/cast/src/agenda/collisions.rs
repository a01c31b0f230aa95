//! Casts that want the same hands or the same pot at the same time.

use fondant_pours::WATCH_S;
use jiff::Timestamp;

use super::agenda::Agenda;

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
        /// The cast in it, by its place in the list and its pour.
        first: (usize, usize),
        /// The cast that should go in, by its place in the list and its pour.
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
    let mut found = hands_wanted_twice(agendas, hands);
    let potted = |cast: usize| {
        let agenda = &agendas[cast];
        let first = agenda.pours.first().map_or(agenda.hard, |pour| pour.done);
        (first, agenda.hard, cast)
    };
    let mut in_pot: Vec<(Timestamp, Timestamp, usize)> =
        (0..agendas.len()).filter(|cast| agendas[*cast].in_pot).map(potted).collect();
    in_pot.sort();
    for (place, cast) in in_pot.iter().enumerate() {
        // Whichever of those before it stays in the pot longest.
        let before = in_pot[..place].iter().max_by_key(|other| other.1);
        if let Some(full) = before.filter(|full| cast.0 < full.1) {
            let collision = Collision::Pot { first: (full.2, 0), second: (cast.2, 0) };
            found.push((cast.0, collision));
        }
    }
    found.sort_by_key(|(at, _)| *at);
    found.into_iter().map(|(_, collision)| collision).collect()
}

/// A pour while it keeps hands busy.
struct Busy {
    from: Timestamp,
    to: Timestamp,
    /// Pairs of hands that mix for it at the same time.
    hands: u32,
    /// Its cast and its place in it.
    of: (usize, usize),
}

/// Pours for which there are not hands enough beside those that are going on.
fn hands_wanted_twice(agendas: &[Agenda], hands: u32) -> Vec<(Timestamp, Collision)> {
    let mut pours: Vec<Busy> = Vec::new();
    for (cast, agenda) in agendas.iter().enumerate() {
        for (index, pour) in agenda.pours.iter().enumerate().skip(agenda.poured) {
            pours.push(Busy {
                from: pour.at,
                // The first half hour after a pour is watched, by the same hands.
                to: pour.done + jiff::SignedDuration::from_secs(WATCH_S / 2),
                // Its plan already counts all hands that its buckets keep busy.
                hands: pour.batches.clamp(1, hands.max(1)),
                of: (cast, index),
            });
        }
    }
    pours.sort_by_key(|pour| (pour.from, pour.to, pour.of));
    let mut found = Vec::new();
    for (place, pour) in pours.iter().enumerate() {
        let busy = || pours[..place].iter().filter(|other| other.to > pour.from);
        let wanted: u32 = busy().map(|other| other.hands).sum::<u32>() + pour.hands;
        if let Some(first) = busy().next().filter(|_| wanted > hands.max(1)) {
            found.push((pour.from, Collision::Hands { first: first.of, second: pour.of }));
        }
    }
    found
}

#[cfg(test)]
mod tests;

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
mod tests;

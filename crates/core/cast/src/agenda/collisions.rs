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
    /// A run at the bench still keeps hands busy.
    Bench {
        /// The run, by its place among those that were told of.
        run: usize,
        /// The pour that is due before it is done, by its place in the list and its pour.
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
            Self::Hands { second, .. } | Self::Bench { second, .. } | Self::Pot { second, .. } => {
                *second
            }
        }
    }
}

/// A run at the bench, as it keeps a pair of hands busy.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AtBench {
    /// Time at which the hands are free again, UTC.
    pub until: Timestamp,
    /// The pour that it is of, by its place in the list and its pour; `None` where it is of no plan.
    pub pour: Option<(usize, usize)>,
}

/// Collisions among pours yet to come, and with what is going on at the bench, in order of time.
#[must_use]
pub fn collisions(agendas: &[Agenda], at_bench: &[AtBench], hands: u32) -> Vec<Collision> {
    let mut found = hands_wanted_twice(agendas, at_bench, hands);
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
    /// The run at the bench that it is, in the place of a pour of a plan.
    run: Option<usize>,
}

/// Pours for which there are not hands enough beside those that are going on.
fn hands_wanted_twice(
    agendas: &[Agenda],
    at_bench: &[AtBench],
    hands: u32,
) -> Vec<(Timestamp, Collision)> {
    const NO_POUR: (usize, usize) = (usize::MAX, 0);
    let run = |(run, busy): (usize, &AtBench)| Busy {
        from: Timestamp::MIN,
        to: busy.until,
        hands: 1,
        of: busy.pour.unwrap_or(NO_POUR),
        run: Some(run),
    };
    let mut pours: Vec<Busy> = at_bench.iter().enumerate().map(run).collect();
    for (cast, agenda) in agendas.iter().enumerate() {
        for (index, pour) in agenda.pours.iter().enumerate().skip(agenda.poured) {
            pours.push(Busy {
                from: pour.at,
                // The first half hour after a pour is watched, by the same hands.
                to: pour.done + jiff::SignedDuration::from_secs(WATCH_S / 2),
                // Its plan already counts all hands that its buckets keep busy.
                hands: pour.batches.clamp(1, hands.max(1)),
                of: (cast, index),
                run: None,
            });
        }
    }
    pours.sort_by_key(|pour| (pour.from, pour.to, pour.of));
    let mut found = Vec::new();
    for (place, pour) in pours.iter().enumerate().filter(|(_, pour)| pour.run.is_none()) {
        // A pour does not stand in the way of its own run.
        let before = || pours[..place].iter().filter(|other| other.of != pour.of);
        let busy = || before().filter(|other| other.to > pour.from);
        let wanted: u32 = busy().map(|other| other.hands).sum::<u32>() + pour.hands;
        if let Some(first) = busy().next().filter(|_| wanted > hands.max(1)) {
            let second = pour.of;
            let collision = match first.run {
                Some(run) => Collision::Bench { run, second },
                None => Collision::Hands { first: first.of, second },
            };
            found.push((pour.from, collision));
        }
    }
    found
}

#[cfg(test)]
mod tests;

//! What is to be done next in a run, the most pressing first.

use fondant_cast::shop::PartOrder;
use fondant_quantities::Mass;
use jiff::{SignedDuration, Timestamp};

use super::batch::Batch;
use super::happening::ReadyItem;
use super::state::Run;
use crate::weighing::{Pair, Part};

/// While a pour is watched, somebody looks for bubbles this often (convention).
pub const LOOK_EVERY: SignedDuration = SignedDuration::from_mins(5);

/// Something to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Act {
    /// Look at something before the bucket is opened.
    Ready(ReadyItem),
    /// Weigh a part.
    Weigh {
        /// The batch, from 1.
        batch: u32,
        /// Which part.
        part: Part,
        /// How much of it.
        target: Mass,
    },
    /// Let A meet B, and mix.
    Mix {
        /// The batch, from 1.
        batch: u32,
    },
    /// Go on mixing until this time, and longer where there are streaks.
    MixOn {
        /// The batch, from 1.
        batch: u32,
        /// It takes at least until then.
        until: Timestamp,
    },
    /// Pour a bucket that is mixed.
    Pour {
        /// The batch, from 1.
        batch: u32,
    },
    /// Empty the bucket that is being poured.
    PourOn {
        /// The batch, from 1.
        batch: u32,
    },
    /// Close the pot, before it gels.
    ClosePot {
        /// It gels then.
        gels: Timestamp,
    },
    /// Look for bubbles.
    Look {
        /// From then on.
        at: Timestamp,
        /// The watch ends then.
        until: Timestamp,
    },
    /// Put the lid on.
    Cover {
        /// From then on.
        at: Timestamp,
    },
    /// Vent the pot: what is in it is hard.
    Vent {
        /// From then on.
        at: Timestamp,
    },
    /// Look at the level, and top up what has soaked in.
    Level {
        /// From then on.
        at: Timestamp,
    },
    /// Close the run.
    Finish,
}

/// The level is looked at this long after the last bucket: what soaks in does so in the first hour.
const LEVEL_AFTER: SignedDuration = SignedDuration::from_hours(1);

/// What is to be done, the most pressing first: a bucket in which A has met B before anything else.
#[must_use]
pub fn acts(run: &Run, order: PartOrder) -> Vec<Act> {
    if run.ended.is_some() {
        return Vec::new();
    }
    let mut acts = Vec::new();
    let open = || run.batches.iter().filter(|batch| !batch.is_over());
    acts.extend(open().filter(|b| b.pouring.is_some()).map(|b| Act::PourOn { batch: b.number }));
    let ready = |b: &&Batch| b.mixed.is_some() && b.pouring.is_none();
    let pours = || open().filter(ready).map(|b| Act::Pour { batch: b.number });
    // The cups of a swirl wait for each other.
    let waits = run.plan.join.is_some() && !run.is_joining();
    if !waits {
        acts.extend(pours());
    }
    let mixing = open().filter(|b| b.mixed.is_none() && b.pouring.is_none());
    acts.extend(mixing.filter_map(|b| {
        let (met, _) = b.met?;
        Some(Act::MixOn { batch: b.number, until: met + run.plan.mixing.signed() })
    }));
    if run.batches.is_empty() {
        let left = run.plan.ready.iter().filter(|item| !run.ready.contains(item));
        acts.extend(left.map(|item| Act::Ready(*item)));
    }
    for batch in open().filter(|batch| batch.met.is_none()) {
        let target = batch.target(&run.plan);
        acts.extend(weigh(batch.number, target, order, |part| batch.part(part).is_some()));
        acts.push(Act::Mix { batch: batch.number });
    }
    if run.to_come().count > 0 {
        let number = run.next_number();
        let target = Pair::of(run.next_mass(number), &run.plan.resin);
        acts.extend(weigh(number, target, order, |_| false));
        acts.push(Act::Mix { batch: number });
    }
    if waits {
        acts.extend(pours());
    }
    after(run, &mut acts);
    acts
}

fn weigh(
    batch: u32,
    target: Pair,
    order: PartOrder,
    is_taken: impl Fn(Part) -> bool,
) -> impl Iterator<Item = Act> {
    let parts = match order {
        PartOrder::HardenerFirst => [Part::B, Part::A],
        PartOrder::ResinFirst => [Part::A, Part::B],
    };
    let left: Vec<Part> = parts.into_iter().filter(|part| !is_taken(*part)).collect();
    left.into_iter().map(move |part| Act::Weigh { batch, part, target: target.part(part) })
}

/// What follows once all is in.
fn after(run: &Run, acts: &mut Vec<Act>) {
    let Some(done) = run.all_in() else { return };
    let plan = &run.plan;
    let gels = done + plan.gels.signed();
    if plan.pot_bar.is_some() && run.gauge.is_empty() {
        acts.push(Act::ClosePot { gels });
    }
    let until = done + plan.watch.signed();
    if run.watched.is_none() && plan.pot_bar.is_none() {
        let last = run.looked.last().copied().unwrap_or(done);
        acts.push(Act::Look { at: last + LOOK_EVERY, until });
    }
    if run.covered.is_none() && plan.pot_bar.is_none() {
        acts.push(Act::Cover { at: done + plan.cover.signed() });
    }
    if plan.pot_bar.is_some() && run.vented.is_none() {
        acts.push(Act::Vent { at: gels });
    }
    if run.topped_up.is_empty() && plan.pot_bar.is_none() {
        acts.push(Act::Level { at: done + LEVEL_AFTER });
    }
    acts.push(Act::Finish);
}

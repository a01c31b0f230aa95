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
    /// Weigh a colour into a bucket.
    Tint {
        /// The batch, from 1.
        batch: u32,
        /// Its place in the recipe, from 0.
        colour: usize,
        /// How much more of it.
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
        /// Earliest end of mixing, UTC.
        until: Timestamp,
    },
    /// Watch the foam of a bucket under vacuum, and let air in once it has fallen.
    Air {
        /// The batch, from 1.
        batch: u32,
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
        /// Time at which the resin gels, UTC.
        gels: Timestamp,
    },
    /// Look for bubbles.
    Look {
        /// Time of the next look, UTC.
        at: Timestamp,
        /// End of the watch, UTC.
        until: Timestamp,
    },
    /// Put the lid on.
    Cover {
        /// Earliest time for the lid, UTC.
        at: Timestamp,
    },
    /// Vent the pot: what is in it is hard.
    Vent {
        /// Earliest time for venting, UTC.
        at: Timestamp,
    },
    /// Look at the level, and top up what has soaked in.
    Level {
        /// Earliest time for the look, UTC.
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
    let next = |b: &Batch| match b.evacuated() {
        Some(_) => Act::Air { batch: b.number },
        None => Act::Pour { batch: b.number },
    };
    let pours = || open().filter(ready).map(next);
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
        acts.extend(fill(run, batch.number, target, order));
    }
    if run.to_come().count > 0 {
        let number = run.next_number();
        let target = Pair::of(run.next_mass(number), &run.plan.resin);
        acts.extend(fill(run, number, target, order));
    }
    if waits {
        acts.extend(pours());
    }
    after(run, &mut acts);
    acts
}

/// What goes into a bucket until A meets B: the parts, and colour after the first of them where that is
/// the resin, which leaves time to find it, else after both.
fn fill(run: &Run, batch: u32, target: Pair, order: PartOrder) -> Vec<Act> {
    let is_taken = |part| run.batch(batch).is_some_and(|begun| begun.part(part).is_some());
    let weigh =
        |part| (!is_taken(part)).then(|| Act::Weigh { batch, part, target: target.part(part) });
    // What is really in the bucket, once it is weighed.
    let mass = run.batch(batch).map_or_else(|| target.mixed(), |begun| begun.mass(&run.plan));
    let tints = run.tints(batch, mass);
    let (a, b) = (weigh(Part::A), weigh(Part::B));
    let mut acts = Vec::new();
    match order {
        PartOrder::HardenerFirst => acts.extend(b.into_iter().chain(a).chain(tints)),
        PartOrder::ResinFirst => acts.extend(a.into_iter().chain(tints).chain(b)),
    }
    acts.push(Act::Mix { batch });
    acts
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

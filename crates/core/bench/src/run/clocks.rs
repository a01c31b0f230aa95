//! What is running in a run: each clock from its beginning to its end, both UTC.

use jiff::{SignedDuration, Timestamp};

use super::state::Run;

/// What a clock is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum ClockKind {
    /// A mixed bucket: until it is too thick or too warm to pour.
    Bucket {
        /// The batch, from 1.
        batch: u32,
    },
    /// A cup of a swirl: until it is warm enough to be joined.
    Join {
        /// The batch, from 1.
        batch: u32,
    },
    /// A bucket under vacuum.
    Vacuum {
        /// The batch, from 1.
        batch: u32,
    },
    /// A bucket that is mixed.
    Mixing {
        /// The batch, from 1.
        batch: u32,
    },
    /// The layer below turns sticky: its window opens.
    Opens,
    /// The window of the layer below: it closes.
    Window,
    /// The watch for bubbles.
    Watch,
    /// The lid goes on.
    Cover,
    /// The pot: it gels.
    Pot,
    /// Bottles in warm water: as warm as the plan wants them.
    Warming,
    /// The form is kept cold: it may end.
    Chill,
}

/// Foam has risen and fallen again in this time (convention: five to ten minutes at full vacuum).
const VACUUM_TAKES: SignedDuration = SignedDuration::from_mins(8);

/// Something that is running.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Clock {
    /// What it is of.
    pub kind: ClockKind,
    /// Start of the clock, UTC.
    pub from: Timestamp,
    /// Until when; `None` for a bucket or a cup whose end is for the model to say.
    pub until: Option<Timestamp>,
}

/// What is running at a time, in order of kind.
#[must_use]
pub fn clocks(run: &Run, now: Timestamp) -> Vec<Clock> {
    if run.ended.is_some() {
        return Vec::new();
    }
    let mut all = Vec::new();
    let mut add = |kind, from, until| all.push(Clock { kind, from, until });
    for batch in run.batches.iter().filter(|batch| !batch.is_over()) {
        let Some((met, _)) = batch.met else { continue };
        // A cup that waits for the join has no other time than that one.
        let batch_waits = run.plan.join.is_some() && batch.pouring.is_none();
        let kind = match batch_waits {
            true => ClockKind::Join { batch: batch.number },
            false => ClockKind::Bucket { batch: batch.number },
        };
        add(kind, met, None);
        if let Some(begun) = batch.evacuated() {
            add(ClockKind::Vacuum { batch: batch.number }, begun, Some(begun + VACUUM_TAKES));
        }
        if batch.mixed.is_none() {
            let until = met + run.plan.mixing.signed();
            add(ClockKind::Mixing { batch: batch.number }, met, Some(until));
        }
    }
    if let Some((begun, until)) = run.warms() {
        add(ClockKind::Warming, begun, until);
    }
    if let Some((begun, until)) = run.chills() {
        add(ClockKind::Chill, begun, until);
    }
    let done = run.all_in();
    if let Some([opens, closes]) = run.plan.window.filter(|_| done.is_none()) {
        if now < opens {
            add(ClockKind::Opens, now, Some(opens));
        } else {
            add(ClockKind::Window, opens, Some(closes));
        }
    }
    if let Some(done) = done {
        let (watch, cover) = (done + run.plan.watch.signed(), done + run.plan.cover.signed());
        let gels = done + run.plan.gels.signed();
        if run.watched.is_none() && run.plan.pot_bar.is_none() {
            add(ClockKind::Watch, done, Some(watch));
        }
        if run.covered.is_none() && run.plan.pot_bar.is_none() && now < cover {
            add(ClockKind::Cover, done, Some(cover));
        }
        if run.plan.pot_bar.is_some() && run.vented.is_none() {
            add(ClockKind::Pot, done, Some(gels));
        }
    }
    all.sort_by_key(|clock| clock.kind);
    all
}

//! How long a run keeps hands busy.

use fondant_cast::ShopSettings;
use fondant_pours::WATCH_S;
use jiff::{SignedDuration, Timestamp};

use super::batch::Batch;
use super::state::Run;

/// A run in which nothing was written down for this long, and no bucket is open, is not being worked on
/// (convention).
const RESTS: SignedDuration = SignedDuration::from_hours(3);

impl Run {
    /// Until when it keeps a pair of hands busy, as the shop mixes and pours; `None` where it does not:
    /// it is over, it rests, or nobody has touched it since `last` for hours.
    #[must_use]
    pub fn hands_until(
        &self,
        shop: &ShopSettings,
        last: Timestamp,
        now: Timestamp,
    ) -> Option<Timestamp> {
        if self.ended.is_some() {
            return None;
        }
        // The first half of the watch is stood by the same hands.
        let watched = SignedDuration::from_secs(WATCH_S / 2);
        if let Some(done) = self.all_in() {
            return Some(done + watched).filter(|until| *until > now);
        }
        let is_open = |batch: &&Batch| !batch.is_over();
        let open = self.batches.iter().filter(is_open).count();
        let is_hot = self.batches.iter().filter(is_open).any(|batch| batch.met.is_some());
        let rests = self.paused.is_some() || now.duration_since(last) > RESTS;
        if rests && !is_hot {
            return None;
        }
        let buckets = open as f64 + f64::from(self.to_come().count);
        let takes = (shop.mixing_takes + shop.pouring_takes) * buckets;
        Some(now + takes.signed() + watched)
    }
}

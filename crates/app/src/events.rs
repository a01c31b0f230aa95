//! What has happened, told to every page of every process that works on these records.

use fondant_bench::reading::{Doubt, Place, Quantity};
use fondant_store::Transaction;
use fondant_store::repos::{CastId, DeviceId, RunId, WorkshopId};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use tokio::sync::broadcast;

use crate::compute::Key;
use crate::error::AppError;

/// Events that a slow page may be behind by before it is told that it missed some.
const REMEMBERED: usize = 256;

/// Something that has happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "what")]
pub enum Event {
    /// A cast, its facts or its plan have changed.
    CastChanged {
        /// Workshop that the change belongs to.
        workshop: WorkshopId,
        /// The cast.
        cast: CastId,
        /// Current revision of the cast.
        revision: i32,
    },
    /// An instrument has read something.
    Read {
        /// Workshop that the instrument belongs to.
        workshop: WorkshopId,
        /// The instrument.
        device: DeviceId,
        /// Where it reads.
        place: Place,
        /// What it reads.
        quantity: Quantity,
        /// Time of the reading, UTC.
        at: Timestamp,
        /// In the unit that the quantity is kept in.
        value: f64,
        /// Why it is doubted; `None` where it is not.
        doubt: Option<Doubt>,
    },
    /// Something happened in a run at the bench.
    RunChanged {
        /// Workshop that the change belongs to.
        workshop: WorkshopId,
        /// The cast.
        cast: CastId,
        /// The run.
        run: RunId,
    },
    /// The shop's settings, its forms or its shelf have changed.
    ShopChanged {
        /// The workshop.
        workshop: WorkshopId,
    },
    /// Readings of the shop's air have come in.
    ReadingArrived {
        /// The workshop.
        workshop: WorkshopId,
    },
    /// A job has come on or ended.
    JobProgress {
        /// Workshop that the change belongs to.
        workshop: WorkshopId,
        /// The cast that asked for it last.
        cast: CastId,
        /// The job.
        key: Key,
        /// How far it has come, thousandths; `None` where it has ended.
        permille: Option<u16>,
    },
    /// Something may have been missed: look again.
    Missed,
}

/// The events of a process.
#[derive(Debug, Clone)]
pub(crate) struct Events(broadcast::Sender<Event>);

impl Default for Events {
    fn default() -> Self {
        Self(broadcast::channel(REMEMBERED).0)
    }
}

/// Events from the moment of asking on.
#[derive(Debug)]
pub struct Subscription(broadcast::Receiver<Event>);

impl Subscription {
    /// The next event; `None` where the process ends.
    pub async fn next(&mut self) -> Option<Event> {
        match self.0.recv().await {
            Ok(event) => Some(event),
            Err(broadcast::error::RecvError::Lagged(_)) => Some(Event::Missed),
            Err(broadcast::error::RecvError::Closed) => None,
        }
    }
}

/// Tells an event once a transaction is committed.
pub(crate) async fn tell(transaction: &Transaction, event: &Event) -> Result<(), AppError> {
    let text = serde_json::to_string(event).map_err(AppError::fault)?;
    Ok(transaction.notify(&text).await?)
}

impl Events {
    /// Events from now on.
    pub(crate) fn subscribe(&self) -> Subscription {
        Subscription(self.0.subscribe())
    }

    /// Without a listener nothing happens.
    pub(crate) fn send(&self, event: Event) {
        let _ = self.0.send(event);
    }
}

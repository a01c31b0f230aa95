//! How a process hears what has happened.

use std::time::Duration;

use fondant_store::RawEvent;
use tokio_util::sync::CancellationToken;

use crate::app::App;
use crate::error::AppError;
use crate::events::{Event, Subscription};

/// Between two tries to reach the records.
const RETRY: Duration = Duration::from_secs(2);

impl App {
    /// Events from now on.
    #[must_use]
    pub fn subscribe(&self) -> Subscription {
        self.events.subscribe()
    }

    /// Listens to what all processes tell, and passes it on to who subscribes here, until it is
    /// ended. An outage of the records is waited out.
    pub async fn listen(self, end: CancellationToken) {
        let pass_on = async {
            loop {
                if let Err(error) = self.pass_on().await {
                    tracing::warn!(%error, "events cannot be heard");
                }
                self.events.send(Event::Missed);
                tokio::time::sleep(RETRY).await;
            }
        };
        tokio::select! {
            () = pass_on => {}
            () = end.cancelled() => {}
        }
    }

    async fn pass_on(&self) -> Result<(), AppError> {
        let mut stream = self.store.listen().await?;
        // Subscribers from before this process listened may have missed something.
        self.events.send(Event::Missed);
        loop {
            let event = match stream.next().await? {
                RawEvent::Missed => Event::Missed,
                RawEvent::Told(text) => match serde_json::from_str(&text) {
                    Ok(event) => event,
                    Err(error) => {
                        tracing::warn!(%error, "an event of another version");
                        Event::Missed
                    }
                },
            };
            self.events.send(event);
        }
    }
}

//! What happens, as it happens: server-sent events for the pages of all processes.

use std::convert::Infallible;
use std::time::Duration;

use axum::Router;
use axum::extract::{Query, State};
use axum::response::sse::{Event as Sent, KeepAlive, KeepAliveStream, Sse};
use fondant_app::records::{CastId, RunId, WorkshopId};
use fondant_app::{App, Event, Subscription, casts};
use fondant_bench::reading::{Doubt, Place, Quantity};
use serde::{Deserialize, Serialize};
use tokio::sync::mpsc::{self, Sender};
use tokio_stream::wrappers::ReceiverStream;
use tokio_util::sync::CancellationToken;

use crate::Web;
use crate::paths::shop::Events;
use crate::routing::Routes;
use crate::ui::error::WebError;

/// Between signs of life, so that a connection that is gone is noticed.
const SIGN_OF_LIFE: Duration = Duration::from_secs(15);
/// Events that may wait for a slow browser.
const WAITING: usize = 32;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(follow)
}

#[derive(Debug, Deserialize)]
struct Followed {
    /// The cast that the page shows.
    cast: Option<i64>,
}

/// Message to a browser.
#[derive(Debug, Serialize)]
#[serde(rename_all = "snake_case", tag = "what")]
enum Heard {
    /// A cast is at this revision: the one that the page shows first, so that a change between
    /// page and stream is noticed.
    Cast { cast: CastId, revision: i32 },
    /// Something happened in a run at the bench.
    Run { cast: CastId, run: RunId },
    /// An instrument has read something, in the unit that is kept.
    Read { place: Place, quantity: Quantity, value: f64, doubt: Option<Doubt> },
    /// The shop, its forms or its shelf have changed.
    Shop,
    /// The shop's air has changed.
    Air,
    /// Something may have been missed.
    Missed,
}

type Stream = ReceiverStream<Result<Sent, Infallible>>;

async fn follow(
    _: Events,
    State(web): State<Web>,
    Query(followed): Query<Followed>,
) -> Result<Sse<KeepAliveStream<Stream>>, WebError> {
    // Subscribed first: what happens while the cast is read is heard twice at most.
    let events = web.app.subscribe();
    let (workshop, first) = begin(&web.app, followed).await?;
    let (sender, receiver) = mpsc::channel(WAITING);
    tokio::spawn(pass_on(events, (workshop, first), sender, web.end.clone()));
    let stream = Sse::new(ReceiverStream::new(receiver));
    Ok(stream.keep_alive(KeepAlive::new().interval(SIGN_OF_LIFE)))
}

async fn begin(app: &App, followed: Followed) -> Result<(WorkshopId, Option<Heard>), WebError> {
    let Some(cast) = followed.cast.map(CastId) else {
        return Ok((app.shop().await?.id, None));
    };
    let open = casts::open(app, cast).await?;
    let first = Heard::Cast { cast, revision: open.record.revision };
    Ok((open.shop.id, Some(first)))
}

/// Sends events until the browser has gone or the server ends.
async fn pass_on(
    mut events: Subscription,
    (workshop, first): (WorkshopId, Option<Heard>),
    browser: Sender<Result<Sent, Infallible>>,
    end: CancellationToken,
) {
    if let Some(first) = first
        && !send(&browser, &first).await
    {
        return;
    }
    loop {
        let event = tokio::select! {
            event = events.next() => event,
            () = end.cancelled() => return,
            () = browser.closed() => return,
        };
        let Some(event) = event else { return };
        if let Some(heard) = heard(&event, workshop)
            && !send(&browser, &heard).await
        {
            return;
        }
    }
}

/// What of an event concerns a browser that shows this workshop.
fn heard(event: &Event, ours: WorkshopId) -> Option<Heard> {
    match *event {
        Event::CastChanged { workshop, cast, revision } if workshop == ours => {
            Some(Heard::Cast { cast, revision })
        }
        Event::RunChanged { workshop, cast, run } if workshop == ours => {
            Some(Heard::Run { cast, run })
        }
        Event::Read { workshop, place, quantity, value, doubt, .. } if workshop == ours => {
            Some(Heard::Read { place, quantity, value, doubt })
        }
        Event::ShopChanged { workshop } if workshop == ours => Some(Heard::Shop),
        Event::ReadingArrived { workshop } if workshop == ours => Some(Heard::Air),
        Event::Missed => Some(Heard::Missed),
        _ => None,
    }
}

/// Whether the browser is still there.
async fn send(browser: &Sender<Result<Sent, Infallible>>, heard: &Heard) -> bool {
    match Sent::default().json_data(heard) {
        Ok(sent) => browser.send(Ok(sent)).await.is_ok(),
        Err(error) => {
            tracing::warn!(%error, "an event cannot be written");
            true
        }
    }
}

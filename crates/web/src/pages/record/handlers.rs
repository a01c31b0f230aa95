//! What is done at the station: the cast closed, worked on again, faults marked and explained.

use axum::Router;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::records::CastId;
use fondant_app::{App, AppError, Request, ending};

use crate::Web;
use crate::pages::stations::asked::Looking;
use crate::pages::stations::record::form;
use crate::pages::workspace::answer::{Asking, Late, Showing, answer};
use crate::paths::casts::{ChangeFault, CloseCast, MarkFault, ReopenCast, Station};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::slug::named;

type Answer = Result<Response, WebError>;

const STATION: &str = "record";

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_post(close).typed_post(reopen).typed_post(mark).typed_post(change)
}

const fn asking(cast: CastId) -> Asking<'static> {
    Asking {
        cast,
        station: STATION,
        looking: Looking { section: None, cut: None },
        is_fragment: false,
    }
}

fn back(cast: CastId) -> Answer {
    Ok(Redirect::to(&Station::of(cast, STATION).to_string()).into_response())
}

async fn refused(app: &App, cast: CastId, typed: &Entries, refusals: &Refusals) -> Answer {
    answer(app, asking(cast), Showing::Refused { typed, refusals, marks: &[] }).await
}

async fn close(
    CloseCast { cast }: CloseCast,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    let told = match form::told(&entries, &shop, app.now()) {
        Ok(told) => told,
        Err(refusals) => return refused(&app, cast, &entries, &refusals).await,
    };
    let seen = form::seen(&entries)?;
    match ending::close(&app, cast, seen, told).await {
        Ok(()) => back(cast),
        Err(AppError::Stale { .. }) => {
            let late = Late::Form { typed: &entries, expected: seen.cast };
            answer(&app, asking(cast), Showing::Late(late)).await
        }
        Err(error) => Err(error.into()),
    }
}

async fn reopen(
    ReopenCast { cast }: ReopenCast,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    ending::reopen(&app, cast, form::seen(&entries)?).await?;
    back(cast)
}

async fn mark(
    MarkFault { cast }: MarkFault,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    let fault = match form::fault(&entries, &shop) {
        Ok(fault) => fault,
        Err(refusals) => return refused(&app, cast, &entries, &refusals).await,
    };
    ending::mark(&app, cast, &fault, &Request::keyed(entries.get("request"))).await?;
    back(cast)
}

/// A fault taken back, its cause confirmed, or not known after all.
async fn change(
    ChangeFault { cast, fault }: ChangeFault,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    match entries.get("do") {
        Some("unmark") => ending::unmark(&app, cast, fault).await?,
        Some("unsure") => ending::confirm(&app, cast, (fault, None)).await?,
        _ => {
            let cause = named(entries.get("cause").unwrap_or_default());
            let cause = cause.ok_or(WebError::BadForm("no such cause".into()))?;
            ending::confirm(&app, cast, (fault, Some(cause))).await?;
        }
    }
    back(cast)
}

//! What is done at the station Finish: steps started, stopped, typed, remarked on and taken back.

use axum::Router;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::{App, Request, finishing};
use fondant_finish::steps::chosen;
use fondant_quantities::Span;

use crate::Web;
use crate::pages::stations::asked::{Looking, Visit};
use crate::pages::stations::finish::form;
use crate::pages::workspace::answer::{Asking, Showing, answer};
use crate::paths::casts::{Station, TellFinish};
use crate::routing::Routes;
use crate::ui::entries::Refusals;
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::words::finishing::refused;

const STATION: &str = "finish";

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_post(tell)
}

async fn tell(
    TellFinish { cast }: TellFinish,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let looking = Looking { section: None, cut: None };
    let visit = Visit::of(&app, cast, looking).await?;
    let known = finishing::finishing(&app, &visit.open).await?;
    let steps = form::planned(&visit, chosen(&visit.open.record.document, &known.work));
    let planned = |kind| {
        steps.iter().find(|(step, _)| *step == kind).map_or(Span::ZERO, |(_, planned)| *planned)
    };
    let written = match form::told(&entries, planned) {
        Err(refusals) => Err(refusals),
        Ok(told) => {
            let request = Request::keyed(entries.get("request"));
            let answer = finishing::tell_of(&app, cast, &told, &request).await?;
            answer.map_err(|why| Refusals::at(&form::field_of(&told, why), refused(why)))
        }
    };
    match written {
        Ok(()) => Ok(Redirect::to(&Station::of(cast, STATION).to_string()).into_response()),
        Err(refusals) => {
            let asking = Asking { cast, station: STATION, looking, is_fragment: false };
            let showing = Showing::Refused { typed: &entries, refusals: &refusals, marks: &[] };
            answer(&app, asking, showing).await
        }
    }
}

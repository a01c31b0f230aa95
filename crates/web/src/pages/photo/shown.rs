//! A photo of a step of finishing, or of a fault, kept with it.

use axum::Router;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_typed_multipart::TryFromMultipart;
use fondant_app::casts::{self, photos};
use fondant_app::records::{CastId, Shows};
use fondant_app::{App, Request};
use fondant_files::PHOTO_LIMIT;

use crate::Web;
use crate::pages::stations::asked::Looking;
use crate::pages::workspace::answer::{Asking, Showing, answer};
use crate::paths::casts::{ShowFault, ShowStep, Station};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::slug::named;
use crate::ui::upload::{File, Uploaded};
use crate::words::files;

type Answer = Result<Response, WebError>;

/// Routes that take files.
pub(crate) fn uploads() -> Router<Web> {
    Router::new().typed_post(of_step).typed_post(of_fault)
}

#[derive(TryFromMultipart)]
struct ShownForm {
    photo: File<PHOTO_LIMIT>,
    request: Option<String>,
    step: Option<String>,
}

async fn of_step(
    ShowStep { cast }: ShowStep,
    State(app): State<App>,
    form: Uploaded<ShownForm>,
) -> Answer {
    let slug = form.data.step.clone().unwrap_or_default();
    let step = named(&slug).ok_or(WebError::NotFound("step"))?;
    let place = format!("photo-step-{slug}");
    kept(&app, cast, form.data, ("finish", Shows::Step(step), place)).await
}

async fn of_fault(
    ShowFault { cast, fault }: ShowFault,
    State(app): State<App>,
    form: Uploaded<ShownForm>,
) -> Answer {
    let place = format!("photo-fault-{fault}");
    kept(&app, cast, form.data, ("record", Shows::Fault(fault), place)).await
}

/// Keeps the photo, and shows the place on its station to which it belongs.
async fn kept(
    app: &App,
    cast: CastId,
    form: ShownForm,
    (station, shows, place): (&'static str, Shows, String),
) -> Answer {
    let open = casts::open(app, cast).await?;
    let request = Request::keyed(form.request.as_deref());
    let added = match form.photo.bytes() {
        Ok(bytes) => photos::add(app, &open, (bytes, shows), &request).await?,
        Err(error) => Err(error),
    };
    match added {
        Ok(_) => {
            let address = Station::of(cast, station);
            let to = format!("{address}#{place}");
            Ok(Redirect::to(&to).into_response())
        }
        Err(error) => {
            let looking = Looking::default();
            let asking = Asking { cast, station, looking, is_fragment: false };
            let refusals = Refusals::at(&place, files::file(&error));
            let typed = Entries::default();
            let showing = Showing::Refused { typed: &typed, refusals: &refusals, marks: &[] };
            answer(app, asking, showing).await
        }
    }
}

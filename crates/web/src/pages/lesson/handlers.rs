//! Calibration from a cup's log: preview, then save.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::records::{Asked as CastsAsked, CastSummary};
use fondant_app::{App, AppError, Request, Shop, casts, shelf};
use fondant_materials::resin::Record;

use super::form::{Asked, Logs, read};
use super::view::{LessonPage, Showing, Taught};
use crate::Web;
use crate::paths::shop::{AcceptLesson, Lesson, Resin};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::{InUnits, Shown};
use crate::words::{calibration, trouble};

type Answer = Result<Response, WebError>;

/// Routes that take a log.
pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(try_log).typed_post(accept)
}

/// A resin, and the casts that a lesson can be told of: the last ones.
struct Visit {
    shop: Shop,
    casts: Vec<CastSummary>,
    resin: Record,
    revision: i32,
}

impl Visit {
    async fn of(app: &App, id: &str) -> Result<Self, WebError> {
        let shop = app.shop().await?;
        let resin = shelf::find(&shop, id)?.resin.clone();
        let casts = casts::list(app, &shop, &CastsAsked::default()).await?.casts;
        let revision = shelf::own(app, &shop, id).await?.map_or(0, |kept| kept.revision);
        Ok(Self { shop, casts, resin, revision })
    }

    fn page(&self, entries: &Entries, refusals: &Refusals, taught: Option<Taught>) -> Answer {
        let status =
            if refusals.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        let page = LessonPage::new(Showing {
            shop: &self.shop,
            casts: &self.casts,
            resin: &self.resin,
            entries,
            refusals,
            taught,
            revision: self.revision,
            request: Request::new_key()?,
        });
        Ok((status, page).into_response())
    }

    /// What was asked; the inner error is what was refused.
    async fn read(
        &self,
        app: &App,
        entries: &Entries,
    ) -> Result<Result<Asked, Refusals>, AppError> {
        let logs = Logs::of(app, entries, self.shop.shown()).await?;
        let mut reader = Reader::new(entries, self.shop.shown().system);
        let asked = read(&mut reader, &self.shop, &self.resin, &self.casts, logs);
        Ok(asked.ok_or(reader.refusals))
    }
}

async fn show(Lesson { resin }: Lesson, State(app): State<App>) -> Answer {
    let visit = Visit::of(&app, &resin).await?;
    visit.page(&Entries::default(), &Refusals::none(), None)
}

/// Previews the calibration from a log.
async fn try_log(
    Lesson { resin }: Lesson,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let visit = Visit::of(&app, &resin).await?;
    let asked = match visit.read(&app, &entries).await? {
        Ok(asked) => asked,
        Err(refusals) => return visit.page(&entries, &refusals, None),
    };
    match taught(&app, asked, visit.shop.shown(), &entries).await? {
        Ok(taught) => visit.page(&entries, &Refusals::none(), Some(taught)),
        Err(sentence) => visit.page(&entries, &Refusals::at("log", sentence), None),
    }
}

async fn taught(
    app: &App,
    asked: Asked,
    shown: Shown,
    entries: &Entries,
) -> Result<Result<Taught, String>, AppError> {
    let lesson = match shelf::lesson(app, asked.read.clone()).await? {
        Ok(lesson) => lesson,
        Err(refusal) => return Ok(Err(calibration::refusal(&refusal, shown))),
    };
    let copied = entries.clone();
    let told = app.compute_beside(move |stop| {
        Taught::of(&asked, &lesson, (shown, &copied), stop)
            .map_err(|error| trouble::heat(&error, shown))
    });
    told.await
}

/// Saves the calibration from a log, with its lot and date.
async fn accept(
    AcceptLesson { resin }: AcceptLesson,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let visit = Visit::of(&app, &resin).await?;
    let asked = match visit.read(&app, &entries).await? {
        Ok(asked) => asked,
        Err(refusals) => return visit.page(&entries, &refusals, None),
    };
    let request = Request::keyed(entries.get("request"));
    let expected = entries.number("revision").unwrap_or_default();
    let log = (asked.read, asked.lot);
    match shelf::accept_lesson(&app, &visit.shop, log, (expected, &request)).await? {
        Ok(()) => Ok(Redirect::to(&Resin { resin }.to_string()).into_response()),
        Err(refusal) => {
            let sentence = calibration::refusal(&refusal, visit.shop.shown());
            visit.page(&entries, &Refusals::at("log", sentence), None)
        }
    }
}

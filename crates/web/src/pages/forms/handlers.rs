//! Forms shown, added, changed, removed, booked for a cast.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::forms::{self, Booking};
use fondant_app::records::FormId;
use fondant_app::{App, AppError, Request};

use super::form::read;
use super::view::{FormsPage, Refused};
use crate::Web;
use crate::paths::casts::{BookForm, Station};
use crate::paths::shop::{Form, Forms, RemoveForm};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(show)
        .typed_post(add)
        .typed_post(save)
        .typed_post(remove)
        .typed_post(book)
}

async fn show(_: Forms, State(app): State<App>) -> Answer {
    page(&app, None).await
}

async fn page(app: &App, refused: Option<Refused<'_>>) -> Answer {
    let shop = app.shop().await?;
    let forms = forms::all(app, &shop).await?;
    let status = if refused.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    let page = FormsPage::new(&shop, &forms, refused.as_ref(), Request::new_key()?);
    Ok((status, page).into_response())
}

fn list() -> Answer {
    Ok(Redirect::to(&Forms.to_string()).into_response())
}

async fn add(_: Forms, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let form = read(&mut reader, None);
    let refusals = reader.refusals;
    if !refusals.is_empty() {
        return page(
            &app,
            Some(Refused { id: None, entries: &entries, refusals: &refusals, notice: "" }),
        )
        .await;
    }
    forms::add(&app, &shop, &form, &Request::keyed(entries.get("request"))).await?;
    list()
}

const STALE: &str = "This form was changed in another tab since you opened it here. Your entries are \
    still in the fields; keep them once more to put them over it.";

async fn save(Form { form: id }: Form, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let form = read(&mut reader, Some(id));
    if !reader.refusals.is_empty() {
        return refused(&app, id, &entries, &reader.refusals, "").await;
    }
    let expected = entries.number("revision").unwrap_or_default();
    match forms::save(&app, &shop, (id, expected), &form).await {
        Ok(()) => list(),
        Err(AppError::Stale { .. }) => refused(&app, id, &entries, &Refusals::none(), STALE).await,
        Err(error) => Err(error.into()),
    }
}

async fn refused(
    app: &App,
    id: FormId,
    entries: &Entries,
    refusals: &Refusals,
    notice: &str,
) -> Answer {
    page(app, Some(Refused { id: Some(id), entries, refusals, notice })).await
}

async fn remove(RemoveForm { form }: RemoveForm, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    forms::remove(&app, &shop, form).await?;
    list()
}

/// A cast books a form, or lets go of the one it has: an empty value says so.
async fn book(
    BookForm { cast }: BookForm,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Redirect, WebError> {
    let booking = match entries.get("form") {
        Some("") => Booking::LetGo,
        Some(text) => {
            let form = text.parse().map_err(|_| WebError::BadForm(format!("no form “{text}”")))?;
            Booking::Take(FormId(form))
        }
        None => return Err(WebError::BadForm("no form".to_owned())),
    };
    forms::book(&app, cast, booking).await?;
    Ok(Redirect::to(&format!("{}#build", Station::of(cast, "form"))))
}

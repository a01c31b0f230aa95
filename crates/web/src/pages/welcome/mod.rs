//! The first visit: whose workshop this is. Everything else can wait for the first cast.

mod form;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::App;
use fondant_app::beginning::{self, NewWorkshop};

use crate::Web;
use crate::paths::casts::{Casts, NewCast};
use crate::paths::shop::Welcome;
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::field::Field;
use crate::ui::page::{Page, Place, Script};

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(begin)
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/welcome/welcome.html")]
struct WelcomePage {
    page: Page,
    fields: Vec<Field>,
}

impl WelcomePage {
    fn new(typed: Option<&Entries>, refusals: &Refusals) -> Self {
        let page = Page::new("Welcome", Place::Elsewhere).with(&[Script::Module("/welcome.js")]);
        Self { page, fields: form::fields(typed, refusals) }
    }
}

async fn show(_: Welcome, State(app): State<App>) -> Result<Response, WebError> {
    if beginning::has_begun(&app).await? {
        return Ok(Redirect::to(&Casts.to_string()).into_response());
    }
    Ok(WelcomePage::new(None, &Refusals::none()).into_response())
}

/// Makes the workshop. Where somebody else has made one meanwhile, that one stays.
async fn begin(
    _: Welcome,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    match form::read(&entries) {
        Ok(settings) => {
            let begun = beginning::begin(&app, &NewWorkshop::empty(settings)).await?;
            let to = if begun.is_some() { NewCast.to_string() } else { Casts.to_string() };
            Ok(Redirect::to(&to).into_response())
        }
        Err(refusals) => {
            let page = WelcomePage::new(Some(&entries), &refusals);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

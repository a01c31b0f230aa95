//! A log of the shop's air looked at, kept, withdrawn; the room fitted to the logs.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::records::KeptLog;
use fondant_app::settings::{self, NotFitted};
use fondant_app::{App, Request, Shop};
use fondant_files::FileError;
use fondant_files::logs::DateOrder;
use fondant_files::logs::air::{AirLogError, ReadAir};

use super::form;
use super::view::{LogPage, Look, says_fit};
use crate::Web;
use crate::paths::shop::{FitRoom, KeepLog, ShopLog, WithdrawLog};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::units::InUnits;
use crate::words::{air, files};

type Answer = Result<Response, WebError>;

/// Routes that take a log.
pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(show)
        .typed_post(look)
        .typed_post(keep)
        .typed_post(withdraw)
        .typed_post(fit)
}

/// The shop with its logs.
struct Visit {
    shop: Shop,
    logs: Vec<KeptLog>,
}

impl Visit {
    async fn of(app: &App) -> Result<Self, WebError> {
        let shop = app.shop().await?;
        let logs = settings::logs(app, &shop).await?;
        Ok(Self { shop, logs })
    }

    fn page(&self, look: &Look<'_>) -> Answer {
        let status = match look.refusals.is_empty() {
            true => StatusCode::OK,
            false => StatusCode::UNPROCESSABLE_ENTITY,
        };
        let page = LogPage::new(&self.shop, &self.logs, look, Request::new_key()?);
        Ok((status, page).into_response())
    }

    fn refused(&self, typed: Option<&Entries>, (field, sentence): (&str, String)) -> Answer {
        let refusals = Refusals::at(field, sentence);
        self.page(&Look { typed, refusals: &refusals, ..Look::default() })
    }

    /// Reads the log that was typed; the inner error is what to say, and at which field.
    async fn read(
        &self,
        app: &App,
        entries: &Entries,
    ) -> Result<Result<ReadAir, (&'static str, String)>, WebError> {
        let text = entries.get("log").unwrap_or_default();
        let mut options = match form::read(entries, &self.shop, app.now()) {
            Ok(options) => options,
            Err(sentence) => return Ok(Err(("hours", sentence))),
        };
        let bytes = text.as_bytes().to_vec();
        let mut read = app.read_air(options.clone(), bytes.clone()).await?;
        if let Ok(Err(AirLogError::EitherOrder { heading, .. })) = &read
            && let Some(known) = self.known_order(heading)
        {
            options.order = Some(known);
            read = app.read_air(options, bytes).await?;
        }
        let shown = self.shop.shown();
        Ok(match read {
            Ok(Ok(read)) => Ok(read),
            Ok(Err(error)) => Err(("log", air::log(&error, shown))),
            Err(FileError::Empty) => Err(("log", air::log(&AirLogError::Empty, shown))),
            Err(error) => Err(("log", files::file(&error))),
        })
    }

    /// The order of dates that was told of a log with the same heading.
    fn known_order(&self, heading: &str) -> Option<DateOrder> {
        let before = |log: &&KeptLog| {
            log.heading == heading && !heading.is_empty() && log.date_order.is_some()
        };
        let word = self.logs.iter().find(before)?.date_order.clone()?;
        form::ORDERS.iter().find(|order| order.0 == word).and_then(|order| order.2)
    }
}

async fn show(_: ShopLog, State(app): State<App>) -> Answer {
    Visit::of(&app).await?.page(&Look::default())
}

/// Shows a log before it is kept.
async fn look(_: ShopLog, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app).await?;
    match visit.read(&app, &entries).await? {
        Ok(read) => {
            visit.page(&Look { typed: Some(&entries), read: Some(&read), ..Look::default() })
        }
        Err(refused) => visit.refused(Some(&entries), refused),
    }
}

/// Keeps a log.
async fn keep(_: KeepLog, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app).await?;
    match visit.read(&app, &entries).await? {
        Ok(read) => {
            let told = form::told(&entries).or(read.order).map(form::word);
            let request = Request::keyed(entries.get("request"));
            settings::keep_log(&app, &visit.shop, (&read, told), &request).await?;
            Ok(Redirect::to(&ShopLog.to_string()).into_response())
        }
        Err(refused) => visit.refused(Some(&entries), refused),
    }
}

/// Takes a log out again.
async fn withdraw(WithdrawLog { log }: WithdrawLog, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    settings::withdraw_log(&app, &shop, log).await?;
    Ok(Redirect::to(&ShopLog.to_string()).into_response())
}

/// Fits the room to the shop's readings and takes it for the air.
async fn fit(_: FitRoom, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let visit = Visit::of(&app).await?;
    match settings::fit_room(&app, &visit.shop, expected(&entries)?).await? {
        Ok(fitted) => {
            let done = says_fit(&fitted, visit.shop.shown());
            Visit::of(&app).await?.page(&Look { done, ..Look::default() })
        }
        Err(NotFitted::NoForecast) => {
            let sentence = "The forecast cannot be reached, so there is nothing to fit the room to. \
                            Try again later.";
            visit.refused(None, ("log", sentence.to_owned()))
        }
        Err(NotFitted::Fit(error)) => visit.refused(None, ("log", air::fit(&error))),
    }
}

//! The shop shown and saved; its calendar's address; the forecast as its source gives it.

use axum::Router;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::{App, AppError, settings};

use super::form::read;
use super::view::{Beside, ShopPage};
use crate::paths::shop::{Feed, RenewFeed, Shop, Weather};
use crate::routing::Routes;
use crate::ui::entries::Refusals;
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::{Settings, Web};

type Answer = Result<Response, WebError>;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(save).typed_post(renew_feed).typed_get(weather)
}

async fn show(_: Shop, State(app): State<App>, State(settings): State<Settings>) -> Answer {
    let shop = app.shop().await?;
    let beside = beside(&app, &settings, &shop).await?;
    Ok(ShopPage::new((&shop, app.now()), None, &Refusals::none(), beside).into_response())
}

async fn beside(
    app: &App,
    settings: &Settings,
    shop: &fondant_app::Shop,
) -> Result<Beside, WebError> {
    let token = settings::feed_token(app, shop).await?;
    Ok(Beside {
        readings: settings::readings(app, shop).await?,
        feed: format!("{}{}", settings.address(), Feed { token }),
    })
}

async fn save(
    _: Shop,
    State(app): State<App>,
    State(settings): State<Settings>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let read = read(&mut reader, &shop.workshop.settings);
    if !reader.refusals.is_empty() {
        let beside = beside(&app, &settings, &shop).await?;
        let typed = Some(&entries);
        let page = ShopPage::new((&shop, app.now()), typed, &reader.refusals, beside);
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let expected = expected(&entries)?;
    match settings::save(&app, shop.id, expected, &read).await {
        Ok(_) => Ok(Redirect::to(&Shop.to_string()).into_response()),
        Err(AppError::Stale { current, .. }) => {
            let beside = beside(&app, &settings, &shop).await?;
            let typed = Some(&entries);
            let page = ShopPage::new((&shop, app.now()), typed, &Refusals::none(), beside);
            Ok((StatusCode::CONFLICT, page.late(expected, current)).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// Gives the calendar a new private address.
async fn renew_feed(_: RenewFeed, State(app): State<App>) -> Result<Redirect, WebError> {
    let shop = app.shop().await?;
    settings::renew_feed(&app, &shop).await?;
    Ok(Redirect::to(&format!("{Shop}#calendar")))
}

async fn weather(_: Weather, State(app): State<App>) -> Answer {
    let document = app.weather_document()?;
    Ok(([(header::CONTENT_TYPE, "application/json")], document).into_response())
}

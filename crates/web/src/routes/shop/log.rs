//! A logger's file brought in, and the room fitted to what it wrote.

use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_heat::climate::indoor::Indoor;
use fondant_heat::climate::logger::{Clock, read};
use fondant_heat::climate::profile::Profile;
use jiff::SignedDuration;
use jiff::tz::TimeZone;

use crate::entries::{Entries, Refusals};
use crate::routes::extract::Typed;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::format::{Shown, span};
use crate::{AppState, WebError};

/// The room is fitted to readings of so long.
const FITTED_TO: SignedDuration = SignedDuration::from_hours(10 * 24);

/// What is known of the shop's log.
#[derive(Default)]
pub(super) struct LogView {
    pub(super) says: String,
    pub(super) can_fit: bool,
}

impl LogView {
    pub(super) async fn read(state: &AppState, shop: &Shop) -> Result<Self, WebError> {
        let readings = state.store.air_since(shop.id, state.now() - FITTED_TO * 9).await?;
        let (Some(first), Some(last)) = (readings.first(), readings.last()) else {
            return Ok(Self { says: "No log has been brought in yet.".to_owned(), can_fit: false });
        };
        let zone = shop.hours.zone();
        let says = format!(
            "{} quarter-hour readings, {} to {}.",
            readings.len(),
            shop.shown.date_and_time(first.at, zone),
            shop.shown.date_and_time(last.at, zone)
        );
        Ok(Self { says, can_fit: true })
    }
}

#[derive(Template)]
#[template(path = "shop_log.html")]
struct LogPage {
    title: &'static str,
    place: &'static str,
    text: String,
    refusal: String,
    fields: Vec<Field>,
    done: String,
}

impl LogPage {
    fn new(shop: &Shop, typed: Option<&Entries>, refusals: &Refusals) -> Self {
        let fields = Fields { shown: shop.shown, typed, refusals };
        let clocks = [
            ("written", "As written in the file (Z or +01:00)"),
            ("shop", "On the shop's clock"),
            ("utc", "In UTC"),
        ];
        let value =
            |name: &str, usual: &str| typed.and_then(|t| t.get(name)).unwrap_or(usual).to_owned();
        Self {
            title: "A log of the shop's air",
            place: "shop",
            text: typed.and_then(|t| t.get("log")).unwrap_or_default().to_owned(),
            refusal: refusals.of("log"),
            fields: vec![
                fields.choice("clock", "Its times are", &value("clock", "written"), &clocks),
                fields.choice(
                    "scale",
                    "Its temperatures are in",
                    &value("scale", "c"),
                    &[("c", "°C"), ("f", "°F")],
                ),
            ],
            done: String::new(),
        }
    }
}

/// The page on which a log is brought in.
pub(in crate::routes) async fn show(State(state): State<AppState>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    Ok(Html(LogPage::new(&shop, None, &Refusals::default()).render()?).into_response())
}

/// Brings a log in.
pub(in crate::routes) async fn add(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let clock = match entries.get("clock") {
        Some("shop") => Clock::Of(shop.hours.zone().clone()),
        Some("utc") => Clock::Of(TimeZone::UTC),
        _ => Clock::Written,
    };
    let text = entries.get("log").unwrap_or_default().to_owned();
    let is_fahrenheit = entries.get("scale") == Some("f");
    let log = state.compute(move || read(&text, &clock, is_fahrenheit)).await?;
    match log {
        Ok(log) => {
            state.store.add_air(shop.id, &log.readings).await?;
            // The settings stay; a new revision lets the air be worked out anew.
            let settings = &shop.workshop.settings;
            state.store.save_workshop(shop.id, shop.workshop.revision, settings).await?;
            super::refresh_agendas(&state);
            let mut page = LogPage::new(&shop, None, &Refusals::default());
            page.done = told(&log, &shop);
            Ok(Html(page.render()?).into_response())
        }
        Err(error) => {
            let mut refusals = Refusals::default();
            refusals.add("log", error.to_string());
            let page = LogPage::new(&shop, Some(&entries), &refusals).render()?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page)).into_response())
        }
    }
}

fn told(log: &fondant_heat::climate::logger::AirLog, shop: &Shop) -> String {
    let (shown, zone) = (shop.shown, shop.hours.zone());
    let gaps = match log.gaps.first() {
        None => String::new(),
        Some((from, to)) => format!(
            " {} without a reading, the first from {} to {}: the shop's usual day stands there.",
            if log.gaps.len() == 1 {
                "One stretch".to_owned()
            } else {
                format!("{} stretches", log.gaps.len())
            },
            shown.date_and_time(*from, zone),
            shown.date_and_time(*to, zone)
        ),
    };
    let dry = if log.lacks_humidity { " It has no humidity; 55 % stands for it." } else { "" };
    format!("{} rows were read into {} quarter hours.{gaps}{dry}", log.rows, log.readings.len())
}

/// Fits the room to the shop's readings and takes it for the air.
pub(in crate::routes) async fn fit(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let readings = state.store.air_since(shop.id, state.now() - FITTED_TO).await?;
    let start = match shop.workshop.settings.shop.air {
        Profile::Forecast { indoor } => indoor,
        _ => Indoor::default(),
    };
    let outside = state.outside();
    let fitted = state
        .compute(move || {
            let outside = outside.ok_or_else(|| {
                "The forecast cannot be reached, so there is nothing to fit the room to. Try again later."
                    .to_owned()
            })?;
            start.fit(&outside, &readings).map_err(|error| error.to_string())
        })
        .await?;
    let mut page = LogPage::new(&shop, None, &Refusals::default());
    match fitted {
        Ok(fitted) => {
            let mut settings = shop.workshop.settings.clone();
            settings.shop.air = Profile::Forecast { indoor: fitted.indoor };
            let expected = entries.number("revision").unwrap_or(shop.workshop.revision);
            state.store.save_workshop(shop.id, expected, &settings).await?;
            super::refresh_agendas(&state);
            page.done = says_fit(&fitted, shop.shown);
            Ok(Html(page.render()?).into_response())
        }
        Err(sentence) => {
            page.refusal = sentence;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page.render()?)).into_response())
        }
    }
}

fn says_fit(fitted: &fondant_heat::climate::indoor::Fitted, shown: Shown) -> String {
    format!(
        "The room is {} warmer than outside and {} late; that meets {} readings to {}. The air is \
         now the forecast through this room.",
        shown.degrees(fitted.indoor.offset.k()),
        span(fitted.indoor.lag),
        fitted.readings,
        shown.degrees(fitted.rms_k)
    )
}

/// The forecast as its source gives it.
pub(in crate::routes) async fn forecast(
    State(state): State<AppState>,
) -> Result<Response, WebError> {
    let document = state.forecast_document()?;
    Ok(([(axum::http::header::CONTENT_TYPE, "application/json")], document).into_response())
}

/// Gives the calendar a new private address.
pub(in crate::routes) async fn renew_feed(
    State(state): State<AppState>,
) -> Result<Redirect, WebError> {
    let shop = state.shop().await?;
    state.store.set_feed_token(shop.id, &crate::routes::feed::new_token()?).await?;
    Ok(Redirect::to("/shop#calendar"))
}

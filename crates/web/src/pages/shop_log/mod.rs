//! A log of the shop's air brought in, and the room fitted to it.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum_extra::routing::RouterExt;
use fondant_app::settings::{self, NotFitted};
use fondant_app::{App, Shop};
use fondant_files::logs::Scale;
use fondant_files::logs::air::{Clock, read};
use fondant_heat::climate::indoor::Fitted;
use fondant_heat::climate::log::AirLog;
use jiff::tz::TimeZone;

use crate::Web;
use crate::paths::shop::{FitRoom, ShopLog};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::field::{Field, Fields};
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown, span};
use crate::words::air;

type Answer = Result<Response, WebError>;

/// Routes that take a log.
pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show).typed_post(add).typed_post(fit)
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/shop_log/shop_log.html")]
struct LogPage {
    page: Page,
    text: String,
    refusal: String,
    fields: Vec<Field>,
    done: String,
}

const CLOCKS: [(&str, &str); 3] = [
    ("written", "As written in the file (Z or +01:00)"),
    ("shop", "On the shop's clock"),
    ("utc", "In UTC"),
];

impl LogPage {
    fn new(shop: &Shop, typed: Option<&Entries>, refusals: &Refusals) -> Self {
        let fields = Fields { shown: shop.shown(), typed, refusals };
        let scales = [("c", "°C"), ("f", "°F")];
        Self {
            page: Page::new("A log of the shop's air", Place::Shop)
                .with(&[Script::Module("/file_box.js")]),
            text: typed.and_then(|typed| typed.get("log")).unwrap_or_default().to_owned(),
            refusal: refusals.of("log"),
            fields: vec![
                fields.choice("clock", "Its times are", "written", &CLOCKS),
                fields.choice("scale", "Its temperatures are in", "c", &scales),
            ],
            done: String::new(),
        }
    }

    fn done(shop: &Shop, done: String) -> Answer {
        Ok(Self { done, ..Self::new(shop, None, &Refusals::none()) }.into_response())
    }

    fn refused(shop: &Shop, typed: Option<&Entries>, sentence: String) -> Answer {
        let page = Self::new(shop, typed, &Refusals::at("log", sentence));
        Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
    }
}

/// The page on which a log is brought in.
async fn show(_: ShopLog, State(app): State<App>) -> Answer {
    let shop = app.shop().await?;
    Ok(LogPage::new(&shop, None, &Refusals::none()).into_response())
}

/// Brings a log in.
async fn add(_: ShopLog, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let clock = match entries.get("clock") {
        Some("shop") => Clock::Of(shop.hours().zone().clone()),
        Some("utc") => Clock::Of(TimeZone::UTC),
        _ => Clock::Written,
    };
    let scale = match entries.get("scale") {
        Some("f") => Scale::Fahrenheit,
        _ => Scale::Celsius,
    };
    let text = entries.get("log").unwrap_or_default().to_owned();
    let read = move || read(&text, &clock, scale);
    match settings::import_log(&app, &shop, read).await? {
        Ok(log) => LogPage::done(&shop, told(&log, &shop)),
        Err(error) => LogPage::refused(&shop, Some(&entries), air::log(&error, shop.shown())),
    }
}

fn told(log: &AirLog, shop: &Shop) -> String {
    let (shown, zone) = (shop.shown(), shop.hours().zone());
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
async fn fit(_: FitRoom, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    match settings::fit_room(&app, &shop, expected(&entries)?).await? {
        Ok(fitted) => LogPage::done(&shop, says_fit(&fitted, shop.shown())),
        Err(NotFitted::NoForecast) => {
            let sentence = "The forecast cannot be reached, so there is nothing to fit the room to. \
                            Try again later.";
            LogPage::refused(&shop, None, sentence.to_owned())
        }
        Err(NotFitted::Fit(error)) => LogPage::refused(&shop, None, air::fit(&error)),
    }
}

fn says_fit(fitted: &Fitted, shown: Shown) -> String {
    format!(
        "The room is {} warmer than outside and {} late; that meets {} readings to {}. The air is \
         now the forecast through this room.",
        shown.degrees(fitted.indoor.offset.k()),
        span(fitted.indoor.lag),
        fitted.readings,
        shown.degrees(fitted.rms_k)
    )
}

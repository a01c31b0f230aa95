//! Instruments played by hand, where none is at hand: each is a slider that sends through the same door
//! as a real one.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::response::{IntoResponse, Response};
use fondant_app::App;
use fondant_app::devices;
use fondant_bench::reading::{Place as Reads, Quantity};

use super::view::{place_name, unit};
use crate::paths::shop::{DeviceReadings, DevicesPlay};
use crate::ui::error::WebError;
use crate::ui::page::{Page, Place, Script};

/// A kind of instrument: its name, where and what it reads, and the slider's ends, step and beginning.
struct Kind {
    name: &'static str,
    place: Reads,
    quantity: Quantity,
    slider: [f64; 4],
}

/// What a bench has.
const KINDS: [Kind; 6] = [
    kind("Played scale", Reads::Scale, Quantity::Mass, [0.0, 6000.0, 1.0, 0.0]),
    kind("Played gun", Reads::Bucket, Quantity::Temperature, [10.0, 120.0, 0.5, 22.0]),
    kind("Played probe", Reads::Surface, Quantity::Temperature, [10.0, 90.0, 0.5, 21.0]),
    kind("Played thermometer", Reads::Air, Quantity::Temperature, [5.0, 35.0, 0.5, 20.0]),
    kind("Played hygrometer", Reads::Air, Quantity::Humidity, [10.0, 100.0, 1.0, 50.0]),
    kind("Played gauge", Reads::Gauge, Quantity::Pressure, [0.0, 6.0, 0.05, 0.0]),
];

const fn kind(name: &'static str, place: Reads, quantity: Quantity, slider: [f64; 4]) -> Kind {
    Kind { name, place, quantity, slider }
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/devices/play.html")]
struct PlayPage {
    page: Page,
    door: DeviceReadings,
    now_ms: i64,
    all: Vec<Played>,
}

struct Played {
    name: &'static str,
    place: &'static str,
    token: String,
    quantity: &'static str,
    /// As it is shown, and as it is sent.
    unit: &'static str,
    sent_unit: &'static str,
    slider: [f64; 4],
    is_scale: bool,
}

/// Adds a set of instruments with new tokens, which this page alone knows, and shows them to be played.
pub(super) async fn begin(_: DevicesPlay, State(app): State<App>) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let mut all = Vec::new();
    for kind in KINDS {
        let added = devices::renew(&app, &shop, kind.name, kind.place).await?;
        all.push(Played {
            name: kind.name,
            place: place_name(kind.place),
            token: added.token,
            quantity: word(kind.quantity),
            unit: unit(kind.quantity),
            sent_unit: if kind.quantity == Quantity::Temperature {
                "C"
            } else {
                unit(kind.quantity)
            },
            slider: kind.slider,
            is_scale: kind.place == Reads::Scale,
        });
    }
    let page = Page::new("Instruments by hand", Place::Shop).with(&[Script::Module("/play.js")]);
    Ok(PlayPage { page, door: DeviceReadings, now_ms: app.now().as_millisecond(), all }
        .into_response())
}

/// A quantity as a device sends it.
const fn word(quantity: Quantity) -> &'static str {
    match quantity {
        Quantity::Temperature => "temperature",
        Quantity::Humidity => "humidity",
        Quantity::Mass => "mass",
        Quantity::Pressure => "pressure",
    }
}

//! Instruments listed, added, changed.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::App;
use fondant_app::devices::{self, Change};
use fondant_bench::reading::Place;
use fondant_quantities::bounds::NAME_CHARACTERS;

use super::view::{DevicesPage, Shown, place_name, place_of};
use crate::paths::shop::{ChangeDevice, Devices, DevicesAdd};
use crate::ui::entries::Entries;
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;

type Answer = Result<Response, WebError>;

pub(super) async fn show(_: Devices, State(app): State<App>) -> Answer {
    Ok(page(&app, Shown::default()).await?.into_response())
}

async fn page(app: &App, shown: Shown<'_>) -> Result<DevicesPage, WebError> {
    let shop = app.shop().await?;
    let all = devices::all(app, &shop).await?;
    Ok(DevicesPage::new(&shop, &all, shown, app.now()))
}

/// Adds an instrument, and shows its token this once.
pub(super) async fn add(_: DevicesAdd, State(app): State<App>, Typed(entries): Typed) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let mut name = String::new();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut name);
    let mut refusal = reader.refusals.of("name");
    let place = place_of(entries.get("place").unwrap_or_default());
    let all = devices::all(&app, &shop).await?;
    let same =
        |one: &devices::Instrument| one.device.revoked_at.is_none() && one.device.name == name;
    if refusal.is_empty() && all.iter().any(same) {
        refusal =
            "Another device has this name. Readings are told apart by it: choose another.".into();
    }
    let Some(place) = place.filter(|_| refusal.is_empty()) else {
        let typed = entries.get("name").unwrap_or_default();
        let page = page(&app, Shown { typed, refusal: &refusal, token: None }).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let added = devices::add(&app, &shop, name.clone(), place).await?;
    let token = Some((&*name, &*added.token));
    Ok(page(&app, Shown { token, ..Shown::default() }).await?.into_response())
}

/// Calibrates, silences or revokes an instrument.
pub(super) async fn change(
    path: ChangeDevice,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    let all = devices::all(&app, &shop).await?;
    let found = all.iter().find(|one| one.device.id == path.device);
    let found = found.ok_or(WebError::NotFound("device"))?;
    let change = match entries.get("do").unwrap_or_default() {
        "silence" => Change::Silence(true),
        "show" => Change::Silence(false),
        "revoke" => Change::Revoke,
        "calibrate" => match offset(found.device.place, found.device.offset, found, &entries) {
            Ok(offset) => Change::Offset(offset),
            Err(refusal) => {
                let page = page(&app, Shown { refusal: &refusal, ..Shown::default() }).await?;
                return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
            }
        },
        _ => return Err(WebError::BadForm("no change".to_owned())),
    };
    devices::change(&app, &shop, path.device, change).await?;
    Ok(Redirect::to(&Devices.to_string()).into_response())
}

/// The offset that makes the last reading what a better instrument shows.
fn offset(
    place: Place,
    offset: f64,
    found: &devices::Instrument,
    entries: &Entries,
) -> Result<f64, String> {
    let text = entries.get("shows").unwrap_or_default().trim().replace(',', ".");
    let shows: f64 = text.parse().map_err(|_| format!("“{text}” is not a figure."))?;
    let (quantity, last) = found.last.first().ok_or_else(|| {
        format!("“{}” has not sent anything yet: {}.", found.device.name, place_name(place))
    })?;
    let unit = super::view::unit(*quantity);
    let better = fondant_bench::reading::kept(*quantity, shows, unit)
        .map_err(|_| format!("“{text}” is not a figure."))?;
    let moved = offset + better - last.value;
    let most = super::view::most_offset(*quantity);
    if moved.abs() > most {
        return Err("That is more than an offset can correct. Look at the instrument.".to_owned());
    }
    Ok(moved)
}

//! The shop: its name, hours, clock and units.

use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_core::quantities::units::UnitSystem;
use fondant_core::schedule::{HoursError, ShopHours, Workday};
use fondant_store::StoreError;
use fondant_store::repos::NewWorkshop;
use jiff::civil::Time;

use super::extract::Typed;
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::{AppState, WebError};

const DAYS: [&str; 7] =
    ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
/// Longest name of a workshop, characters.
const NAME_CHARACTERS: usize = 60;

#[derive(Template)]
#[template(path = "shop.html")]
struct ShopPage {
    title: &'static str,
    place: &'static str,
    revision: i32,
    newer: Option<i32>,
    name: Field,
    zone: Field,
    opens: Field,
    closes: Field,
    days: Vec<Day>,
    days_refusal: String,
    is_us: bool,
}

struct Day {
    index: usize,
    name: &'static str,
    is_open: bool,
}

impl ShopPage {
    fn new(shop: &Shop, typed: Option<&Entries>, refusals: &Refusals) -> Self {
        let settings = &shop.workshop.settings;
        let fields = Fields { shown: shop.shown, typed, refusals };
        let usual = settings.days.iter().flatten().next().copied();
        let clock = |pick: fn(Workday) -> Time| {
            usual.map_or_else(String::new, |day| pick(day).strftime("%H:%M").to_string())
        };
        let open = |index: usize| match typed {
            Some(entries) => entries.get(&format!("day{index}")).is_some(),
            None => settings.days[index].is_some(),
        };
        Self {
            title: "Shop",
            place: "shop",
            revision: shop.workshop.revision,
            newer: None,
            name: fields.text("name", "Name of the workshop", &settings.name),
            zone: fields
                .text("zone", "Time zone", &settings.time_zone)
                .hint("As Europe/Lisbon or America/Chicago; the clock changes are known."),
            opens: fields.text("opens", "Opens", &clock(|day| day.opens)).kind("time"),
            closes: fields.text("closes", "Closes", &clock(|day| day.closes)).kind("time"),
            days: DAYS
                .into_iter()
                .enumerate()
                .map(|(index, name)| Day { index, name, is_open: open(index) })
                .collect(),
            days_refusal: refusals.of("days"),
            is_us: match typed.and_then(|entries| entries.get("units")) {
                Some(units) => units == "us_customary",
                None => settings.units == UnitSystem::UsCustomary,
            },
        }
    }
}

pub(super) async fn show(State(state): State<AppState>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    Ok(Html(ShopPage::new(&shop, None, &Refusals::default()).render()?).into_response())
}

pub(super) async fn save(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let settings = read(&mut reader, &shop.workshop.settings);
    if !reader.refusals.is_empty() {
        let page = ShopPage::new(&shop, Some(&entries), &reader.refusals).render()?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page)).into_response());
    }
    let expected = entries.number("over").or_else(|| entries.number("revision"));
    let expected = expected.ok_or_else(|| WebError::BadForm("no revision".to_owned()))?;
    match state.store.save_workshop(shop.id, expected, &settings).await {
        Ok(()) => Ok(Redirect::to("/shop").into_response()),
        Err(StoreError::Stale { current, .. }) => {
            let mut page = ShopPage::new(&shop, Some(&entries), &Refusals::default());
            page.revision = expected;
            page.newer = Some(current);
            Ok((StatusCode::CONFLICT, Html(page.render()?)).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// Reads the form; what is refused stands in the reader.
fn read(reader: &mut Reader<'_>, kept: &NewWorkshop) -> NewWorkshop {
    let mut settings = kept.clone();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut settings.name);
    reader.text("zone", "The time zone", NAME_CHARACTERS, false, &mut settings.time_zone);
    let (opens, closes) = (clock(reader, "opens"), clock(reader, "closes"));
    if let (Some(opens), Some(closes)) = (opens, closes) {
        settings.days = std::array::from_fn(|index| {
            reader.entries.get(&format!("day{index}")).map(|_| Workday { opens, closes })
        });
        if let Err(error) = ShopHours::new(settings.days, &settings.time_zone) {
            let field = match error {
                HoursError::ClosesBeforeOpening { .. } => "closes",
                HoursError::NeverOpen => "days",
                HoursError::UnknownZone(_) => "zone",
            };
            reader.refusals.add(field, error.to_string());
        }
    }
    settings.units = match reader.entries.get("units") {
        Some("us_customary") => UnitSystem::UsCustomary,
        _ => UnitSystem::Metric,
    };
    settings
}

fn clock(reader: &mut Reader<'_>, field: &str) -> Option<Time> {
    let text = reader.entries.get(field).unwrap_or_default();
    let read = Time::strptime("%H:%M", text.trim());
    if read.is_err() {
        reader.refusals.add(field, format!("“{text}” is not a time. Write it as 08:30."));
    }
    read.ok()
}

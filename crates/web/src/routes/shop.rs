//! The shop: its hours, clock and units, hands and machines, and its air.
//!
//! - this file: the page and its form
//! - [`air`]: the air's profile, read and shown
//! - [`log`]: a logger's file brought in, the room fitted to it

mod air;
pub(super) mod log;

use askama::Template;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::Mixing;
use fondant_pours::{Exception, HoursError, ShopHours, Workday};
use fondant_quantities::units::{UnitSystem, trimmed};
use fondant_quantities::{Mass, Span, bounds};
use fondant_store::StoreError;
use fondant_store::repos::NewWorkshop;
use jiff::civil::Date;

use super::extract::Typed;
use super::feed;
use crate::drawings::shop_week::{self, ShopWeek};
use crate::drawings::{FULL, both};
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::{AppState, WebError};

const DAYS: [&str; 7] =
    ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
/// Longest name of a workshop, characters.
const NAME_CHARACTERS: usize = 60;
/// Buckets and exceptions kept at most.
const MOST_ROWS: usize = 40;

#[derive(Template)]
#[template(path = "shop.html")]
struct ShopPage {
    title: &'static str,
    place: &'static str,
    revision: i32,
    newer: Option<i32>,
    names: Vec<Field>,
    days: Vec<Field>,
    days_refusal: String,
    exceptions: Field,
    people: Vec<Field>,
    machines: Vec<Field>,
    is_us: bool,
    air: air::AirView,
    week: String,
    legend: String,
    log: log::LogView,
    feed: String,
}

/// What the page is made of beside the shop itself.
#[derive(Default)]
struct Beside {
    log: log::LogView,
    feed: String,
}

impl ShopPage {
    fn new(
        shop: &Shop,
        now: jiff::Timestamp,
        typed: Option<&Entries>,
        refusals: &Refusals,
        beside: Beside,
    ) -> Self {
        let settings = &shop.workshop.settings;
        let kept = &settings.shop;
        let fields = Fields { shown: shop.shown, typed, refusals };
        let week = ShopWeek { hours: &shop.hours, air: &shop.site.air, now, shown: shop.shown };
        let hinted = |mut field: Field, hint: &str| {
            field.hint = hint.to_owned();
            field
        };
        let minutes = |span: Span| trimmed(span.s() / 60.0, 1);
        let maybe = |value: Option<f64>| value.map_or_else(String::new, |value| trimmed(value, 2));
        let buckets: Vec<String> = kept.buckets.iter().map(|b| shop.shown.mass_entry(*b)).collect();
        let mixing = match kept.mixing {
            Mixing::SlowByHand => "hand",
            Mixing::Drill => "drill",
        };
        Self {
            title: "Shop",
            place: "shop",
            revision: shop.workshop.revision,
            newer: None,
            names: vec![
                fields.text("name", "Name of the workshop", &settings.name),
                hinted(
                    fields.text("zone", "Time zone", &settings.time_zone),
                    "As Europe/Lisbon or America/Chicago; the clock changes are known.",
                ),
            ],
            days: DAYS
                .into_iter()
                .enumerate()
                .map(|(index, name)| {
                    let hours = Workday::write_day(&settings.days[index]);
                    fields.text(&format!("day{index}"), name, &hours)
                })
                .collect(),
            days_refusal: refusals.of("days"),
            exceptions: fields.text(
                "exceptions",
                "Dates with other hours",
                &written(&kept.exceptions),
            ),
            people: vec![
                hinted(
                    fields.number(
                        "hands",
                        "People who pour at once",
                        f64::from(kept.hands),
                        &bounds::HANDS,
                    ),
                    "Each takes a bucket at a time.",
                ),
                fields.choice(
                    "mixing",
                    "Mixing",
                    mixing,
                    &[
                        ("hand", "Slowly by hand: no air"),
                        ("drill", "Paddle in a drill: fast, needs pressure or thin resin"),
                    ],
                ),
                fields.text(
                    "mixing_min",
                    "To mix one bucket",
                    &format!("{} min", minutes(kept.mixing_takes)),
                ),
                fields.text(
                    "pouring_min",
                    "To pour it",
                    &format!("{} min", minutes(kept.pouring_takes)),
                ),
                hinted(
                    fields.text("buckets", "Buckets, by what is mixed in one", &buckets.join("; ")),
                    "At most two thirds full.",
                ),
            ],
            machines: vec![
                hinted(
                    fields.text("pot_bar", "Pressure pot, rated bar", &maybe(kept.pot_bar)),
                    "Its plate says it. Never above it; relief valve fitted; vent fully before opening. Empty: none.",
                ),
                hinted(
                    fields.text(
                        "vacuum_mbar",
                        "Vacuum chamber, lowest mbar",
                        &maybe(kept.vacuum_mbar),
                    ),
                    "Container three to four times the volume. Empty: none.",
                ),
                fields.tick("fan", "There is a fan", kept.has_fan),
                fields.number(
                    "humid_care",
                    "Humidity: take care from",
                    kept.humidity_care_percent,
                    &bounds::HUMIDITY_PERCENT,
                ),
                fields.number(
                    "humid_stop",
                    "Humidity: pour nothing from",
                    kept.humidity_stop_percent,
                    &bounds::HUMIDITY_PERCENT,
                ),
            ],
            is_us: match typed.and_then(|entries| entries.get("units")) {
                Some(units) => units == "us_customary",
                None => settings.units == UnitSystem::UsCustomary,
            },
            air: air::AirView::new(shop, &fields),
            week: both(FULL, |frame| shop_week::draw(&week, frame)),
            legend: shop_week::legend(&shop.site.air, now),
            log: beside.log,
            feed: beside.feed,
        }
    }
}

fn written(exceptions: &[Exception]) -> String {
    let one = |e: &Exception| {
        let hours =
            if e.hours.is_empty() { "closed".to_owned() } else { Workday::write_day(&e.hours) };
        format!("{} {hours}", e.date)
    };
    exceptions.iter().map(one).collect::<Vec<_>>().join("\n")
}

async fn beside(state: &AppState, shop: &Shop, headers: &HeaderMap) -> Result<Beside, WebError> {
    let host = headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or("localhost");
    Ok(Beside {
        log: log::LogView::read(state, shop).await?,
        feed: feed::address(state, shop, host).await?,
    })
}

pub(super) async fn show(
    State(state): State<AppState>,
    headers: HeaderMap,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let beside = beside(&state, &shop, &headers).await?;
    let page = ShopPage::new(&shop, state.now(), None, &Refusals::default(), beside);
    Ok(Html(page.render()?).into_response())
}

pub(super) async fn save(
    State(state): State<AppState>,
    headers: HeaderMap,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let settings = read(&mut reader, &shop.workshop.settings);
    let refusals = reader.refusals;
    if !refusals.is_empty() {
        let beside = beside(&state, &shop, &headers).await?;
        let page = ShopPage::new(&shop, state.now(), Some(&entries), &refusals, beside).render()?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(page)).into_response());
    }
    let expected = entries.number("over").or_else(|| entries.number("revision"));
    let expected = expected.ok_or_else(|| WebError::BadForm("no revision".to_owned()))?;
    match state.store.save_workshop(shop.id, expected, &settings).await {
        Ok(()) => {
            refresh_agendas(&state);
            Ok(Redirect::to("/shop").into_response())
        }
        Err(StoreError::Stale { current, .. }) => {
            let beside = beside(&state, &shop, &headers).await?;
            let mut page =
                ShopPage::new(&shop, state.now(), Some(&entries), &Refusals::default(), beside);
            page.revision = expected;
            page.newer = Some(current);
            Ok((StatusCode::CONFLICT, Html(page.render()?)).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// Windows follow the shop's air: agendas are worked out anew, beside the request.
fn refresh_agendas(state: &AppState) {
    let state = state.clone();
    tokio::spawn(async move {
        if let Err(error) = state.refresh_agendas().await {
            tracing::warn!(%error, "agendas stay as they were");
        }
    });
}

/// Reads the form; what is refused stands in the reader.
fn read(reader: &mut Reader<'_>, kept: &NewWorkshop) -> NewWorkshop {
    let mut settings = kept.clone();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut settings.name);
    reader.text("zone", "The time zone", NAME_CHARACTERS, false, &mut settings.time_zone);
    for index in 0..7 {
        let field = format!("day{index}");
        match Workday::read_day(reader.entries.get(&field).unwrap_or_default()) {
            Ok(day) => settings.days[index] = day,
            Err(error) => reader.refusals.add(&field, error.to_string()),
        }
    }
    if reader.refusals.is_empty()
        && let Err(error) = ShopHours::new(settings.days.clone(), &settings.time_zone)
    {
        let field = match error {
            HoursError::UnknownZone(_) => "zone",
            _ => "days",
        };
        reader.refusals.add(field, error.to_string());
    }
    let shop = &mut settings.shop;
    read_exceptions(reader, &mut shop.exceptions);
    reader.count("hands", &bounds::HANDS, &mut shop.hands);
    let ways = [("hand", Mixing::SlowByHand), ("drill", Mixing::Drill)];
    reader.choice("mixing", &ways, &mut shop.mixing);
    for (field, place) in
        [("mixing_min", &mut shop.mixing_takes), ("pouring_min", &mut shop.pouring_takes)]
    {
        let mut minutes = place.s() / 60.0;
        reader.number(field, &bounds::BUCKET_MINUTES, &mut minutes);
        *place = Span::from_s(minutes * 60.0);
    }
    read_buckets(reader, &mut shop.buckets);
    reader.maybe_number("pot_bar", &bounds::POT_BAR, &mut shop.pot_bar);
    reader.maybe_number("vacuum_mbar", &bounds::VACUUM_MBAR, &mut shop.vacuum_mbar);
    shop.has_fan = reader.entries.get("fan").is_some();
    reader.number("humid_care", &bounds::HUMIDITY_PERCENT, &mut shop.humidity_care_percent);
    reader.number("humid_stop", &bounds::HUMIDITY_PERCENT, &mut shop.humidity_stop_percent);
    if shop.humidity_care_percent > shop.humidity_stop_percent {
        let sentence =
            "Care begins below the humidity at which nothing is poured. Exchange the two.";
        reader.refusals.add("humid_care", sentence);
    }
    air::read(reader, &mut shop.air);
    settings.units = match reader.entries.get("units") {
        Some("us_customary") => UnitSystem::UsCustomary,
        _ => UnitSystem::Metric,
    };
    settings
}

fn read_exceptions(reader: &mut Reader<'_>, place: &mut Vec<Exception>) {
    let text = reader.entries.get("exceptions").unwrap_or_default();
    let mut read = Vec::new();
    for line in text.lines().map(str::trim).filter(|line| !line.is_empty()) {
        let (date, hours) = line.split_once(char::is_whitespace).unwrap_or((line, "closed"));
        let exception = match (date.parse::<Date>(), Workday::read_day(hours)) {
            (Ok(date), Ok(hours)) => Exception { date, hours },
            (Err(_), _) => {
                let sentence = format!(
                    "“{line}” does not begin with a date. Write 2026-12-24 closed, or 2026-12-24 06:30–12:00."
                );
                reader.refusals.add("exceptions", sentence);
                return;
            }
            (_, Err(error)) => {
                reader.refusals.add("exceptions", error.to_string());
                return;
            }
        };
        if read.iter().any(|other: &Exception| other.date == exception.date) {
            let sentence = format!("{date} stands there twice. Put its hours on one line.");
            reader.refusals.add("exceptions", sentence);
            return;
        }
        read.push(exception);
    }
    read.truncate(MOST_ROWS);
    *place = read;
}

fn read_buckets(reader: &mut Reader<'_>, place: &mut Vec<Mass>) {
    let text = reader.entries.get("buckets").unwrap_or_default();
    let mut read = Vec::new();
    for part in text.split(';').map(str::trim).filter(|part| !part.is_empty()).take(MOST_ROWS) {
        let mut mass = Mass::from_kg(1.0);
        reader.quantity_of("buckets", part, &bounds::BUCKET, &mut mass);
        read.push(mass);
    }
    if read.is_empty() {
        reader.refusals.add("buckets", "Name one bucket at least, such as 5 kg.");
    }
    *place = read;
}

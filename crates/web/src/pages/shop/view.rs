//! The page of the shop.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_bench::reading::BAR_PSI;
use fondant_cast::ShopSettings;
use fondant_cast::shop::{Mixing, PartOrder, Prices};
use fondant_heat::climate::AirAt;
use fondant_pours::{Exception, Workday};
use fondant_quantities::units::{UnitSystem, trimmed};
use fondant_quantities::{Money, Span, bounds};
use jiff::Timestamp;

use super::air::AirView;
use super::form::chamber_entry;
use super::week::{ShopWeek, draw, legend};
use crate::svg::{FULL, Markup, both};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::page::{Follows, Page, Place, Script};
use crate::ui::units::InUnits;
use crate::ui::written::Written;
use crate::words::measures::priced_area;

const DAYS: [&str; 7] =
    ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

// Many fields: the page shows all settings of the shop.
#[derive(Template, WebTemplate)]
#[template(path = "pages/shop/shop.html")]
pub(super) struct ShopPage {
    page: Page,
    revision: i32,
    /// The newest revision, where the entries were made on an older one.
    newer: Option<i32>,
    names: Vec<Field>,
    days: Vec<Field>,
    days_refusal: String,
    exceptions: Field,
    people: Vec<Field>,
    machines: Vec<Field>,
    prices: Vec<Field>,
    is_us: bool,
    air: AirView,
    week: Markup,
    legend: String,
    log: String,
    can_fit: bool,
    feed: String,
}

/// What the page shows beside the shop itself.
pub(super) struct Beside {
    /// Readings of its air.
    pub(super) readings: Vec<AirAt>,
    /// The address of its calendar.
    pub(super) feed: String,
}

impl ShopPage {
    pub(super) fn new(
        (shop, now): (&Shop, Timestamp),
        typed: Option<&Entries>,
        refusals: &Refusals,
        beside: Beside,
    ) -> Self {
        let settings = &shop.workshop.settings;
        let kept = &settings.shop;
        let fields = Fields::of(shop.shown(), typed, refusals);
        let air = &shop.site().air;
        let week = ShopWeek { hours: shop.hours(), air, now, shown: shop.shown() };
        let day = |(index, name): (usize, &str)| {
            let hours = Workday::write_day(&settings.days[index]);
            fields.text(&format!("day{index}"), name, &hours)
        };
        let exceptions = written(&kept.exceptions);
        Self {
            page: Page::new("Shop", Place::Shop)
                .following(Follows::Shop)
                .with(&[Script::Components("/air_ways.js"), Script::Alpine]),
            revision: shop.workshop.revision,
            newer: None,
            names: vec![
                fields.text("name", "Name of the workshop", &settings.name),
                fields
                    .text("zone", "Time zone", &settings.time_zone)
                    .hint("As Europe/Lisbon or America/Chicago; the clock changes are known."),
            ],
            days: DAYS.into_iter().enumerate().map(day).collect(),
            days_refusal: refusals.of("days"),
            exceptions: fields.text("exceptions", "Dates with other hours", &exceptions),
            people: people(&fields, kept, shop),
            machines: machines(&fields, kept),
            prices: prices(&fields, &kept.prices),
            is_us: match typed.and_then(|entries| entries.get("units")) {
                Some(units) => units == "us_customary",
                None => settings.units == UnitSystem::UsCustomary,
            },
            air: AirView::new(shop, &fields),
            week: both(FULL, |frame| draw(&week, frame)),
            legend: legend(air, now),
            log: log(&beside.readings, shop),
            can_fit: !beside.readings.is_empty(),
            feed: beside.feed,
        }
    }

    /// Edits based on an outdated revision (HTTP 409).
    pub(super) fn late(self, expected: i32, newer: i32) -> Self {
        Self { revision: expected, newer: Some(newer), ..self }
    }
}

fn people(fields: &Fields<'_>, kept: &ShopSettings, shop: &Shop) -> Vec<Field> {
    let minutes = |span: Span| format!("{} min", trimmed(span.s() / 60.0, 1));
    let buckets: Vec<String> = kept.buckets.iter().map(|b| b.entry(shop.shown())).collect();
    let hands = f64::from(kept.hands);
    let mixing = match kept.mixing {
        Mixing::SlowByHand => "hand",
        Mixing::Drill => "drill",
    };
    let ways = [
        ("hand", "Slowly by hand: no air"),
        ("drill", "Paddle in a drill: fast, needs pressure or thin resin"),
    ];
    let first = match kept.parts {
        PartOrder::HardenerFirst => "hardener",
        PartOrder::ResinFirst => "resin",
    };
    let orders = [
        ("hardener", "Hardener first: thin, no splash"),
        ("resin", "Resin first: colour before the hardener"),
    ];
    vec![
        fields
            .number("hands", "People who pour at once", hands, &bounds::HANDS)
            .hint("Each takes a bucket at a time."),
        fields.choice("mixing", "Mixing", mixing, &ways),
        fields.choice("parts", "Weighed first", first, &orders),
        fields.text("mixing_min", "To mix one bucket", &minutes(kept.mixing_takes)),
        fields.text("pouring_min", "To pour it", &minutes(kept.pouring_takes)),
        fields
            .text("buckets", "Buckets, by what is mixed in one", &buckets.join("; "))
            .hint("At most two thirds full."),
    ]
}

/// What work and things cost.
fn prices(fields: &Fields<'_>, kept: &Prices) -> Vec<Field> {
    let (by, a_square_metre) = priced_area(fields.shown.system);
    let price = |name, label: &str, money: Money| {
        let kept = Some(money.units()).filter(|units| *units > 0.0);
        fields.maybe_number(name, label, kept, &bounds::PRICE)
    };
    vec![
        price("price_hour", "An hour of work", kept.hour),
        price("price_sheet", &format!("A {by} of sheet"), kept.sheet_m2 / a_square_metre),
        price("price_consumables", "Used up by a cast", kept.consumables)
            .hint("Discs, gloves, cups, tape. Empty: not counted."),
    ]
}

fn machines(fields: &Fields<'_>, kept: &ShopSettings) -> Vec<Field> {
    let maybe = |value: Option<f64>| value.map_or_else(String::new, |value| trimmed(value, 2));
    let humidity = &bounds::HUMIDITY_PERCENT;
    let (pot, rated) = match fields.shown.system {
        UnitSystem::Metric => ("Pressure pot, rated bar", kept.pot_bar),
        UnitSystem::UsCustomary => {
            ("Pressure pot, rated psi", kept.pot_bar.map(|bar| bar / BAR_PSI))
        }
    };
    let chamber = kept.vacuum_mbar.map(|mbar| chamber_entry(mbar, fields.shown));
    let chamber = chamber.unwrap_or_default();
    let (care, stop) = (kept.humidity_care_percent, kept.humidity_stop_percent);
    vec![
        fields.text("pot_bar", pot, &maybe(rated)).hint(
            "Its plate says it. Never above it; relief valve fitted; vent fully before opening. \
             Empty: none.",
        ),
        fields
            .text("vacuum_mbar", "Vacuum chamber, at its best", &chamber)
            .hint(match fields.shown.system {
                UnitSystem::Metric => {
                    "What its gauge shows, mbar absolute. Container three to four times the volume. \
                     Empty: none."
                }
                UnitSystem::UsCustomary => {
                    "What its gauge shows, inHg below the air. Container three to four times the \
                     volume. Empty: none."
                }
            }),
        fields.tick("fan", "There is a fan", kept.has_fan),
        fields.number("humid_care", "Humidity: take care from", care, humidity),
        fields.number("humid_stop", "Humidity: pour nothing from", stop, humidity),
    ]
}

fn written(exceptions: &[Exception]) -> String {
    let one = |e: &Exception| {
        let hours =
            if e.hours.is_empty() { "closed".to_owned() } else { Workday::write_day(&e.hours) };
        format!("{} {hours}", e.date)
    };
    exceptions.iter().map(one).collect::<Vec<_>>().join("\n")
}

/// What is known of the shop's log.
fn log(readings: &[AirAt], shop: &Shop) -> String {
    let (Some(first), Some(last)) = (readings.first(), readings.last()) else {
        return "No log has been brought in yet.".to_owned();
    };
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    format!(
        "{} quarter-hour readings, {} to {}.",
        readings.len(),
        shown.date_and_time(first.at, zone),
        shown.date_and_time(last.at, zone)
    )
}

//! The page of instruments.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_app::devices::Instrument;
use fondant_bench::reading::{Doubt, Judged, Place as Reads, Quantity};
use fondant_quantities::Temperature;
use jiff::{SignedDuration, Timestamp};

use crate::paths::shop::{ChangeDevice, DevicesAdd, DevicesPlay};
use crate::ui::numbers::{with_minus, with_unit};
use crate::ui::page::{Follows, Page, Place, Script};
use crate::ui::units::{self, InUnits};

/// Time without a reading after which a device counts as silent (convention).
const SILENT: SignedDuration = SignedDuration::from_mins(5);

#[derive(Template, WebTemplate)]
#[template(path = "pages/devices/devices.html")]
pub(super) struct DevicesPage {
    page: Page,
    add: DevicesAdd,
    play: DevicesPlay,
    rows: Vec<DeviceRow>,
    places: Vec<(&'static str, &'static str)>,
    typed: String,
    refusal: String,
    token: Option<(String, String)>,
}

struct DeviceRow {
    change: ChangeDevice,
    name: String,
    place: &'static str,
    readings: Vec<ReadingRow>,
    unit: &'static str,
    offset: String,
    is_silenced: bool,
    is_revoked: bool,
}

struct ReadingRow {
    figure: String,
    when: String,
    doubt: &'static str,
    is_silent: bool,
}

/// What is shown beside the list.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Shown<'a> {
    pub(super) typed: &'a str,
    pub(super) refusal: &'a str,
    /// Name and token of the device that was added just now.
    pub(super) token: Option<(&'a str, &'a str)>,
}

impl DevicesPage {
    pub(super) fn new(shop: &Shop, all: &[Instrument], shown: Shown<'_>, now: Timestamp) -> Self {
        Self {
            page: Page::new("Devices", Place::Shop)
                .following(Follows::Devices)
                .with(&[Script::Module("/devices.js")]),
            add: DevicesAdd,
            play: DevicesPlay,
            rows: all.iter().map(|one| row(shop, one, now)).collect(),
            places: Reads::ALL.map(|place| (place_word(place), place_name(place))).to_vec(),
            typed: shown.typed.to_owned(),
            refusal: shown.refusal.to_owned(),
            token: shown.token.map(|(name, token)| (name.to_owned(), token.to_owned())),
        }
    }
}

fn row(shop: &Shop, one: &Instrument, now: Timestamp) -> DeviceRow {
    let quantity = one.last.first().map(|(quantity, _)| *quantity);
    DeviceRow {
        change: ChangeDevice { device: one.device.id },
        name: one.device.name.clone(),
        place: place_name(one.device.place),
        readings: one.last.iter().map(|last| reading(shop, last, now)).collect(),
        unit: quantity.map_or("", unit),
        offset: match quantity {
            Some(quantity) if one.device.offset != 0.0 => {
                let factor = if quantity == Quantity::Mass { 1e3 } else { 1.0 };
                let offset = format!("{:+.1}", one.device.offset * factor);
                format!("{} {} added", with_minus(&offset), unit(quantity))
            }
            _ => String::new(),
        },
        is_silenced: one.device.is_silenced,
        is_revoked: one.device.revoked_at.is_some(),
    }
}

fn reading(shop: &Shop, (quantity, last): &(Quantity, Judged), now: Timestamp) -> ReadingRow {
    ReadingRow {
        figure: figure(*quantity, last.value, shop.shown()),
        when: shop.shown().day_and_time(last.at, shop.hours().zone()),
        doubt: last.doubt.map_or("", doubted),
        is_silent: now.duration_since(last.at) > SILENT,
    }
}

/// A kept figure in the shop's units; scales show grams everywhere.
fn figure(quantity: Quantity, value: f64, shown: units::Shown) -> String {
    match quantity {
        Quantity::Temperature => shown.temperature_fine(Temperature::from_k(value)),
        Quantity::Humidity => with_unit(&format!("{value:.0}"), "%"),
        Quantity::Mass => with_unit(&format!("{:.1}", value * 1e3), "g"),
        Quantity::Pressure => shown.pressure(value),
    }
}

/// The unit that instruments are calibrated in.
pub(super) const fn unit(quantity: Quantity) -> &'static str {
    match quantity {
        Quantity::Temperature => "°C",
        Quantity::Humidity => "%",
        Quantity::Mass => "g",
        Quantity::Pressure => "bar",
    }
}

/// Offsets above this are a fault of the instrument, in the unit that is kept (convention).
pub(super) const fn most_offset(quantity: Quantity) -> f64 {
    match quantity {
        Quantity::Temperature => 10.0,
        Quantity::Humidity => 20.0,
        Quantity::Mass => 0.05,
        Quantity::Pressure => 0.5,
    }
}

/// Why a reading is doubted.
const fn doubted(doubt: Doubt) -> &'static str {
    match doubt {
        Doubt::OutOfRange => "out of range",
        Doubt::Jumped => "jumped: not used until it stays",
        Doubt::Stuck => "has not moved for half an hour: stuck",
        Doubt::Ahead => "its clock is ahead",
    }
}

/// Where an instrument reads, for a form.
const fn place_word(place: Reads) -> &'static str {
    match place {
        Reads::Bucket => "bucket",
        Reads::Cup => "cup",
        Reads::Surface => "surface",
        Reads::Base => "base",
        Reads::Air => "air",
        Reads::Scale => "scale",
        Reads::Gauge => "gauge",
    }
}

/// A place by its word in a form.
pub(super) fn place_of(word: &str) -> Option<Reads> {
    Reads::ALL.into_iter().find(|place| place_word(*place) == word)
}

/// Where an instrument reads, in words.
pub(super) const fn place_name(place: Reads) -> &'static str {
    match place {
        Reads::Bucket => "Bucket: temperature",
        Reads::Cup => "Witness cup: temperature",
        Reads::Surface => "Face of the resin: temperature",
        Reads::Base => "Base of the form: temperature",
        Reads::Air => "Air: temperature, humidity",
        Reads::Scale => "Scale: mass",
        Reads::Gauge => "Pressure pot: gauge",
    }
}

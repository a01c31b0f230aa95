//! What is read from the shop's form.

use fondant_app::records::WorkshopSettings;
use fondant_bench::reading::BAR_PSI;
use fondant_cast::ShopSettings;
use fondant_cast::shop::{Mixing, PartOrder, Prices};
use fondant_pours::{Exception, HoursError, ShopHours, Workday};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Mass, Money, Span, bounds};
use jiff::civil::Date;

use super::air;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::hours::hours;
use crate::words::measures::{priced_area, read_vacuum, vacuum, vacuum_range};

/// Longest name of a workshop, characters.
const NAME_CHARACTERS: usize = 60;
/// Buckets and dates with other hours at most.
const MOST_ROWS: usize = 40;

/// Reads the form; what is refused stands in the reader.
pub(super) fn read(reader: &mut Reader<'_>, kept: &WorkshopSettings) -> WorkshopSettings {
    let mut settings = kept.clone();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut settings.name);
    reader.text("zone", "The time zone", NAME_CHARACTERS, false, &mut settings.time_zone);
    read_days(reader, &mut settings);
    read_people(reader, &mut settings.shop);
    read_machines(reader, &mut settings.shop);
    read_prices(reader, &mut settings.shop.prices);
    air::read(reader, &mut settings.shop.air);
    settings.units = match reader.entries.get("units") {
        Some("us_customary") => UnitSystem::UsCustomary,
        _ => UnitSystem::Metric,
    };
    settings
}

fn read_days(reader: &mut Reader<'_>, settings: &mut WorkshopSettings) {
    for index in 0..7 {
        let field = format!("day{index}");
        match Workday::read_day(reader.entries.get(&field).unwrap_or_default()) {
            Ok(day) => settings.days[index] = day,
            Err(error) => reader.refusals.add(&field, hours(&error)),
        }
    }
    if reader.refusals.is_empty()
        && let Err(error) = ShopHours::new(settings.days.clone(), &settings.time_zone)
    {
        let field = match error {
            HoursError::UnknownZone(_) => "zone",
            _ => "days",
        };
        reader.refusals.add(field, hours(&error));
    }
}

fn read_people(reader: &mut Reader<'_>, shop: &mut ShopSettings) {
    read_exceptions(reader, &mut shop.exceptions);
    reader.count("hands", &bounds::HANDS, &mut shop.hands);
    let orders = [("hardener", PartOrder::HardenerFirst), ("resin", PartOrder::ResinFirst)];
    reader.choice("parts", &orders, &mut shop.parts);
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
}

fn read_machines(reader: &mut Reader<'_>, shop: &mut ShopSettings) {
    read_pot(reader, &mut shop.pot_bar);
    read_chamber(reader, &mut shop.vacuum_mbar);
    shop.has_fan = reader.entries.get("fan").is_some();
    reader.number("humid_care", &bounds::HUMIDITY_PERCENT, &mut shop.humidity_care_percent);
    reader.number("humid_stop", &bounds::HUMIDITY_PERCENT, &mut shop.humidity_stop_percent);
    if shop.humidity_care_percent > shop.humidity_stop_percent {
        let sentence =
            "Care begins below the humidity at which nothing is poured. Exchange the two.";
        reader.refusals.add("humid_care", sentence);
    }
}

fn read_prices(reader: &mut Reader<'_>, prices: &mut Prices) {
    let (_, a_square_metre) = priced_area(reader.system);
    for (field, place, factor) in [
        ("price_hour", &mut prices.hour, 1.0),
        ("price_sheet", &mut prices.sheet_m2, 1.0 / a_square_metre),
        ("price_consumables", &mut prices.consumables, 1.0),
    ] {
        let mut price = Some(place.units()).filter(|price| *price > 0.0);
        reader.maybe_number_times(field, &bounds::PRICE, factor, &mut price);
        *place = price.map_or(Money::ZERO, Money::from_units);
    }
}

fn read_exceptions(reader: &mut Reader<'_>, place: &mut Vec<Exception>) {
    let text = reader.entries.get("exceptions").unwrap_or_default();
    let mut read = Vec::new();
    for line in text.lines().map(str::trim).filter(|line| !line.is_empty()) {
        let (date, text) = line.split_once(char::is_whitespace).unwrap_or((line, "closed"));
        let exception = match (date.parse::<Date>(), Workday::read_day(text)) {
            (Ok(date), Ok(hours)) => Exception { date, hours },
            (Err(_), _) => {
                let sentence = format!(
                    "“{line}” does not begin with a date. Write 2026-12-24 closed, or 2026-12-24 06:30–12:00."
                );
                reader.refusals.add("exceptions", sentence);
                return;
            }
            (_, Err(error)) => {
                reader.refusals.add("exceptions", hours(&error));
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
    if read.len() > MOST_ROWS {
        let sentence = format!(
            "{} dates are more than {MOST_ROWS}. Leave out those that are past.",
            read.len()
        );
        reader.refusals.add("exceptions", sentence);
        return;
    }
    *place = read;
}

/// What a pressure pot is rated for, in the shop's unit.
fn read_pot(reader: &mut Reader<'_>, pot_bar: &mut Option<f64>) {
    match reader.system {
        UnitSystem::Metric => reader.maybe_number("pot_bar", &bounds::POT_BAR, pot_bar),
        UnitSystem::UsCustomary => {
            reader.maybe_number_times("pot_bar", &bounds::POT_PSI, 1.0 / BAR_PSI, pot_bar);
        }
    }
}

/// How far a vacuum chamber is pumped out, as its gauge shows it. What stands there as it was shown is
/// as it was: it was rounded to be shown.
fn read_chamber(reader: &mut Reader<'_>, place: &mut Option<f64>) {
    let shown = Shown { system: reader.system };
    let text = reader.entries.get("vacuum_mbar").unwrap_or_default().trim();
    if place.is_some_and(|mbar| chamber_entry(mbar, shown) == text) {
        return;
    }
    *place = match text {
        "" => None,
        _ => read_vacuum(text, reader.system),
    };
    if place.is_none() && !text.is_empty() {
        let sentence = format!(
            "“{text}” is not how far a chamber is pumped out. Type what its gauge shows, {}.",
            vacuum_range(reader.system)
        );
        reader.refusals.add("vacuum_mbar", sentence);
    }
}

/// For the field of a vacuum chamber.
pub(super) fn chamber_entry(mbar: f64, shown: Shown) -> String {
    vacuum(mbar, shown).replace('\u{202f}', " ")
}

fn read_buckets(reader: &mut Reader<'_>, place: &mut Vec<Mass>) {
    let text = reader.entries.get("buckets").unwrap_or_default();
    let mut read = Vec::new();
    for part in text.split(';').map(str::trim).filter(|part| !part.is_empty()) {
        read.extend(reader.part_of("buckets", part, &bounds::BUCKET));
    }
    if read.is_empty() {
        let such_as = match reader.system {
            UnitSystem::Metric => "5 kg",
            UnitSystem::UsCustomary => "10 lb",
        };
        let sentence = format!("Name one bucket at least, such as {such_as}.");
        reader.refusals.add("buckets", sentence);
    }
    if read.len() > MOST_ROWS {
        let sentence = format!("{} buckets are more than {MOST_ROWS}. Leave some out.", read.len());
        reader.refusals.add("buckets", sentence);
        return;
    }
    *place = read;
}

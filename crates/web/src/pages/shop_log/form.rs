//! How a log of the air is to be read.

use fondant_app::Shop;
use fondant_files::logs::air::{AirOptions, Clock};
use fondant_files::logs::{DateOrder, Scale};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::ui::entries::Entries;

/// What the times can be: their word in the form and in words.
pub(super) const CLOCKS: [(&str, &str); 5] = [
    ("written", "as written in the file (Z or +01:00)"),
    ("shop", "on the shop's clock"),
    ("winter", "on the shop's winter time all year"),
    ("utc", "in UTC"),
    ("fixed", "ahead of UTC by the hours below"),
];

/// Scales: their word in the form and in words.
pub(super) const SCALES: [(&str, &str); 3] =
    [("", "as its heading says, else °C"), ("c", "°C"), ("f", "°F")];

/// Orders of dates: their word in the form, in words, and what they are.
pub(super) const ORDERS: [(&str, &str, Option<DateOrder>); 3] = [
    ("", "as the file tells", None),
    ("day", "day first: 31/12/2026", Some(DateOrder::DayFirst)),
    ("month", "month first: 12/31/2026", Some(DateOrder::MonthFirst)),
];

/// Most hours that a clock is ahead of UTC, or behind it.
const MOST_HOURS: f64 = 14.0;

/// Reads the form; `Err` is why the hours are none.
pub(super) fn read(entries: &Entries, shop: &Shop, now: Timestamp) -> Result<AirOptions, String> {
    let zone = shop.hours().zone();
    let clock = match entries.get("clock") {
        Some("shop") => Clock::Place(zone.iana_name().unwrap_or("UTC").to_owned()),
        Some("winter") => Clock::Fixed(winter_s(zone, now)),
        Some("utc") => Clock::Fixed(0),
        Some("fixed") => Clock::Fixed(hours_s(entries.get("hours").unwrap_or_default())?),
        _ => Clock::Written,
    };
    let scale = match entries.get("scale") {
        Some("f") => Some(Scale::Fahrenheit),
        Some("c") => Some(Scale::Celsius),
        _ => None,
    };
    Ok(AirOptions { clock, scale, order: told(entries) })
}

/// The order of dates that the maker tells.
pub(super) fn told(entries: &Entries) -> Option<DateOrder> {
    ORDERS.iter().find(|order| entries.get("dates") == Some(order.0)).and_then(|order| order.2)
}

/// The word for an order of dates.
pub(super) fn word(order: DateOrder) -> &'static str {
    ORDERS.iter().find(|one| one.2 == Some(order)).map_or("", |one| one.0)
}

/// By how much the shop's clock is ahead of UTC when it is not put forward, seconds: the less of
/// January and July.
fn winter_s(zone: &TimeZone, now: Timestamp) -> i32 {
    let year = zone.to_datetime(now).year();
    let of = |month: i8| {
        let noon = jiff::civil::Date::new(year, month, 15).ok()?.at(12, 0, 0, 0);
        let at = zone.to_timestamp(noon).ok()?;
        Some(zone.to_offset(at).seconds())
    };
    of(1).into_iter().chain(of(7)).min().unwrap_or(0)
}

/// Hours with a sign, as 1, +5:30 or -3.
fn hours_s(text: &str) -> Result<i32, String> {
    let text = text.trim();
    let (sign, plain) = match text.strip_prefix(['-', '−']) {
        Some(plain) => (-1.0, plain),
        None => (1.0, text.trim_start_matches('+')),
    };
    let (hours, minutes) = plain.split_once(':').unwrap_or((plain, "0"));
    let hours = hours.replace(',', ".").parse::<f64>();
    let minutes = minutes.parse::<f64>();
    match (hours, minutes) {
        (Ok(hours), Ok(minutes)) if (0.0..=MOST_HOURS).contains(&(hours + minutes / 60.0)) => {
            Ok((sign * (hours * 3600.0 + minutes * 60.0)) as i32)
        }
        _ => Err("Give the hours ahead of UTC, such as 1, +5:30 or -3.".to_owned()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hours_ahead_of_utc_are_read_with_their_sign() {
        assert_eq!(hours_s("1"), Ok(3600));
        assert_eq!(hours_s("+5:30"), Ok(19_800));
        assert_eq!(hours_s("−3,5"), Ok(-12_600));
        for odd in ["", "noon", "15", "1:x"] {
            assert!(hours_s(odd).is_err(), "{odd}");
        }
    }
}

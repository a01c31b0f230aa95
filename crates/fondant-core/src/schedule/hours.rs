//! When somebody is in the shop to mix, pour and sand.

use jiff::civil::{Time, Weekday};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

/// From opening to closing on one day, in the shop's own time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Workday {
    /// First minute in which work can begin.
    pub opens: Time,
    /// Everything is done by then.
    pub closes: Time,
}

/// The shop's hours by weekday, in its time zone.
#[derive(Debug, Clone, PartialEq)]
pub struct ShopHours {
    days: [Option<Workday>; 7],
    zone: TimeZone,
}

/// A stretch of time in which the shop is open.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct OpenSpan {
    /// Opening.
    pub from: Timestamp,
    /// Closing.
    pub to: Timestamp,
}

/// Why hours make no shop.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum HoursError {
    /// A day closes before it opens.
    #[error("The shop closes at {closes} before it opens at {opens}. Closing must be later.")]
    ClosesBeforeOpening {
        /// As entered.
        opens: String,
        /// As entered.
        closes: String,
    },
    /// No day is worked.
    #[error("The shop is never open. Mark at least one day on which somebody can pour.")]
    NeverOpen,
    /// No such time zone.
    #[error("“{0}” is not a time zone. Use a name such as Europe/Lisbon.")]
    UnknownZone(String),
}

impl ShopHours {
    /// Hours from Monday to Sunday; `None` is a day off.
    ///
    /// # Errors
    /// [`HoursError`].
    pub fn new(days: [Option<Workday>; 7], zone: &str) -> Result<Self, HoursError> {
        if days.iter().all(Option::is_none) {
            return Err(HoursError::NeverOpen);
        }
        for day in days.iter().flatten() {
            if day.closes <= day.opens {
                return Err(HoursError::ClosesBeforeOpening {
                    opens: day.opens.strftime("%H:%M").to_string(),
                    closes: day.closes.strftime("%H:%M").to_string(),
                });
            }
        }
        let zone = TimeZone::get(zone).map_err(|_| HoursError::UnknownZone(zone.to_owned()))?;
        Ok(Self { days, zone })
    }

    /// The hours of one weekday.
    #[must_use]
    pub fn on(&self, weekday: Weekday) -> Option<Workday> {
        self.days[usize::from(weekday.to_monday_zero_offset().unsigned_abs())]
    }

    /// The shop's time zone.
    #[must_use]
    pub fn zone(&self) -> &TimeZone {
        &self.zone
    }

    /// The open stretches that end after `from` and begin before `until`.
    ///
    /// Opening and closing are read on the shop's clock, so that a day on which
    /// the clocks change is an hour shorter or longer where the change falls
    /// inside the hours. A clock time that is skipped counts as the moment after.
    #[must_use]
    pub fn spans(&self, from: Timestamp, until: Timestamp) -> Vec<OpenSpan> {
        let mut spans = Vec::new();
        let mut date = from.to_zoned_datetime(self.zone.clone()).date();
        let last = until.to_zoned_datetime(self.zone.clone()).date();
        while date <= last {
            if let Some(day) = self.on(date.weekday()) {
                let at = |time: Time| {
                    date.to_datetime(time)
                        .to_zoned_datetime(self.zone.clone())
                        .map(|zoned| zoned.timestamp())
                };
                if let (Ok(opens), Ok(closes)) = (at(day.opens), at(day.closes))
                    && opens < closes
                    && closes > from
                    && opens < until
                {
                    spans.push(OpenSpan { from: opens, to: closes });
                }
            }
            let Ok(next) = date.tomorrow() else { break };
            date = next;
        }
        spans
    }
}

impl OpenSpan {
    /// How long it is open.
    #[must_use]
    pub fn length(&self) -> SignedDuration {
        self.to.duration_since(self.from)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(opens: i8, closes: i8) -> Option<Workday> {
        Some(Workday {
            opens: Time::constant(opens, 0, 0, 0),
            closes: Time::constant(closes, 0, 0, 0),
        })
    }

    fn at(text: &str) -> Timestamp {
        text.parse().unwrap()
    }

    #[test]
    fn days_off_and_nights_are_left_out() {
        let mut days = [day(8, 18); 7];
        days[6] = None;
        let hours = ShopHours::new(days, "Europe/Lisbon").unwrap();
        // 2026-11-21 is a Saturday; Lisbon keeps UTC in winter.
        let spans = hours.spans(at("2026-11-21T12:00:00Z"), at("2026-11-23T20:00:00Z"));
        assert_eq!(
            spans,
            [
                OpenSpan { from: at("2026-11-21T08:00:00Z"), to: at("2026-11-21T18:00:00Z") },
                OpenSpan { from: at("2026-11-23T08:00:00Z"), to: at("2026-11-23T18:00:00Z") },
            ]
        );
    }

    #[test]
    fn the_clock_change_makes_a_night_shift_an_hour_longer_or_shorter() {
        let hours = ShopHours::new([day(0, 6); 7], "Europe/Lisbon").unwrap();
        let length = |date: &str| {
            let noon = at(&format!("{date}T12:00:00Z"));
            let early = noon - SignedDuration::from_hours(11);
            hours.spans(early, noon)[0].length().as_hours()
        };
        assert_eq!(length("2026-03-28"), 6);
        assert_eq!(length("2026-03-29"), 5, "clocks go forward");
        assert_eq!(length("2026-10-25"), 7, "clocks go back");
    }

    #[test]
    fn impossible_hours_are_refused() {
        assert_eq!(ShopHours::new([None; 7], "UTC"), Err(HoursError::NeverOpen));
        assert!(matches!(
            ShopHours::new([day(18, 8); 7], "UTC"),
            Err(HoursError::ClosesBeforeOpening { .. })
        ));
        assert!(matches!(
            ShopHours::new([day(8, 18); 7], "Middle/Earth"),
            Err(HoursError::UnknownZone(_))
        ));
    }
}

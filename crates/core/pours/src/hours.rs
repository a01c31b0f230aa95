//! When somebody is in the shop to mix, pour and sand.

use jiff::civil::{Date, Time, Weekday};
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

/// Other hours on one date.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Exception {
    /// The date.
    pub date: Date,
    /// Its hours; none where the shop is closed.
    pub hours: Vec<Workday>,
}

/// The shop's hours by weekday, in its time zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "KeptHours", into = "KeptHours")]
pub struct ShopHours {
    days: [Vec<Workday>; 7],
    exceptions: Vec<Exception>,
    zone: TimeZone,
}

/// Hours as they are kept and sent.
#[derive(Serialize, Deserialize)]
struct KeptHours {
    days: [Vec<Workday>; 7],
    exceptions: Vec<Exception>,
    zone: String,
}

impl From<ShopHours> for KeptHours {
    fn from(hours: ShopHours) -> Self {
        // Zones come from their names, see `ShopHours::new`.
        let zone = hours.zone.iana_name().unwrap_or("UTC").to_owned();
        Self { days: hours.days, exceptions: hours.exceptions, zone }
    }
}

impl TryFrom<KeptHours> for ShopHours {
    type Error = HoursError;

    fn try_from(kept: KeptHours) -> Result<Self, HoursError> {
        Self::new(kept.days, &kept.zone)?.with_exceptions(&kept.exceptions)
    }
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
    /// A stretch has no length, or goes past midnight and is not the last of its day.
    #[error("closes at {closes}, before it opens at {opens}")]
    ClosesBeforeOpening {
        /// Opening time as entered.
        opens: String,
        /// Closing time as entered.
        closes: String,
    },
    /// Two stretches of a day overlap.
    #[error("{first} and {second} overlap")]
    Overlap {
        /// The one that begins first.
        first: String,
        /// The one that begins before it ends.
        second: String,
    },
    /// The text is not a list of hours.
    #[error("“{0}” is not a stretch of hours")]
    Unreadable(String),
    /// No day is worked.
    #[error("never open")]
    NeverOpen,
    /// No such time zone.
    #[error("“{0}” is not a time zone")]
    UnknownZone(String),
}

impl Workday {
    /// Reads the hours of a day: stretches such as `08:00–12:00`, parted by
    /// commas, in order of time. The last may go on past midnight: `18:00–02:00`. `00:00–24:00` is
    /// the whole day, an empty text or `closed` a day off.
    ///
    /// # Errors
    /// [`HoursError`] for what cannot be read, has no length or overlaps.
    pub fn read_day(text: &str) -> Result<Vec<Self>, HoursError> {
        let text = text.trim();
        if text.is_empty() || text.eq_ignore_ascii_case("closed") {
            return Ok(Vec::new());
        }
        let unreadable = || HoursError::Unreadable(text.to_owned());
        let mut day = Vec::new();
        for stretch in text.split(',') {
            let (opens, closes) = stretch.split_once(['–', '-', '—']).ok_or_else(unreadable)?;
            let clock = |text: &str| {
                let text = text.trim();
                let whole = if text.contains(':') { text.to_owned() } else { format!("{text}:00") };
                if whole == "24:00" {
                    return Ok(Time::midnight());
                }
                Time::strptime("%H:%M", &whole).map_err(|_| unreadable())
            };
            day.push(Self { opens: clock(opens)?, closes: clock(closes)? });
        }
        day.sort_by_key(|stretch| stretch.opens);
        Self::check_day(&day)?;
        Ok(day)
    }

    fn check_day(day: &[Self]) -> Result<(), HoursError> {
        // The last stretch of a day may go on past midnight; from midnight to midnight is the whole day.
        let earlier = &day[..day.len().saturating_sub(1)];
        let is_wrong = |stretch: &&Self| stretch.closes <= stretch.opens;
        let none = day.last().filter(|last| last.closes == last.opens && !last.is_whole_day());
        if let Some(wrong) = earlier.iter().find(is_wrong).or(none) {
            return Err(HoursError::ClosesBeforeOpening {
                opens: wrong.opens.strftime("%H:%M").to_string(),
                closes: wrong.closes.strftime("%H:%M").to_string(),
            });
        }
        match day.windows(2).find(|pair| pair[1].opens < pair[0].closes) {
            Some(pair) => {
                Err(HoursError::Overlap { first: pair[0].written(), second: pair[1].written() })
            }
            None => Ok(()),
        }
    }

    fn is_whole_day(&self) -> bool {
        self.opens == Time::midnight() && self.closes == Time::midnight()
    }

    /// `08:00–18:00`; the end of a day is `24:00`.
    #[must_use]
    pub fn written(&self) -> String {
        let closes = match self.closes {
            midnight if midnight == Time::midnight() => "24:00".to_owned(),
            closes => closes.strftime("%H:%M").to_string(),
        };
        format!("{}–{closes}", self.opens.strftime("%H:%M"))
    }

    /// The stretches of a day as [`Workday::read_day`] reads them.
    #[must_use]
    pub fn write_day(day: &[Self]) -> String {
        day.iter().map(Self::written).collect::<Vec<_>>().join(", ")
    }
}

impl ShopHours {
    /// Hours from Monday to Sunday; a day without any is a day off.
    ///
    /// # Errors
    /// [`HoursError`].
    pub fn new<D: IntoIterator<Item = Workday>>(
        days: [D; 7],
        zone: &str,
    ) -> Result<Self, HoursError> {
        let days = days.map(|day| day.into_iter().collect::<Vec<_>>());
        if days.iter().all(Vec::is_empty) {
            return Err(HoursError::NeverOpen);
        }
        for day in &days {
            Workday::check_day(day)?;
        }
        let zone = TimeZone::get(zone).map_err(|_| HoursError::UnknownZone(zone.to_owned()))?;
        Ok(Self { days, exceptions: Vec::new(), zone })
    }

    /// With other hours on some dates; of two on the same date the last holds.
    ///
    /// # Errors
    /// [`HoursError`] for hours that run backwards or overlap.
    pub fn with_exceptions(mut self, exceptions: &[Exception]) -> Result<Self, HoursError> {
        for exception in exceptions {
            Workday::check_day(&exception.hours)?;
        }
        self.exceptions.extend_from_slice(exceptions);
        Ok(self)
    }

    /// The usual hours of a weekday.
    #[must_use]
    pub fn on(&self, weekday: Weekday) -> &[Workday] {
        &self.days[usize::from(weekday.to_monday_zero_offset().unsigned_abs())]
    }

    /// The hours of a date.
    #[must_use]
    pub fn on_date(&self, date: Date) -> &[Workday] {
        match self.exceptions.iter().rev().find(|exception| exception.date == date) {
            Some(exception) => &exception.hours,
            None => self.on(date.weekday()),
        }
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
        let mut spans: Vec<OpenSpan> = Vec::new();
        let first = from.to_zoned_datetime(self.zone.clone()).date();
        // A stretch of the day before may go on past midnight.
        let mut date = first.yesterday().unwrap_or(first);
        let last = until.to_zoned_datetime(self.zone.clone()).date();
        while date <= last {
            for day in self.on_date(date) {
                if let Some(span) = self.span(date, *day).filter(|s| s.to > from && s.from < until)
                {
                    // Stretches that touch are one: nobody leaves between them.
                    match spans.last_mut().filter(|last| last.to >= span.from) {
                        Some(last) => last.to = last.to.max(span.to),
                        None => spans.push(span),
                    }
                }
            }
            let Ok(next) = date.tomorrow() else { break };
            date = next;
        }
        spans
    }

    /// A stretch of a date; `None` where the clocks leave nothing of it.
    fn span(&self, date: Date, day: Workday) -> Option<OpenSpan> {
        let at = |date: Date, time: Time| {
            let zoned = date.to_datetime(time).to_zoned_datetime(self.zone.clone());
            zoned.ok().map(|zoned| zoned.timestamp())
        };
        let closing = if day.closes <= day.opens { date.tomorrow().ok()? } else { date };
        let span = OpenSpan { from: at(date, day.opens)?, to: at(closing, day.closes)? };
        (span.from < span.to).then_some(span)
    }

    /// Whether all of a stretch of time lies in one opening.
    #[must_use]
    pub fn is_open(&self, from: Timestamp, to: Timestamp) -> bool {
        self.spans(from, to).iter().any(|span| span.from <= from && to <= span.to)
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
mod tests;

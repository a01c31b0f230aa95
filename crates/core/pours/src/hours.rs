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

    /// Touching stretches were never joined, and none crossed midnight: a pour over noon or over
    /// midnight was outside the hours.
    #[test]
    fn stretches_that_touch_are_one_and_a_late_one_goes_past_midnight() {
        let day = Workday::read_day("08:00-12:00, 12:00-16:00, 20:00-02:00").unwrap();
        let hours =
            ShopHours::new([const { Vec::new() }; 7].map(|_: Vec<Workday>| day.clone()), "UTC");
        let hours = hours.unwrap();
        assert!(hours.is_open(at("2026-11-23T11:30:00Z"), at("2026-11-23T12:30:00Z")));
        assert!(hours.is_open(at("2026-11-23T23:30:00Z"), at("2026-11-24T01:30:00Z")));
        assert!(!hours.is_open(at("2026-11-24T01:30:00Z"), at("2026-11-24T02:30:00Z")));
        let spans = hours.spans(at("2026-11-24T00:30:00Z"), at("2026-11-24T12:30:00Z"));
        assert_eq!(
            spans,
            [
                OpenSpan { from: at("2026-11-23T20:00:00Z"), to: at("2026-11-24T02:00:00Z") },
                OpenSpan { from: at("2026-11-24T08:00:00Z"), to: at("2026-11-24T16:00:00Z") },
            ]
        );
        // Round the clock: midnight parts nothing.
        let always = Workday::read_day("00:00-12:00, 12:00-00:00").unwrap();
        let always =
            ShopHours::new([const { Vec::new() }; 7].map(|_: Vec<Workday>| always.clone()), "UTC");
        let week = always.unwrap().spans(at("2026-11-23T05:00:00Z"), at("2026-11-30T05:00:00Z"));
        assert_eq!(week.len(), 1);
        for wrong in ["08:00-08:00", "20:00-02:00, 22:00-23:00", "10:00-09:00, 12:00-13:00"] {
            assert!(Workday::read_day(wrong).is_err(), "{wrong}");
        }
    }

    #[test]
    fn a_shop_at_home_is_open_round_the_clock() {
        let whole = Workday::read_day("0-24").unwrap();
        assert_eq!(whole, Workday::read_day("00:00–24:00").unwrap());
        assert_eq!(whole[0].written(), "00:00–24:00");
        assert_eq!(Workday::read_day(&whole[0].written()).unwrap(), whole);
        let evening = Workday::read_day("18:00-24:00").unwrap();
        assert_eq!(evening[0].written(), "18:00–24:00");
        let days = std::array::from_fn(|_| whole.clone());
        // Over the night in which the clocks go forward, too.
        let hours = ShopHours::new(days, "Europe/Lisbon").unwrap();
        let (from, to): (Timestamp, Timestamp) =
            ("2026-03-27T12:00:00Z".parse().unwrap(), "2026-03-30T12:00:00Z".parse().unwrap());
        assert_eq!(hours.spans(from, to).len(), 1);
        assert!(hours.is_open(from, to));
        for wrong in ["12:00-12:00", "25-26", "0-24, 8-9"] {
            assert!(Workday::read_day(wrong).is_err(), "{wrong}");
        }
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
        assert_eq!(
            ShopHours::new([const { None::<Workday> }; 7], "UTC"),
            Err(HoursError::NeverOpen)
        );
        assert!(matches!(
            ShopHours::new([day(18, 18); 7], "UTC"),
            Err(HoursError::ClosesBeforeOpening { .. })
        ));
        assert!(matches!(
            ShopHours::new([day(8, 18); 7], "Middle/Earth"),
            Err(HoursError::UnknownZone(_))
        ));
    }

    #[test]
    fn a_day_may_have_a_break_and_a_date_its_own_hours() {
        let day = Workday::read_day("13-18, 8:00 – 12:30").unwrap();
        assert_eq!(Workday::write_day(&day), "08:00–12:30, 13:00–18:00");
        let mut days = [const { Vec::new() }; 7];
        days[6] = day;
        let hours = ShopHours::new(days, "UTC").unwrap();
        // 2026-11-22 and 29 are Sundays.
        let closed = Exception { date: "2026-11-29".parse().unwrap(), hours: Vec::new() };
        let early = Exception {
            date: "2026-11-23".parse().unwrap(),
            hours: Workday::read_day("06:30-09:00").unwrap(),
        };
        let hours = hours.with_exceptions(&[closed, early]).unwrap();
        let spans = hours.spans(at("2026-11-22T00:00:00Z"), at("2026-12-01T00:00:00Z"));
        assert_eq!(spans.len(), 3);
        assert_eq!(spans[2].from, at("2026-11-23T06:30:00Z"));
        assert!(hours.is_open(at("2026-11-22T08:00:00Z"), at("2026-11-22T12:30:00Z")));
        assert!(!hours.is_open(at("2026-11-22T12:00:00Z"), at("2026-11-22T13:30:00Z")));
    }

    #[test]
    fn hours_that_overlap_or_say_nothing_are_refused() {
        let refused = |text: &str| Workday::read_day(text).unwrap_err();
        let overlap =
            HoursError::Overlap { first: "08:00–12:00".into(), second: "11:30–18:00".into() };
        assert_eq!(refused("08:00-12:00, 11:30-18:00"), overlap);
        for text in ["mornings", "25:00-26:00"] {
            assert_eq!(refused(text), HoursError::Unreadable(text.into()));
        }
        assert_eq!(Workday::read_day("closed"), Ok(Vec::new()));
    }
}

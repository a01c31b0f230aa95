use super::*;

fn day(opens: i8, closes: i8) -> Option<Workday> {
    Some(Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) })
}

fn at(text: &str) -> Timestamp {
    text.parse().unwrap()
}

/// Touching stretches were never joined, and none crossed midnight: a pour over noon or over
/// midnight was outside the hours.
#[test]
fn stretches_that_touch_are_one_and_a_late_one_goes_past_midnight() {
    let day = Workday::read_day("08:00-12:00, 12:00-16:00, 20:00-02:00").unwrap();
    let hours = ShopHours::new([const { Vec::new() }; 7].map(|_: Vec<Workday>| day.clone()), "UTC");
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
    assert_eq!(ShopHours::new([const { None::<Workday> }; 7], "UTC"), Err(HoursError::NeverOpen));
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

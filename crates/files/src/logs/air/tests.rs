//! Logs as loggers write them, and what is wrong with others.

use super::*;
use proptest::prelude::*;

fn lisbon() -> Clock {
    Clock::Place("Europe/Lisbon".to_owned())
}

fn read_by(text: &str, clock: Clock, scale: Scale) -> Result<AirLog, AirLogError> {
    let options = AirOptions { clock, scale: Some(scale), order: None };
    read(text, &options).map(|read| read.log)
}

fn plain(text: &str) -> Result<ReadAir, AirLogError> {
    read(text, &AirOptions { clock: lisbon(), scale: None, order: None })
}

#[test]
fn the_ways_of_writing_a_log_are_understood() {
    for text in [
        "time,temp,rh\n2026-11-23T06:00:00Z,14.5,62\n2026-11-23T06:15:00Z,14.7,61",
        "2026-11-23 06:00;14,5;62\n2026-11-23 06:15;14,7;61",
        "\"2026-11-23\",\"06:00:00\",14.5,62\n2026-11-23,06:15:00,14.7,61",
        "2026-11-23T07:00:00+01:00\t14.5 °C\t62 %\n2026-11-23T07:15:00+01:00\t14.7\t61",
    ] {
        let log = read_by(text, lisbon(), Scale::Celsius).unwrap_or_else(|e| panic!("{text}: {e}"));
        assert_eq!(log.readings.len(), 2, "{text}");
        assert_eq!(log.readings[0].at, "2026-11-23T06:00:00Z".parse().unwrap(), "{text}");
        assert!((log.readings[1].temperature.celsius() - 14.7).abs() < 1e-9);
        assert!((log.readings[1].humidity_percent - 61.0).abs() < 1e-9);
    }
}

#[test]
fn local_times_without_a_zone_are_refused_until_somebody_says_whose() {
    let text = "2026-11-23 06:00, 14.5, 62\n2026-11-23 06:15, 14.7, 61";
    let refused = read_by(text, Clock::Written, Scale::Celsius);
    assert!(matches!(refused, Err(AirLogError::NoZone { line: 1, .. })));
    assert!(read_by(text, lisbon(), Scale::Celsius).is_ok());
}

#[test]
fn the_hour_that_comes_twice_is_read_twice() {
    let text: String = ["00:30", "01:00", "01:30", "01:00", "01:30", "02:00"]
        .map(|clock| format!("2026-10-25 {clock};15\n"))
        .concat();
    let log = read_by(&text, lisbon(), Scale::Celsius).unwrap();
    let first = log.readings[0].at;
    let hour = |at: Timestamp| at.duration_since(first).as_secs_f64() / 3600.0;
    let hours: Vec<f64> = log.readings.iter().map(|r| hour(r.at)).collect();
    assert_eq!(hours, [0.0, 0.5, 1.0, 1.5, 2.0, 2.5]);
}

/// "Humidity before temperature is read wrongly, °F headings as °C."
#[test]
fn a_heading_says_which_column_is_which() {
    let text = "#;Date;Time;Humidity (%);Temp (°F)\n1;23.11.2026;06:00;62;59,0\n\
                2;23.11.2026;06:15;;\n3;23.11.2026;06:30;61;68,0\nEnd of log;;;;\n";
    let read = plain(text).unwrap();
    assert_eq!((read.scale, read.blank, read.footer), (Scale::Fahrenheit, 1, 1));
    let [first, last] = &read.log.readings[..] else { panic!("{read:?}") };
    assert!((first.temperature.celsius() - 15.0).abs() < 1e-9);
    assert!((last.humidity_percent - 61.0).abs() < 1e-9);
}

#[test]
fn dates_that_may_be_read_both_ways_are_asked_for_unless_the_log_tells() {
    let day = |month: u32, day: u32| format!("{month:02}/{day:02}/2026 06:00,15\n");
    let both = day(3, 4);
    let asked = plain(&both);
    assert!(matches!(asked, Err(AirLogError::EitherOrder { line: 1, .. })), "{asked:?}");
    let order = Some(DateOrder::MonthFirst);
    let told = read(&both, &AirOptions { clock: lisbon(), scale: None, order }).unwrap();
    assert_eq!(told.log.readings[0].at, "2026-03-04T06:00:00Z".parse().unwrap());
    // Day by day, it can only be the month that stands first.
    let days = [day(3, 4), day(3, 5), day(3, 6)].concat();
    assert_eq!(plain(&days).unwrap().order, order);
}

#[test]
fn the_newest_first_and_rows_with_numbers_are_read() {
    let text = "1,2026-11-23 06:30,15,60\n2,2026-11-23 06:15,14,61\n3,2026-11-23 06:00,13,62\n";
    let read = plain(text).unwrap();
    assert!(read.was_descending);
    assert!((read.log.readings[0].temperature.celsius() - 13.0).abs() < 1e-9);
    assert!((read.log.readings[0].humidity_percent - 62.0).abs() < 1e-9);
}

#[test]
fn a_clock_that_is_never_changed_and_an_hour_that_never_was() {
    let text = "2026-03-29 00:30;15\n2026-03-29 01:30;15\n2026-03-29 02:30;15";
    let read = plain(text).unwrap();
    assert_eq!(read.missing, 1);
    let options = AirOptions { clock: Clock::Fixed(3600), scale: None, order: None };
    let fixed = super::read(text, &options).unwrap();
    assert_eq!((fixed.missing, fixed.log.rows), (0, 3));
    assert_eq!(fixed.log.readings[0].at, "2026-03-28T23:30:00Z".parse().unwrap());
}

#[test]
fn what_is_wrong_is_said_with_its_line() {
    let after_a_good_line = |text: &str| {
        let text = format!("2026-11-23T06:00Z,14.5\n{text}");
        read_by(&text, Clock::Written, Scale::Celsius).unwrap_err()
    };
    let back = after_a_good_line("2026-11-23T08:00Z,14.5\n2026-11-23T07:00Z,14.5");
    assert_eq!(back, AirLogError::BackInTime { line: 3 });
    let rain = AirLogError::NotAReading { line: 2, text: "rain".into() };
    assert_eq!(after_a_good_line("rain\n2026-11-23T07:00Z,14.5"), rain);
    let hot = after_a_good_line("2026-11-23T07:00Z,93");
    assert_eq!(hot, AirLogError::Temperature { line: 2, celsius: 93.0 });
    let wet = after_a_good_line("2026-11-23T07:00Z,20,130");
    assert_eq!(wet, AirLogError::Humidity { line: 2, percent: 130.0 });
    assert_eq!(read_by("", Clock::Written, Scale::Celsius), Err(AirLogError::Empty));
}

#[test]
fn fahrenheit_is_read_as_such() {
    let text = "2026-11-23T06:00Z,59\n2026-11-23T06:15Z,68";
    let log = read_by(text, Clock::Written, Scale::Fahrenheit).unwrap();
    assert!((log.readings[0].temperature.celsius() - 15.0).abs() < 1e-9);
}

#[test]
fn more_rows_than_any_log_has_are_refused() {
    let text = "2026-01-01T00:00:00Z,15\n".repeat(MOST_ROWS + 1);
    assert_eq!(read_by(&text, Clock::Written, Scale::Celsius), Err(AirLogError::TooLong));
}

proptest! {
    #[test]
    fn any_text_is_read_or_refused(text in "[0-9TZ ,;:.\"\n-]{0,160}") {
        if let Ok(log) = read_by(&text, lisbon(), Scale::Celsius) {
            prop_assert!(log.readings.windows(2).all(|p| p[1].at >= p[0].at));
        }
    }
}

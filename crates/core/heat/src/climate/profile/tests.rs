use super::*;
use proptest::prelude::*;

fn lisbon() -> TimeZone {
    TimeZone::get("Europe/Lisbon").unwrap()
}

fn at(text: &str) -> Timestamp {
    text.parse().unwrap()
}

fn c(celsius: f64) -> Temperature {
    Temperature::from_celsius(celsius)
}

fn point(hour: i8, celsius: f64) -> ClockPoint {
    ClockPoint {
        time: Time::constant(hour, 0, 0, 0),
        temperature: c(celsius),
        humidity_percent: 60.0,
    }
}

fn points(points: Vec<ClockPoint>) -> Profile {
    Profile { by: Way::Points, points, ..Profile::default() }
}

fn logged() -> Profile {
    Profile { by: Way::Logged, ..Profile::default() }
}

#[test]
fn profiles_from_when_one_way_was_kept_are_still_read() {
    let read = |text: &str| serde_json::from_str::<Profile>(text).unwrap();
    let room = r#"{"kind":"forecast","indoor":{"offset_k":6.0,"lag_s":3600.0,"added_pa":80.0,"set_point_k":291.15}}"#;
    let profile = read(room);
    assert_eq!(profile.by, Way::Forecast);
    assert_eq!(profile.indoor.set_point, Some(Temperature::from_k(291.15)));
    assert_eq!(profile.constant, Constant::default());
    let steady = read(r#"{"kind":"constant","t_k":290.0,"humidity_percent":61.0}"#);
    assert_eq!(steady, Profile::constant(Temperature::from_k(290.0), 61.0));
    let night = read(
        r#"{"kind":"day_night","coldest_k":285.0,"warmest_k":293.0,"warmest_at":"14:00:00","humidity_percent":60.0}"#,
    );
    assert_eq!((night.by, night.day_night.coldest), (Way::DayNight, Temperature::from_k(285.0)));
    let points = read(
        r#"{"kind":"points","points":[{"time":"06:00:00","t_k":285.0,"humidity_percent":60.0}]}"#,
    );
    assert_eq!((points.by, points.points.len()), (Way::Points, 1));
    assert_eq!(read(r#"{"kind":"logged"}"#).by, Way::Logged);
    let text = serde_json::to_string(&profile).unwrap();
    assert_eq!(serde_json::from_str::<Profile>(&text).unwrap(), profile, "{text}");
}

#[test]
fn another_way_is_tried_and_nothing_is_lost() {
    let indoor = Indoor { dry_to_percent: Some(55.0), ..Indoor::default() };
    let room = Profile { by: Way::Forecast, indoor, ..Profile::default() };
    let tried = Profile { by: Way::Logged, ..room.clone() };
    let text = serde_json::to_string(&tried).unwrap();
    let back = Profile { by: Way::Forecast, ..serde_json::from_str(&text).unwrap() };
    assert_eq!(back, room);
}

#[test]
fn the_day_is_warmest_by_the_shops_clock_also_across_a_clock_change() {
    let day_night = DayNight { coldest: c(14.0), warmest: c(22.0), ..DayNight::default() };
    let profile = Profile { by: Way::DayNight, day_night, ..Profile::default() };
    // Clocks go back on 25 October 2026: 15:00 is 14:00 UTC before, 15:00 UTC after.
    let (from, to) = (at("2026-10-23T00:00:00Z"), at("2026-10-28T00:00:00Z"));
    let air = profile.series(&lisbon(), from, to, Known::default()).unwrap();
    for moment in ["2026-10-24T14:00:00Z", "2026-10-26T15:00:00Z"] {
        assert!((air.at(at(moment)).temperature.celsius() - 22.0).abs() < 1e-6, "{moment}");
    }
    let (cold, warm) = (air.at(at("2026-10-26T03:00:00Z")), air.at(at("2026-10-26T15:00:00Z")));
    assert!(cold.humidity_percent > warm.humidity_percent + 15.0);
}

#[test]
fn points_run_over_midnight() {
    let profile = points(vec![point(6, 12.0), point(18, 24.0)]);
    let (from, to) = (at("2026-12-01T00:00:00Z"), at("2026-12-02T00:00:00Z"));
    let air = profile.series(&TimeZone::UTC, from, to, Known::default()).unwrap();
    assert!((air.at(from).temperature.celsius() - 18.0).abs() < 1e-9);
    assert!((air.at(at("2026-12-01T12:00:00Z")).temperature.celsius() - 18.0).abs() < 1e-9);
}

#[test]
fn what_is_no_profile_is_refused() {
    let one = points(vec![point(6, 12.0)]);
    assert_eq!(one.check(), Err(ProfileError::TooFewPoints { found: 1 }));
    let back = points(vec![point(6, 12.0), point(5, 12.0)]);
    assert!(matches!(back.check(), Err(ProfileError::OutOfOrder { .. })));
    let (from, to) = (at("2026-12-01T00:00:00Z"), at("2026-12-02T00:00:00Z"));
    let none = logged().series(&TimeZone::UTC, from, to, Known::default());
    assert_eq!(none, Err(ProfileError::NoLog));
}

#[test]
fn a_log_with_a_gap_is_filled_with_its_usual_day() {
    let start = at("2026-12-01T00:00:00Z");
    let readings: Vec<AirAt> = (0..72)
        .filter(|hour| !(30..42).contains(hour))
        .map(|hour| AirAt {
            at: start + SignedDuration::from_hours(hour),
            temperature: c(if hour % 24 < 12 { 15.0 } else { 21.0 }),
            humidity_percent: 60.0,
        })
        .collect();
    let known = Known { readings: &readings, outside: None };
    let to = at("2026-12-06T00:00:00Z");
    let air = logged().series(&TimeZone::UTC, start, to, known).unwrap();
    let in_gap = air.at(at("2026-12-02T09:00:00Z")).temperature.celsius();
    assert!((in_gap - 15.0).abs() < 0.01, "a straight line over the gap would be 18: {in_gap}");
    assert!((air.at(at("2026-12-05T20:00:00Z")).temperature.celsius() - 21.0).abs() < 0.01);
}

proptest! {
    #[test]
    fn any_day_of_points_stays_within_its_points(
        celsius in proptest::collection::vec(5.0f64..35.0, 2..8),
        hours in 0i64..200,
    ) {
        let day: Vec<ClockPoint> =
            celsius.iter().enumerate().map(|(i, t)| point(i as i8 * 3, *t)).collect();
        let from = at("2026-12-01T00:00:00Z");
        let air = points(day)
            .series(&lisbon(), from, from + SignedDuration::from_hours(240), Known::default())
            .unwrap();
        let found = air.at(from + SignedDuration::from_hours(hours)).temperature.celsius();
        let low = celsius.iter().copied().fold(f64::MAX, f64::min);
        let high = celsius.iter().copied().fold(f64::MIN, f64::max);
        prop_assert!(low - 1e-9 <= found && found <= high + 1e-9);
    }
}

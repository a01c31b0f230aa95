//! The shop's coming week: when somebody is there, and in what air.

use fondant_heat::climate::AirSeries;
use fondant_pours::{OpenSpan, ShopHours};
use fondant_quantities::Temperature;
use jiff::{SignedDuration, Timestamp};

use crate::svg::{Frame, Markup, Svg};
use crate::ui::units::Shown;

/// Data of the drawing.
pub(crate) struct ShopWeek<'a> {
    /// When it is open, dates with other hours included.
    pub(crate) hours: &'a ShopHours,
    /// Air of the shop over the week.
    pub(crate) air: &'a AirSeries,
    /// The current time, UTC.
    pub(crate) now: Timestamp,
    /// Units.
    pub(crate) shown: Shown,
}

const DAYS: usize = 7;
/// The panel of the air.
const TOP: f64 = 26.0;
const BOTTOM: f64 = 156.0;
/// The row of opening hours under it.
const HOURS_PX: f64 = 30.0;
/// Hours are written where their day is at least this wide.
const HOURS_FIT_PX: f64 = 96.0;

/// Draws seven days from the last midnight on.
#[must_use]
pub(crate) fn draw(view: &ShopWeek<'_>, frame: Frame) -> Markup {
    let zone = view.hours.zone();
    let mut date = view.now.to_zoned_datetime(zone.clone()).date();
    let mut midnights = Vec::with_capacity(DAYS + 1);
    for _ in 0..=DAYS {
        let (Ok(midnight), Ok(next)) = (date.to_zoned_datetime(zone.clone()), date.tomorrow())
        else {
            return Markup::default();
        };
        midnights.push(midnight.timestamp());
        date = next;
    }
    let (from, to) = (midnights[0], midnights[DAYS]);
    let (left, right) = (44.0, frame.width - 10.0);
    let floor = BOTTOM + HOURS_PX;
    let x = |at: Timestamp| {
        let share = at.duration_since(from).as_secs_f64() / to.duration_since(from).as_secs_f64();
        left + (right - left) * share.clamp(0.0, 1.0)
    };
    let title = "The shop's hours and air over the coming week";
    let mut svg = Svg::new(frame.class, frame.width, floor + 24.0, title);
    svg.rect("night", left, TOP, right - left, floor - TOP);
    let open = view.hours.spans(from, to);
    for span in &open {
        let (x1, x2) = (x(span.from), x(span.to));
        svg.rect("open", x1, TOP, x2 - x1, floor - TOP);
        svg.rect("open-bar", x1, floor - 5.0, x2 - x1, 5.0);
    }
    if view.now >= from {
        svg.line("now", x(view.now), TOP, x(view.now), floor);
        svg.text("mid s12 hot bold halo", x(view.now).max(left + 12.0), floor + 16.0, "now");
    }
    // Above the line of now, which goes through the figures of the hours while the shop is open.
    days(&mut svg, view, (&midnights, &open), frame, &x);
    air(&mut svg, view, (from, to), left, &x);
    svg.finish()
}

/// The days with their names and hours.
fn days(
    svg: &mut Svg,
    view: &ShopWeek<'_>,
    (midnights, open): (&[Timestamp], &[OpenSpan]),
    frame: Frame,
    x: &dyn Fn(Timestamp) -> f64,
) {
    let zone = view.hours.zone();
    let floor = BOTTOM + HOURS_PX;
    for pair in midnights.windows(2) {
        svg.line("gridline", x(pair[1]), TOP, x(pair[1]), floor);
        let middle = 0.5 * (x(pair[0]) + x(pair[1]));
        let day = pair[0].to_zoned_datetime(zone.clone());
        let name = if frame.is_narrow() { "%a" } else { "%a %-d" };
        svg.text("mid s12 bold", middle, 16.0, &day.strftime(name).to_string());
        if x(pair[1]) - x(pair[0]) >= HOURS_FIT_PX {
            let at = |moment: Timestamp| {
                moment.to_zoned_datetime(zone.clone()).strftime("%H:%M").to_string()
            };
            let within = |span: &&OpenSpan| span.from >= pair[0] && span.from < pair[1];
            let stretches: Vec<&OpenSpan> = open.iter().filter(within).collect();
            let (place, words) = match stretches[..] {
                [] => (middle, "closed".to_owned()),
                [one] => {
                    let words = format!("{}–{}", at(one.from), at(one.to));
                    (0.5 * (x(one.from) + x(one.to)), words)
                }
                _ => (middle, format!("{} stretches", stretches.len())),
            };
            let is_today = (pair[0]..pair[1]).contains(&view.now);
            let class = if is_today { "mid s12 soft halo" } else { "mid s12 soft" };
            svg.text(class, place, floor - 11.0, &words);
        }
    }
}

/// Temperature and dew point over the days.
fn air(
    svg: &mut Svg,
    view: &ShopWeek<'_>,
    (from, to): (Timestamp, Timestamp),
    left: f64,
    x: &dyn Fn(Timestamp) -> f64,
) {
    let (low, high) = view.air.range(from, to);
    let hours = to.duration_since(from).as_hours();
    let moments: Vec<Timestamp> =
        (0..=hours).map(|hour| from + SignedDuration::from_hours(hour)).collect();
    let dew = |at: Timestamp| view.air.dew_point(at).k();
    let lowest = moments.iter().map(|at| dew(*at)).fold(low.k(), f64::min) - 1.0;
    let highest = high.k() + 1.0;
    let y = |k: f64| BOTTOM - (BOTTOM - TOP) * (k - lowest) / (highest - lowest).max(1.0);
    let label = |k: f64| view.shown.temperature(Temperature::from_k(k));
    svg.text("end s12 soft", left - 6.0, y(high.k()) + 4.0, &label(high.k()));
    // Air that stays the same needs no second figure on top of the first.
    if y(low.k()) - y(high.k()) > 14.0 {
        svg.text("end s12 soft", left - 6.0, y(low.k()) + 4.0, &label(low.k()));
    }
    let line = |value: &dyn Fn(Timestamp) -> f64| -> Vec<(f64, f64)> {
        moments.iter().map(|at| (x(*at), y(value(*at)))).collect()
    };
    svg.polyline("curve-air", &line(&dew));
    svg.polyline("curve-ink", &line(&|at| view.air.at(at).temperature.k()));
}

/// What the lines and shades mean, with the range of the humidity.
#[must_use]
pub(crate) fn legend(air: &AirSeries, now: Timestamp) -> String {
    let humid = (0..=24 * DAYS as i64)
        .map(|hour| air.at(now + SignedDuration::from_hours(hour)).humidity_percent);
    let (driest, dampest) = humid.fold((100.0f64, 0.0f64), |(a, b), h| (a.min(h), b.max(h)));
    let range = match (format!("{driest:.0}"), format!("{dampest:.0}")) {
        (driest, dampest) if driest == dampest => driest,
        (driest, dampest) => format!("{driest} to {dampest}"),
    };
    format!(
        "Line: air; dotted: its dew point. Humidity {range}\u{202f}%. Shaded: closed; brass: somebody is there."
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, begin, hours};
    use crate::svg::{FULL, NARROW};
    use fondant_heat::climate::AirAt;
    use fondant_pours::Exception;

    fn drawn(hours: &ShopHours, frame: Frame) -> String {
        let air = AirSeries::steady(Temperature::from_celsius(19.0), 55.0);
        draw(&ShopWeek { hours, air: &air, now: begin(), shown: METRIC }, frame).into_string()
    }

    #[test]
    fn a_week_has_its_days_and_their_hours() {
        let svg = drawn(&hours(8, 18), FULL);
        assert_eq!(svg.matches("class=\"open\"").count(), 7);
        assert_eq!(svg.matches(">08:00–18:00<").count(), 7);
        assert!(svg.contains(">Mon 23<") && svg.contains(">Sun 29<") && svg.contains(">now<"));
        let line = svg.find("class=\"now\"").expect("the line of now");
        assert!(
            line < svg.find(">08:00–18:00<").expect("hours"),
            "the hours stand before the line"
        );
        assert_eq!(svg.matches("19\u{202f}°C").count(), 1, "steady air has one figure");
    }

    #[test]
    fn a_holiday_is_closed_and_a_phone_shows_no_hours() {
        let holiday = Exception { date: jiff::civil::date(2026, 11, 25), hours: Vec::new() };
        let shop = hours(8, 18).with_exceptions(&[holiday]).unwrap();
        let svg = drawn(&shop, FULL);
        assert_eq!(svg.matches("class=\"open\"").count(), 6);
        assert!(svg.contains(">closed<"));
        let phone = drawn(&shop, NARROW);
        assert!(phone.contains(">Mon<") && !phone.contains("08:00"));
    }

    #[test]
    fn the_legend_gives_the_range_of_the_humidity() {
        let temperature = Temperature::from_celsius(19.0);
        let steady = AirSeries::steady(temperature, 55.0);
        assert!(legend(&steady, begin()).contains("Humidity 55\u{202f}%."));
        let moments = [(0, 50.0), (48, 70.0)].map(|(hours, humidity_percent)| AirAt {
            at: begin() + SignedDuration::from_hours(hours),
            temperature,
            humidity_percent,
        });
        let rising = AirSeries::new(&moments).unwrap();
        assert!(legend(&rising, begin()).contains("Humidity 50 to 70\u{202f}%."));
    }
}

//! All casts of the shop on one time axis, one line each.

use fondant_cast::agenda::{Agenda, Fit};
use fondant_pours::ShopHours;
use jiff::Timestamp;

use crate::svg::{Frame, Markup, Svg};

/// One cast.
#[derive(Debug)]
pub(crate) struct Line<'a> {
    /// Name of the cast.
    pub(crate) name: &'a str,
    /// Address of the pours station.
    pub(crate) href: String,
    /// Agenda of the cast.
    pub(crate) agenda: &'a Agenda,
}

/// Data of the drawing.
#[derive(Debug)]
pub(crate) struct DayAxis<'a> {
    /// The casts, the one due first at the top.
    pub(crate) lines: &'a [Line<'a>],
    /// When the shop is open.
    pub(crate) hours: &'a ShopHours,
    /// The left end.
    pub(crate) from: Timestamp,
    /// The right end.
    pub(crate) to: Timestamp,
    /// The current time, UTC.
    pub(crate) now: Timestamp,
}

const TOP: f64 = 40.0;
const LINE_PX: f64 = 46.0;

/// Draws the axis.
#[must_use]
pub(crate) fn draw(view: &DayAxis<'_>, frame: Frame) -> Markup {
    let bottom = TOP + LINE_PX * view.lines.len() as f64;
    let (left, right) = (8.0, frame.width - 8.0);
    let whole = view.to.duration_since(view.from).as_secs_f64();
    let x = |at: Timestamp| {
        let share = at.duration_since(view.from).as_secs_f64() / whole;
        left + share.clamp(0.0, 1.0) * (right - left)
    };
    let mut svg = Svg::new(frame.class, frame.width, bottom + 24.0, "All casts on one time axis");
    let mut closed_from = view.from;
    let night = |svg: &mut Svg, from: Timestamp, to: Timestamp| {
        if x(to) > x(from) {
            svg.rect("night", x(from), TOP - 8.0, x(to) - x(from), bottom - TOP + 8.0);
        }
    };
    for span in view.hours.spans(view.from, view.to) {
        night(&mut svg, closed_from, span.from);
        closed_from = span.to;
    }
    night(&mut svg, closed_from, view.to);
    days(&mut svg, view, &x, bottom, frame);
    for (index, line) in view.lines.iter().enumerate() {
        row(&mut svg, line, view, &x, TOP + LINE_PX * (index as f64 + 1.0) - 8.0, right);
    }
    let now = x(view.now);
    svg.line("now", now, TOP - 8.0, now, bottom);
    svg.text("mid s12 hot bold halo", now.max(left + 12.0), bottom + 16.0, "now");
    svg.finish()
}

fn days(
    svg: &mut Svg,
    view: &DayAxis<'_>,
    x: &impl Fn(Timestamp) -> f64,
    bottom: f64,
    frame: Frame,
) {
    let zone = view.hours.zone();
    let mut date = view.from.to_zoned_datetime(zone.clone()).date();
    loop {
        let Ok(start) = date.to_zoned_datetime(zone.clone()) else { break };
        let start = start.timestamp();
        if start >= view.to {
            break;
        }
        svg.line("gridline", x(start), TOP - 8.0, x(start), bottom);
        let Ok(next) = date.tomorrow() else { break };
        let Ok(end) = next.to_zoned_datetime(zone.clone()) else { break };
        let middle = 0.5 * (x(start) + x(end.timestamp()));
        svg.text("mid bold", middle, 13.0, &date.strftime("%a %-d").to_string());
        if !frame.is_narrow() {
            for hour in [6i8, 12, 18] {
                if let Ok(at) = date.at(hour, 0, 0, 0).to_zoned_datetime(zone.clone()) {
                    svg.text("mid s12 soft", x(at.timestamp()), 28.0, &format!("{hour:02}"));
                }
            }
        }
        date = next;
    }
}

fn row(
    svg: &mut Svg,
    line: &Line<'_>,
    view: &DayAxis<'_>,
    x: &impl Fn(Timestamp) -> f64,
    floor: f64,
    right: f64,
) {
    svg.line("gridline", 8.0, floor, right, floor);
    let agenda = line.agenda;
    for (index, pour) in agenda.pours.iter().enumerate() {
        let is_poured = index < agenda.poured;
        let (start, opens, closes) = (x(pour.at), x(pour.opens), x(pour.closes));
        svg.polygon("resin2", &[(start, floor), (opens, floor - 9.0), (opens, floor)]);
        if closes > opens {
            let roof = 0.5 * (opens + closes);
            svg.polygon(
                "resin-solid",
                &[
                    (opens, floor),
                    (opens, floor - 9.0),
                    (roof, floor - 14.0),
                    (closes, floor - 9.0),
                    (closes, floor),
                ],
            );
        }
        if pour.at >= view.from && pour.at <= view.to {
            let class = if is_poured { "flag-poured" } else { "brass" };
            svg.polygon(
                class,
                &[
                    (start - 5.0, floor - 26.0),
                    (start + 5.0, floor - 26.0),
                    (start + 5.0, floor - 19.0),
                    (start, floor - 14.0),
                    (start - 5.0, floor - 19.0),
                ],
            );
            svg.line("brass-line", start, floor, start, floor - 15.0);
        }
    }
    // What is still to go in says when all is hard.
    if agenda.hard < view.to && agenda.fit != Fit::Lacking {
        let start = x(agenda.hard);
        svg.rect("timber", start, floor - 8.0, right - start, 8.0);
    }
    svg.begin_link(&line.href, line.name);
    let at = x(view.now).min(right - 220.0).max(12.0);
    let longest = if right < 400.0 { 34 } else { 60 };
    let name: String = line.name.chars().take(longest).collect();
    let name = if name.len() < line.name.len() { format!("{name}…") } else { name };
    svg.text(
        "s12 bold halo",
        if right < 400.0 { 12.0 } else { at + 6.0 },
        floor - 30.0 + 2.0,
        &name,
    );
    svg.end_link();
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{begin, evaluated, hours, planned, river_top};
    use crate::svg::FULL;
    use jiff::SignedDuration;

    #[test]
    fn every_cast_has_a_line_with_its_flags_and_its_name() {
        let (document, shop) = (river_top(), hours(8, 18));
        let schedule = evaluated(&document).pours.unwrap();
        let planned = planned(&schedule);
        let agenda = Agenda::of(&document, &planned, &schedule, 1, begin());
        let line = |name| Line { name, href: "/casts/7/pours".into(), agenda: &agenda };
        let long =
            "A bench with a very long name that goes on and on until nobody reads it any more";
        let lines = [line("Bench"), line(long)];
        let to = begin() + SignedDuration::from_hours(96);
        let view = DayAxis { lines: &lines, hours: &shop, from: begin(), to, now: begin() };
        let svg = draw(&view, FULL).into_string();
        assert_eq!(svg.matches("class=\"flag-poured\"").count(), 2);
        assert!(svg.matches("class=\"brass\"").count() >= 2);
        assert!(svg.contains(">Bench<") && svg.contains("…<"));
        assert!(svg.contains(">now<") && svg.contains("class=\"night\""));
    }
}

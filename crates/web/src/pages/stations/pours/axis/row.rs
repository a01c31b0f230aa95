//! One pour on the axis: how it thickens, when it is sticky, when it is hard, what is done about it.

use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Joint, ScheduledPour, WATCH_S};
use jiff::SignedDuration;

use super::scale::{Axis, HoursAxis, ROW_PX, TOP_PX};
use crate::svg::{Frame, Row, Svg};
use crate::words::layers;

/// Where on a layer's row something can have happened: from its pour, or from
/// the one below, until now.
fn reach(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, index: usize) {
    let is_poured = index < view.poured;
    let from = match (is_poured, index.checked_sub(1)) {
        (true, _) => view.schedule.pours[index].at,
        (false, Some(below)) => view.schedule.pours[below].at,
        (false, None) => axis.from,
    };
    let is_next = index == view.poured;
    let is_proposed = view.ids.get(index).is_some_and(|id| id.is_proposed());
    if view.takes_facts && !is_proposed && (is_poured || is_next) && from < view.now {
        let top = TOP_PX + ROW_PX * index as f64 - 8.0;
        let (left, right) = (axis.x(from), axis.x(view.now));
        let id = view.ids.get(index).map_or(0, |id| id.0);
        let row = Row { index, id, is_poured, latest: view.now.as_second() };
        svg.row_reach(row, (left, right, top, top + ROW_PX));
    }
}

pub(super) fn row(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame, index: usize) {
    let pour = &view.schedule.pours[index];
    let floor = TOP_PX + ROW_PX * (index as f64 + 1.0) - 14.0;
    let is_last = index + 1 == view.schedule.pours.len();
    let (start, opens, closes) = (axis.x(pour.at), axis.x(pour.opens), axis.x(pour.closes));
    window(svg, (start, opens, closes), floor, is_last);
    hardness(svg, view, axis, index, floor);
    acts(svg, view, axis, pour, floor);
    // Over the shapes, under the flag.
    reach(svg, view, axis, index);
    let can_move = index >= view.poured;
    let name = layers::heading(pour.layer.kind);
    let says = view.shown.date_and_time(pour.at, view.hours.zone());
    let within = (pour.at.as_second(), view.now.as_second(), axis.to.as_second());
    svg.begin_flag(can_move, index, within, (&format!("Time of {name}"), &says));
    flag(svg, start, floor);
    svg.end_flag();
    let (when, what) = caption(view, pour);
    if frame.is_narrow() {
        let text = format!("{name}: {when}");
        place(svg, axis, (start, floor - 32.0), &text, 7.2);
    } else {
        svg.text("end bold", axis.left - 12.0, floor - 2.0, &name);
        place(svg, axis, (start, floor - 32.0), &format!("{when}  ·  {what}"), 7.0);
    }
}

/// While it thickens and while it is sticky.
fn window(svg: &mut Svg, (start, opens, closes): (f64, f64, f64), floor: f64, is_last: bool) {
    // A wedge while it thickens, a roof while it is sticky.
    svg.polygon("resin2", &[(start, floor), (opens, floor - 14.0), (opens, floor)]);
    svg.line("resin-line", start, floor, opens, floor);
    let peak = 0.5 * (opens + closes);
    svg.polygon(
        "resin-solid",
        &[
            (opens, floor),
            (opens, floor - 15.0),
            (peak, floor - 22.0),
            (closes, floor - 15.0),
            (closes, floor),
        ],
    );
    let words = if is_last { ["sticky", "sticky"] } else { ["sticky: pour", "sticky"] };
    let fits = |word: &&str| closes - opens > 6.0 * word.len() as f64 + 6.0;
    if let Some(word) = words.iter().find(|word| fits(word)) {
        svg.text("mid s12 on-resin", peak, floor - 4.5, word);
    }
}

/// Once it has set: to be sanded, then hard.
fn hardness(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, index: usize, floor: f64) {
    let pours = &view.schedule.pours;
    let closes = axis.x(pours[index].closes);
    let hard_from = match pours.get(index + 1).map(|next| (next.joint, next.at)) {
        Some((Joint::AfterCure { hard, .. }, _)) => Some(hard),
        Some(_) => None,
        None => Some(view.schedule.hard),
    };
    // Dashes while it must be sanded before anything bonds; solid once hard.
    if let Some(hard) = hard_from {
        let x = axis.x(hard);
        svg.line("dashes", closes, floor - 1.0, x, floor - 1.0);
        let end = pours.get(index + 1).map_or(axis.right, |next| axis.x(next.at));
        svg.rect("timber", x, floor - 15.0, end - x, 15.0);
        let word = match pours.get(index + 1) {
            Some(next) if next.layer.kind.is_flood() => view.hard,
            Some(_) => "hard: sand",
            None if pours[index].layer.kind.is_flood() => "hard",
            None => view.hard,
        };
        let takes = |word: &str| 6.6 * word.len() as f64;
        if end - x > takes(word) {
            svg.text("s12 bold on-timber", x + 6.0, floor - 3.8, word);
        } else {
            // Above it, unless that would run into the window.
            let word = if end - closes > takes(word) { word } else { "hard" };
            svg.text("end s12 bold halo", end, floor - 20.0, word);
        }
    } else if let Some(next) = pours.get(index + 1) {
        let x = axis.x(next.at);
        svg.line("brass-line", x, floor, x, floor + ROW_PX - 36.0);
    }
}

/// The flag of a pour: a pole on its moment.
fn flag(svg: &mut Svg, x: f64, floor: f64) {
    svg.line("brass-line", x, floor + 2.0, x, floor - 26.0);
    svg.polygon(
        "brass",
        &[
            (x - 6.0, floor - 40.0),
            (x + 6.0, floor - 40.0),
            (x + 6.0, floor - 31.0),
            (x, floor - 25.0),
            (x - 6.0, floor - 31.0),
        ],
    );
}

/// What is done about a pour: it is watched, then covered; touches of it.
fn acts(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, pour: &ScheduledPour, floor: f64) {
    let watched = axis.x(pour.done + SignedDuration::from_secs(WATCH_S));
    let start = axis.x(pour.at);
    svg.rect("watch", start, floor + 3.0, (watched - start).max(3.0), 4.0);
    let index = view.schedule.pours.iter().position(|p| p.at == pour.at).unwrap_or(0);
    let next = view.schedule.pours.get(index + 1);
    let cover = pour.cover_from();
    if next.is_none_or(|next| cover < next.at) {
        let (x, end) = (axis.x(cover), next.map_or(axis.x(view.schedule.hard), |n| axis.x(n.at)));
        svg.line("cover", x, floor + 5.0, end, floor + 5.0);
        svg.line("cover", x, floor + 1.0, x, floor + 9.0);
    }
    for (_, at, touch) in view.touches.iter().filter(|touch| touch.0 == index) {
        let x = axis.x(*at);
        let class = match touch {
            Touch::Clear => "touch clear",
            Touch::Tacky => "touch tacky",
            Touch::Hard => "touch hard-set",
        };
        svg.circle(class, x, floor + 5.0, 5.0);
    }
}

fn caption(view: &HoursAxis<'_>, pour: &ScheduledPour) -> (String, String) {
    let when = view.shown.day_and_time(pour.at, view.hours.zone());
    let what =
        format!("{}, {}", view.shown.length(pour.layer.depth()), view.shown.volume(pour.mixed));
    (when, what)
}

/// Text beside a flag, at its other side where it would run out of the drawing.
fn place(svg: &mut Svg, axis: &Axis, (x, y): (f64, f64), text: &str, char_px: f64) {
    let room = axis.right - x;
    if room < char_px * text.chars().count() as f64 + 12.0 {
        svg.text("end s12 halo bold", x - 10.0, y, text);
    } else {
        svg.text("s12 halo bold", x + 11.0, y, text);
    }
}

//! Pours on one time axis: the air by day and night and the trouble it makes,
//! shop hours, each layer's window, when it is covered, when it is hard.

use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::{AirLimits, Trouble, TroubleKind};
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Joint, Schedule, ScheduledPour, ShopHours, WATCH_S};
use jiff::{SignedDuration, Timestamp};

use super::{Frame, Svg};
use crate::views::format::Shown;
use crate::views::pour_words as words;

/// What is drawn.
#[derive(Debug)]
pub struct HoursAxis<'a> {
    /// The pours.
    pub schedule: &'a Schedule,
    /// When the shop is open.
    pub hours: &'a ShopHours,
    /// The air of the pours.
    pub air: &'a AirSeries,
    /// What the resin stands.
    pub limits: AirLimits,
    /// Where the air spoils something.
    pub troubles: &'a [Trouble],
    /// Touches of layers: which, when and what was found.
    pub touches: &'a [(usize, Timestamp, Touch)],
    /// So many pours have happened: they stay where they are.
    pub poured: usize,
    /// Whether what happens is written down on it.
    pub takes_facts: bool,
    /// Now.
    pub now: Timestamp,
    /// What may be done once the last layer is hard.
    pub hard: &'static str,
    /// Units.
    pub shown: Shown,
}

const ROW_PX: f64 = 74.0;
/// The panel of the air: its top and its height.
const AIR_TOP: f64 = 44.0;
const AIR_PX: f64 = 62.0;
/// Trouble stands in a band under the air.
const TROUBLE_PX: f64 = 26.0;
const TOP_PX: f64 = AIR_TOP + AIR_PX + TROUBLE_PX + 12.0;
/// Shown before the first pour and after the form can be opened.
const MARGIN: SignedDuration = SignedDuration::from_hours(6);

struct Axis {
    left: f64,
    right: f64,
    bottom: f64,
    from: Timestamp,
    to: Timestamp,
}

impl Axis {
    fn x(&self, at: Timestamp) -> f64 {
        let whole = self.to.duration_since(self.from).as_secs_f64();
        let share = at.duration_since(self.from).as_secs_f64() / whole;
        self.left + share.clamp(0.0, 1.0) * (self.right - self.left)
    }
}

/// Draws the axis.
#[must_use]
pub fn draw(view: &HoursAxis<'_>, frame: Frame) -> String {
    let pours = &view.schedule.pours;
    let (Some(first), Some(last)) = (pours.first(), pours.last()) else { return String::new() };
    let from = first.at - MARGIN;
    let to = view.schedule.hard.max(last.closes) + MARGIN * 2;
    let left = if frame.is_narrow() { 8.0 } else { 74.0 };
    let bottom = TOP_PX + ROW_PX * pours.len() as f64 + 8.0;
    let axis = Axis { left, right: frame.width - 10.0, bottom, from, to };
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        bottom + 30.0,
        "Air, pours, windows and shop hours on one time axis",
    );
    nights(&mut svg, view, &axis, frame);
    let seconds = [from.as_second() as f64, to.as_second() as f64];
    svg.plane("axis-plane", (axis.left, axis.right, TOP_PX, axis.bottom), seconds);
    air(&mut svg, view, &axis, frame);
    for (index, pour) in pours.iter().enumerate() {
        row(&mut svg, view, &axis, frame, index, pour);
    }
    if axis.from < view.now && view.now < axis.to {
        let x = axis.x(view.now);
        svg.line("now", x, AIR_TOP - 8.0, x, bottom);
        svg.text("mid s12 hot bold halo", x, bottom + 16.0, "now");
    }
    svg.finish()
}

/// The air's temperature and dew point over the band that the resin cures in,
/// and bars where it makes trouble.
fn air(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame) {
    let (low, high) = view.air.range(axis.from, axis.to);
    let hours = axis.to.duration_since(axis.from).as_hours();
    let dews =
        (0..=hours).map(|h| view.air.dew_point(axis.from + SignedDuration::from_hours(h)).k());
    let coolest = dews.fold(low.k().min(view.limits.coldest.k()), f64::min) - 1.0;
    let warmest = high.k().max(view.limits.warmest.k().min(high.k() + 4.0)) + 1.0;
    let y = |k: f64| AIR_TOP + AIR_PX * (1.0 - (k - coolest) / (warmest - coolest)).clamp(0.0, 1.0);
    let (band_top, band_bottom) = (y(view.limits.warmest.k()), y(view.limits.coldest.k()));
    svg.rect("air-band", axis.left, band_top, axis.right - axis.left, band_bottom - band_top);
    let step = SignedDuration::from_mins(60);
    let (mut line, mut dew) = (Vec::new(), Vec::new());
    let mut at = axis.from;
    while at <= axis.to {
        line.push((axis.x(at), y(view.air.at(at).temperature.k())));
        dew.push((axis.x(at), y(view.air.dew_point(at).k())));
        at += step;
    }
    svg.polyline("curve-air", &dew);
    svg.polyline("curve-ink", &line);
    let label = |k: f64| view.shown.temperature(fondant_quantities::Temperature::from_k(k));
    if frame.is_narrow() {
        svg.text(
            "s12 soft halo",
            axis.left + 2.0,
            band_bottom - 3.0,
            &label(view.limits.coldest.k()),
        );
    } else {
        svg.text(
            "end s12 soft",
            axis.left - 12.0,
            band_bottom + 4.0,
            &label(view.limits.coldest.k()),
        );
        if band_bottom - band_top > 16.0 && band_top > AIR_TOP + 1.0 {
            svg.text(
                "end s12 soft",
                axis.left - 12.0,
                band_top + 4.0,
                &label(view.limits.warmest.k()),
            );
        }
    }
    let mut taken_to = 0.0;
    for trouble in view.troubles.iter().filter(|t| t.kind != TroubleKind::Humid) {
        let (x1, x2) = (axis.x(trouble.from), axis.x(trouble.to));
        let top = AIR_TOP + AIR_PX + 6.0;
        svg.rect("trouble-bar", x1, top, (x2 - x1).max(2.0), 4.0);
        let word = words::trouble_word(trouble.kind);
        if x1 >= taken_to && axis.right - x1 > 6.4 * word.len() as f64 {
            svg.text("s12 hot halo", x1, top + 17.0, word);
            taken_to = x1 + 6.8 * word.len() as f64;
        }
    }
}

fn nights(svg: &mut Svg, view: &HoursAxis<'_>, axis: &Axis, frame: Frame) {
    let top = AIR_TOP - 8.0;
    let mut closed_from = axis.from;
    for span in view.hours.spans(axis.from, axis.to) {
        night(svg, axis, top, closed_from, span.from);
        closed_from = span.to;
    }
    night(svg, axis, top, closed_from, axis.to);

    let zone = view.hours.zone();
    let days = axis.to.duration_since(axis.from).as_hours() as f64 / 24.0;
    let day_px = (axis.right - axis.left) / days.max(0.5);
    let mut date = axis.from.to_zoned_datetime(zone.clone()).date();
    let last = axis.to.to_zoned_datetime(zone.clone()).date();
    while date <= last {
        for hour in [0i8, 6, 12, 18] {
            let Ok(at) = date.at(hour, 0, 0, 0).to_zoned_datetime(zone.clone()) else { continue };
            let at = at.timestamp();
            if at < axis.from || at > axis.to {
                continue;
            }
            let x = axis.x(at);
            if hour == 0 || day_px > 90.0 {
                svg.line("gridline", x, top, x, axis.bottom);
            }
            if hour == 12 && (day_px > 34.0 || frame.is_narrow() && day_px > 26.0) {
                let day = if day_px > 64.0 { "%a %-d" } else { "%a" };
                // A day of which little is shown keeps its whole name.
                let name = date.strftime(day).to_string();
                let half = 4.2 * name.chars().count() as f64;
                svg.text("mid bold", x.clamp(half, frame.width - half), 13.0, &name);
            }
            if day_px > 120.0 || (hour % 12 == 0 && day_px > 60.0) {
                svg.text("mid s12 soft", x, 29.0, &format!("{hour:02}"));
            }
        }
        let Ok(next) = date.tomorrow() else { break };
        date = next;
    }
    svg.line("axis", axis.left, axis.bottom, axis.right, axis.bottom);
}

fn night(svg: &mut Svg, axis: &Axis, top: f64, from: Timestamp, to: Timestamp) {
    let (x1, x2) = (axis.x(from), axis.x(to));
    if x2 > x1 {
        svg.rect("night", x1, top, x2 - x1, axis.bottom - top);
    }
}

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
    if view.takes_facts && (is_poured || is_next) && from < view.now {
        let top = TOP_PX + ROW_PX * index as f64 - 8.0;
        let (left, right) = (axis.x(from), axis.x(view.now));
        svg.row_reach(index, is_poured, (left, right, top, top + ROW_PX), view.now.as_second());
    }
}

fn row(
    svg: &mut Svg,
    view: &HoursAxis<'_>,
    axis: &Axis,
    frame: Frame,
    index: usize,
    pour: &ScheduledPour,
) {
    let floor = TOP_PX + ROW_PX * (index as f64 + 1.0) - 14.0;
    let pours = &view.schedule.pours;
    let is_last = index + 1 == pours.len();
    let (start, opens, closes) = (axis.x(pour.at), axis.x(pour.opens), axis.x(pour.closes));
    let name = match pour.layer.kind {
        LayerKind::Seal => "Seal".to_owned(),
        LayerKind::Base => "Base".to_owned(),
        LayerKind::Main(number) => format!("Layer {number}"),
    };
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
        let word = if is_last { view.hard } else { "hard: sand" };
        if end - x > 6.6 * word.len() as f64 {
            svg.text("s12 bold on-timber", x + 6.0, floor - 3.8, word);
        } else {
            svg.text("end s12 bold halo", end, floor - 20.0, word);
        }
    } else if let Some(next) = pours.get(index + 1) {
        let x = axis.x(next.at);
        svg.line("brass-line", x, floor, x, floor + ROW_PX - 36.0);
    }
    acts(svg, view, axis, pour, floor);
    // Over the shapes, under the flag.
    reach(svg, view, axis, index);
    let can_move = index >= view.poured;
    let label = format!("{name}, {}", view.shown.date_and_time(pour.at, view.hours.zone()));
    svg.begin_flag(can_move, index, pour.at.as_second(), &label);
    flag(svg, start, floor);
    svg.end_flag();
    let (when, what) = caption(view, pour);
    if frame.is_narrow() {
        let text = format!("{name}: {when}");
        place(svg, axis, start, floor - 32.0, &text, "bold", 7.2);
    } else {
        svg.text("end bold", axis.left - 12.0, floor - 2.0, &name);
        place(svg, axis, start, floor - 32.0, &format!("{when}  ·  {what}"), "bold", 7.0);
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
    let what = format!(
        "{}, {}",
        view.shown.length(pour.layer.depth()),
        view.shown.volume(pour.layer.volume)
    );
    (when, what)
}

/// Text beside a flag, at its other side where it would run out of the drawing.
fn place(svg: &mut Svg, axis: &Axis, x: f64, y: f64, text: &str, class: &str, char_px: f64) {
    let room = axis.right - x;
    if room < char_px * text.chars().count() as f64 + 12.0 {
        svg.text(&format!("end s12 halo {class}"), x - 10.0, y, text);
    } else {
        svg.text(&format!("s12 halo {class}"), x + 11.0, y, text);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::drawings::{FULL, NARROW};
    use crate::sample::{METRIC, begin, hours, plan, worked};
    use fondant_cast::Plan;
    use fondant_quantities::Temperature;

    fn drawn(plan: &Plan, shop: &ShopHours, now: Timestamp, frame: Frame) -> String {
        let evaluation = worked(plan, shop).unwrap();
        let schedule = evaluation.pours.as_ref().unwrap();
        let hard = "hard: open the form";
        let air = AirSeries::steady(Temperature::from_celsius(20.0), 50.0);
        let limits = fondant_cast::ShopSettings::default().air_limits(&evaluation.resin);
        let cold = Trouble {
            kind: TroubleKind::Cold,
            from: schedule.pours[0].at,
            to: schedule.pours[0].opens,
            worst: 282.0,
        };
        let view = HoursAxis {
            schedule,
            hours: shop,
            air: &air,
            limits,
            troubles: &[cold],
            touches: &[(0, schedule.pours[0].opens, Touch::Clear)],
            poured: 1,
            takes_facts: true,
            now,
            hard,
            shown: METRIC,
        };
        draw(&view, frame)
    }

    #[test]
    fn the_air_its_trouble_touches_and_acts_are_drawn() {
        let svg = drawn(&plan(), &hours(8, 18), begin(), FULL);
        assert!(svg.contains("class=\"air-band\"") && svg.contains(">too cold<"));
        assert!(svg.contains("class=\"touch clear\"") && svg.contains("class=\"cover\""));
        assert!(svg.matches("class=\"watch\"").count() >= 2);
    }

    #[test]
    fn what_happened_is_written_on_rows_that_have_begun_and_only_up_to_now() {
        let shop = hours(8, 18);
        let evaluation = worked(&plan(), &shop).unwrap();
        let pours = &evaluation.pours.as_ref().unwrap().pours;
        assert!(pours.len() > 1);
        let early = drawn(&plan(), &shop, pours[0].at, FULL);
        assert!(!early.contains("row-reach"), "nothing has happened yet");
        let later = drawn(&plan(), &shop, pours[0].at + SignedDuration::from_hours(3), FULL);
        assert_eq!(later.matches("row-reach").count(), 2, "touches of one, the pour of the next");
        assert_eq!(later.matches("data-poured=\"1\"").count(), 1);
    }

    #[test]
    fn the_name_of_a_day_is_never_cut_off() {
        // Where the axis begins at noon the first name would stand on its edge.
        let mut late = plan();
        late.pours.not_before = begin() + SignedDuration::from_hours(8);
        let svg = drawn(&late, &hours(8, 19), begin(), NARROW);
        for name in svg.split("class=\"mid bold\" x=\"").skip(1) {
            let x: f64 = name.split('"').next().unwrap().parse().unwrap();
            assert!((12.0..=NARROW.width - 12.0).contains(&x), "{x}");
        }
        assert!(svg.contains("class=\"mid bold\""), "days are named: {svg}");
    }

    #[test]
    fn what_is_poured_stays_and_the_rest_can_be_moved() {
        let svg = drawn(&plan(), &hours(8, 18), begin(), FULL);
        assert!(!svg.contains("data-pour=\"0\"") && svg.contains("data-pour=\"1\""));
        assert!(svg.contains("data-from=") && svg.contains("role=\"slider\""));
    }

    #[test]
    fn every_layer_has_a_wedge_a_roof_and_a_flag_with_its_hour() {
        let (plan, shop) = (plan(), hours(8, 18));
        let evaluation = worked(&plan, &shop).unwrap();
        let schedule = evaluation.pours.as_ref().unwrap();
        let svg = drawn(&plan, &shop, begin(), FULL);
        assert_eq!(svg.matches("class=\"resin-solid\"").count(), schedule.pours.len());
        assert_eq!(svg.matches("class=\"brass\"").count(), schedule.pours.len());
        for pour in &schedule.pours {
            assert!(svg.contains(&METRIC.day_and_time(pour.at, shop.zone())));
        }
        assert!(svg.contains(">Base<") && svg.contains(">Layer 1<"));
        assert!(svg.contains("hard: open the form"));
    }

    #[test]
    fn closed_hours_are_shaded_and_now_is_drawn_only_while_it_is_on_the_axis() {
        let (plan, shop) = (plan(), hours(8, 18));
        let svg = drawn(&plan, &shop, begin() + SignedDuration::from_hours(20), FULL);
        assert!(svg.matches("class=\"night\"").count() >= 2);
        assert!(svg.contains(">now<"));
        let later = drawn(&plan, &shop, begin() + SignedDuration::from_hours(2400), FULL);
        assert!(!later.contains(">now<"));
    }

    #[test]
    fn a_missed_window_ends_in_hard_and_sanding() {
        let mut plan = plan();
        plan.conditions.air = Temperature::from_celsius(26.0);
        plan.conditions.resin = Temperature::from_celsius(26.0);
        let svg = drawn(&plan, &hours(10, 11), begin(), FULL);
        assert!(svg.contains("hard: sand"));
    }

    #[test]
    fn a_phone_names_layers_beside_their_flags() {
        let svg = drawn(&plan(), &hours(8, 18), begin(), NARROW);
        assert!(svg.contains(">Base: "));
    }
}

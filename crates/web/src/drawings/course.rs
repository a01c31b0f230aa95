//! What a cast went through on one axis of time: the hottest point as it was promised and as it
//! happened, what instruments read, pours, windows, and what was done at the bench.

use askama::Template;
use askama::filters::HtmlSafe;
use fondant_app::courses::Lived;
use fondant_bench::reading::{BAR_PSI, Place, Quantity};
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::units::{Unit, UnitSystem};
use fondant_quantities::{Span, Temperature};
use fondant_record::course::{Course, Event, EventKind, Line, Step, aligned};
use fondant_record::readings::ReadCurve;

use crate::drawings::chart::{Axes, Chart};
use crate::svg::{Frame, Markup, Svg, both};
use crate::ui::numbers::{THIN, span};
use crate::ui::units::Shown;
use crate::words::{layers, pours};

/// Height of the temperatures, and of the pressures, px.
const TEMPERATURES: f64 = 236.0;
const PRESSURES: f64 = 120.0;
/// One lane of pours, px.
const LANE: f64 = 46.0;
/// Where charts begin, and what they leave at their end, px.
const LEFT: f64 = 34.0;
const RIGHT: f64 = 14.0;

/// The class of the second of two casts: dashed, so that one under it is seen.
const OTHER: &str = "curve-resin";

/// What the lines of a drawing are.
#[derive(Template)]
#[template(path = "drawings/legend.html")]
pub(crate) struct Legend {
    /// The class of each line, and what it is.
    lines: Vec<(&'static str, String)>,
}

/// Its template escapes what it holds.
impl HtmlSafe for Legend {}

/// A cast as it is drawn: for a record, or one of two that are compared.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Drawn<'a> {
    /// What it went through.
    pub(crate) lived: &'a Lived,
    /// Units.
    pub(crate) shown: Shown,
}

impl Drawn<'_> {
    /// The end of the axis, h: whole quarters of a day.
    fn hours(self) -> f64 {
        (self.lived.course.ends().h() / 6.0).ceil().max(1.0) * 6.0
    }

    fn write(self, k: f64) -> f64 {
        self.shown.system.temperature().write(Temperature::from_k(k))
    }

    /// The hottest point of a line, as far as the axis goes.
    fn hottest<'b>(&'b self, line: &'b Line) -> impl Iterator<Item = (f64, f64)> + 'b {
        let shown = line.hottest.iter().take_while(|(at, _)| at.h() <= self.hours());
        shown.map(|(at, k)| (at.h(), self.write(k.k())))
    }

    fn temperatures(&self) -> impl Iterator<Item = &ReadCurve> {
        self.lived.read.iter().filter(|curve| curve.quantity == Quantity::Temperature)
    }

    /// Temperatures read from buckets by hand.
    fn by_hand(&self) -> impl Iterator<Item = (f64, f64)> {
        self.lived.course.events.iter().filter_map(|event| match event.what {
            EventKind::Bucket(at) => Some((event.at.h(), at.k())),
            _ => None,
        })
    }

    /// The gauge of the pot: by hand, and as an instrument read it, bar over hours.
    fn pressures(&self) -> Vec<(f64, f64)> {
        let by_hand = self.lived.course.events.iter().filter_map(|event| match event.what {
            EventKind::Gauge(bar) => Some((event.at.h(), bar)),
            EventKind::Vented => Some((event.at.h(), 0.0)),
            _ => None,
        });
        let read = self.lived.read.iter().filter(|curve| curve.quantity == Quantity::Pressure);
        let read = read.flat_map(|curve| curve.points.iter().map(|(at, bar)| (at.h(), *bar)));
        let mut all: Vec<(f64, f64)> = by_hand.chain(read).collect();
        all.sort_by(|a, b| a.0.total_cmp(&b.0));
        all
    }

    fn lines(&self) -> impl Iterator<Item = &Line> {
        [&self.lived.course.promised, &self.lived.course.happened].into_iter().flatten()
    }

    /// From just under the coldest to a round figure over the hottest.
    fn range(&self) -> Option<(f64, f64)> {
        let lines = self.lines().flat_map(|line| line.hottest.iter().map(|(_, at)| at.k()));
        let read = self.temperatures().flat_map(|curve| curve.points.iter().map(|(_, k)| *k));
        let all: Vec<f64> = lines.chain(read).chain(self.by_hand().map(|(_, k)| k)).collect();
        let (low, high) =
            (all.iter().copied().reduce(f64::min)?, all.iter().copied().reduce(f64::max)?);
        let (low, high) = (self.write(low), self.write(high));
        Some((((low - 2.0) / 5.0).floor() * 5.0, ((high + 4.0) / 10.0).ceil() * 10.0))
    }
}

/// The class of a curve that was read at a place, and what it is.
const fn of_place(place: Place) -> Option<(&'static str, &'static str)> {
    match place {
        Place::Surface => Some(("curve-resin", "surface, read")),
        Place::Base => Some(("curve-face", "base, read")),
        Place::Cup => Some(("curve-ink", "witness cup, read")),
        Place::Air => Some(("curve-air", "air, read")),
        Place::Bucket => Some(("reading", "bucket, read")),
        Place::Scale | Place::Gauge => None,
    }
}

/// The curves, pressures and pours of a cast.
pub(crate) fn draw(drawn: Drawn<'_>, wide: Frame) -> Markup {
    both(wide, |frame| {
        let pours = promised_and_happened(drawn, frame);
        let parts = [temperatures(drawn, frame), pressures(drawn, frame), Some(pours)];
        parts.into_iter().flatten().collect()
    })
}

fn temperatures(drawn: Drawn<'_>, frame: Frame) -> Option<Markup> {
    let y = drawn.range()?;
    let axes = Axes {
        description: "The hottest point over time, as it was promised and as it happened"
            .to_owned(),
        x: (0.0, drawn.hours()),
        y,
        x_unit: "h",
        height: TEMPERATURES,
    };
    let mut chart = Chart::new(frame, axes);
    let course = &drawn.lived.course;
    for (class, line) in [("curve-hot", &course.happened), ("curve-soft", &course.promised)] {
        chart.curve(class, line.iter().flat_map(|line| drawn.hottest(line)));
    }
    for curve in drawn.temperatures() {
        let Some((class, _)) = of_place(curve.place) else { continue };
        let points = curve.points.iter().map(|(at, k)| (at.h(), drawn.write(*k)));
        match curve.place {
            Place::Bucket => chart.dots(class, points),
            _ => chart.curve(class, points),
        }
    }
    chart.dots("reading", drawn.by_hand().map(|(at, k)| (at, drawn.write(k))));
    Some(chart.finish())
}

fn pressures(drawn: Drawn<'_>, frame: Frame) -> Option<Markup> {
    let read = drawn.pressures();
    let in_unit = |bar: f64| match drawn.shown.system {
        UnitSystem::Metric => bar,
        UnitSystem::UsCustomary => bar / BAR_PSI,
    };
    let most = read.iter().map(|(_, bar)| in_unit(*bar)).reduce(f64::max)?;
    let axes = Axes {
        description: "Pressure of the pot over time".to_owned(),
        x: (0.0, drawn.hours()),
        y: (0.0, most * 1.15 + 0.1),
        x_unit: "h",
        height: PRESSURES,
    };
    let mut chart = Chart::new(frame, axes);
    chart.curve("curve-ink", read.into_iter().map(|(at, bar)| (at, in_unit(bar))));
    Some(chart.finish())
}

/// The pours as they were promised and as they were, on the axis of the curves.
fn promised_and_happened(drawn: Drawn<'_>, frame: Frame) -> Markup {
    let course = &drawn.lived.course;
    let all = [("promised", course.promised.as_ref()), ("happened", course.happened.as_ref())];
    let says = "Pours and windows, as they were promised and as they happened";
    let mut svg = lanes(says, &all, drawn.hours(), frame);
    let x = on_axis(drawn.hours(), frame);
    for event in &course.events {
        let class = match event.what {
            EventKind::Touched(Touch::Clear) => "touch clear",
            EventKind::Touched(Touch::Tacky) => "touch tacky",
            EventKind::Touched(Touch::Hard) => "touch hard-set",
            EventKind::ToppedUp(_) => "resin-solid",
            EventKind::Lost => "hot-fill",
            _ => continue,
        };
        svg.circle(class, x(event.at), height(&all) - 9.0, 5.0);
    }
    svg.finish()
}

/// Where a time lies across a drawing.
fn on_axis(hours: f64, frame: Frame) -> impl Fn(Span) -> f64 {
    move |at| LEFT + (at.h() / hours).clamp(0.0, 1.0) * (frame.width - LEFT - RIGHT)
}

/// Lanes, and room under them for what was done.
fn height(all: &[(&str, Option<&Line>)]) -> f64 {
    LANE * all.iter().filter(|(_, line)| line.is_some()).count() as f64 + 18.0
}

/// A lane for each line that is known, with its name.
fn lanes(says: &str, all: &[(&str, Option<&Line>)], hours: f64, frame: Frame) -> Svg {
    let mut svg = Svg::new(frame.class, frame.width, height(all), says);
    let x = on_axis(hours, frame);
    let known = all.iter().filter_map(|(name, line)| Some((*name, (*line)?)));
    for (named, floor) in known.zip(1..) {
        lane(&mut svg, named, LANE * f64::from(floor) - 4.0, &x);
    }
    svg
}

/// Two casts over each other: the hottest point of each by what happened, and their pours. `None`
/// where one of them has no times.
pub(crate) fn compared(both_of: [Drawn<'_>; 2], names: [&str; 2], wide: Frame) -> Option<Markup> {
    let lines: Vec<&Line> =
        both_of.iter().filter_map(|drawn| drawn.lived.course.happened.as_ref()).collect();
    let [one, other] = lines.as_slice() else { return None };
    let hours = both_of.iter().map(|drawn| drawn.hours()).fold(1.0, f64::max);
    let ranges: Vec<(f64, f64)> = both_of.iter().filter_map(Drawn::range).collect();
    let low = ranges.iter().map(|range| range.0).reduce(f64::min)?;
    let high = ranges.iter().map(|range| range.1).reduce(f64::max)?;
    Some(both(wide, |frame| {
        let axes = Axes {
            description: "The hottest point of both casts over time".to_owned(),
            x: (0.0, hours),
            y: (low, high),
            x_unit: "h",
            height: TEMPERATURES,
        };
        let mut chart = Chart::new(frame, axes);
        for ((class, line), drawn) in [("curve-hot", one), (OTHER, other)].iter().zip(&both_of) {
            chart.curve(class, drawn.hottest(line));
        }
        for drawn in &both_of {
            chart.dots("reading", drawn.by_hand().map(|(at, k)| (at, drawn.write(k))));
        }
        let all = [(names[0], Some(*one)), (names[1], Some(*other))];
        let lanes = lanes("Pours and windows of both casts", &all, hours, frame);
        [chart.finish(), lanes.finish()].into_iter().collect()
    }))
}

fn lane(svg: &mut Svg, (name, line): (&str, &Line), floor: f64, x: &impl Fn(Span) -> f64) {
    svg.line("axis", LEFT, floor, x(line.hard), floor);
    let hard = x(line.hard);
    svg.line("brass-line", hard, floor - 16.0, hard, floor + 3.0);
    for pour in &line.pours {
        let (at, opens, closes) = (x(pour.at), x(pour.window[0]), x(pour.window[1]));
        svg.rect("resin-solid", opens, floor - 11.0, (closes - opens).max(1.5), 11.0);
        svg.line("brass-line", at, floor + 3.0, at, floor - 20.0);
        svg.circle("brass", at, floor - 20.0, 4.0);
    }
    svg.text("s12 soft halo", LEFT + 8.0, floor - 22.0, name);
}

/// What the lines of a drawing are; only those that are in it.
pub(crate) fn legend(drawn: Drawn<'_>) -> Legend {
    let course = &drawn.lived.course;
    let has = |line: &Option<Line>| line.as_ref().is_some_and(|line| !line.hottest.is_empty());
    let mut all: Vec<(&str, &str)> = Vec::new();
    all.extend(has(&course.promised).then_some(("curve-soft", "hottest, promised")));
    all.extend(has(&course.happened).then_some(("curve-hot", "hottest, by what happened")));
    all.extend(drawn.temperatures().filter_map(|curve| of_place(curve.place)));
    if drawn.by_hand().next().is_some() && !all.iter().any(|(class, _)| *class == "reading") {
        all.push(("reading", "bucket, read"));
    }
    Legend { lines: all.into_iter().map(|(class, name)| (class, name.to_owned())).collect() }
}

/// What the lines of two casts are, drawn over each other.
pub(crate) fn legend_of_two([one, other]: [&str; 2]) -> Legend {
    let lines = vec![
        ("curve-hot", one.to_owned()),
        (OTHER, other.to_owned()),
        ("reading", "buckets, read".to_owned()),
    ];
    Legend { lines }
}

/// What the axes of the curves say.
pub(crate) fn degrees(shown: Shown) -> &'static str {
    match shown.system {
        UnitSystem::Metric => "°C over hours from the first pour.",
        UnitSystem::UsCustomary => "°F over hours from the first pour.",
    }
}

/// What was done, line by line: when, and what.
pub(crate) fn told(course: &Course, shown: Shown) -> Vec<(String, String)> {
    let line = |event: &Event| {
        let (what, value) = words(course, event, shown);
        let what = if value.is_empty() { what } else { format!("{what}: {value}") };
        (after(event.at), layers::capitalised(&what))
    };
    course.events.iter().map(line).collect()
}

/// A step of two casts: what, and when and how it was in each.
pub(crate) struct StepTold {
    pub(crate) what: String,
    pub(crate) one: String,
    pub(crate) other: String,
}

/// The steps of two casts, side by side.
pub(crate) fn steps(one: &Course, other: &Course, shown: Shown) -> Vec<StepTold> {
    let told = |step: Step| {
        let side = |course, event: Option<Event>| {
            event.map(|event| {
                let (what, value) = words(course, &event, shown);
                let at = after(event.at);
                (what, if value.is_empty() { at } else { format!("{at}, {value}") })
            })
        };
        let (one, other) = (side(one, step.one), side(other, step.other));
        let what = one.as_ref().or(other.as_ref()).map_or("", |(what, _)| what.as_str());
        let again = if step.nth > 0 { format!(", {}", step.nth + 1) } else { String::new() };
        let what = format!("{}{again}", layers::capitalised(what));
        let text =
            |side: Option<(String, String)>| side.map_or_else(|| "–".to_owned(), |(_, text)| text);
        StepTold { what, one: text(one), other: text(other) }
    };
    aligned(one, other).into_iter().map(told).collect()
}

/// What was done, and what was read of it.
fn words(course: &Course, event: &Event, shown: Shown) -> (String, String) {
    let of = course.happened.as_ref().and_then(|line| line.pours.get(event.pour));
    let layer = of.map_or_else(|| "the cast".to_owned(), |pour| layers::name(pour.layer));
    match event.what {
        EventKind::Poured => (format!("{layer} poured"), String::new()),
        EventKind::Bucket(at) => (format!("bucket for {layer}"), shown.temperature_fine(at)),
        EventKind::Touched(found) => (format!("{layer} touched"), pours::touch(found).to_owned()),
        EventKind::ToppedUp(volume) => (format!("{layer} topped up"), shown.volume_fine(volume)),
        EventKind::Covered => (format!("{layer} covered"), String::new()),
        EventKind::Gauge(bar) => ("pot read".to_owned(), shown.pressure(bar)),
        EventKind::Vented => ("pot vented".to_owned(), String::new()),
        EventKind::Lost => (format!("bucket for {layer} given up"), String::new()),
    }
}

/// "2 d 4 h after the first pour" in short: "+ 2 d 4 h".
fn after(at: Span) -> String {
    let (sign, at) = if at < Span::ZERO { ("−", Span::ZERO - at) } else { ("+", at) };
    let days = (at.h() / 24.0).floor();
    if days < 2.0 {
        return format!("{sign}{THIN}{}", span(at));
    }
    let hours = (at.h() - 24.0 * days).floor();
    format!("{sign}{THIN}{days}{THIN}d {hours}{THIN}h")
}

#[cfg(test)]
mod tests;

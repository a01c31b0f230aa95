//! Bars by month, resin and kind; a figure over casts with its limits.

use fondant_app::records::LedgerGroup;
use fondant_record::chart::{FEWEST, Signal, chart};
use fondant_record::figures::Figure;

use crate::svg::{Markup, Svg};
use crate::ui::units::Shown;
use crate::words::record;

/// Width of a chart, px.
const WIDTH: f64 = 360.0;
/// Height of a bar with its room, px.
const ROW: f64 = 26.0;
/// Room for labels at the left, px.
const LABELS: f64 = 150.0;
/// Room for the count at the right, px.
const COUNTS: f64 = 46.0;

/// Bars: casts of a group, those that were given up or have a fault at their end.
pub(super) fn bars(title: &str, groups: &[LedgerGroup], name: impl Fn(&str) -> String) -> Markup {
    let height = ROW * groups.len() as f64 + 6.0;
    let mut svg = Svg::new("ledger-bars", WIDTH, height.max(ROW), title);
    let most = groups.iter().map(|group| group.casts).max().unwrap_or(1).max(1) as f64;
    let room = WIDTH - LABELS - COUNTS;
    for (group, row) in groups.iter().zip(0..) {
        let y = ROW * f64::from(row) + 5.0;
        let width = room * group.casts as f64 / most;
        let faulty = room * group.faulty as f64 / most;
        svg.text("end s14", LABELS - 10.0, y + 12.0, &shortened(&name(&group.label)));
        svg.rect("bar-sound", LABELS, y, (width - faulty).max(0.0), 15.0);
        svg.rect("bar-faulty", LABELS + width - faulty, y, faulty, 15.0);
        svg.text("s14", LABELS + width + 7.0, y + 12.0, &group.casts.to_string());
    }
    svg.finish()
}

/// Labels have this many characters at most.
const LABEL: usize = 19;

fn shortened(label: &str) -> String {
    if label.chars().count() <= LABEL {
        return label.to_owned();
    }
    let short: String = label.chars().take(LABEL - 1).collect();
    format!("{}…", short.trim_end())
}

/// A figure over casts, the oldest first: its limits, and in words what stands out.
pub(super) struct Individuals {
    pub(super) drawing: Option<Markup>,
    pub(super) says: String,
}

const TALL: f64 = 200.0;
const WIDE: f64 = 760.0;
const SIDE: f64 = 100.0;

pub(super) fn individuals(figure: Figure, values: &[f64], shown: Shown) -> Individuals {
    let told = |value| record::value(figure, value, shown);
    let Some(found) = chart(values) else {
        let says = format!(
            "{} is recorded for {} of these casts; limits need {FEWEST}.",
            record::figure(figure),
            values.len()
        );
        return Individuals { drawing: None, says };
    };
    let low = values.iter().copied().fold(found.low, f64::min);
    let high = values.iter().copied().fold(found.high, f64::max);
    let range = (high - low).max(f64::EPSILON);
    let y = |value: f64| 14.0 + (TALL - 28.0) * (high - value) / range;
    let step = (WIDE - SIDE - 30.0) / (values.len() - 1) as f64;
    let x = |index: usize| 10.0 + step * index as f64;
    let mut svg = Svg::new("individuals", WIDE, TALL, record::figure(figure));
    for (class, value) in [("limit", found.high), ("mean", found.mean), ("limit", found.low)] {
        svg.line(class, 10.0, y(value), WIDE - SIDE, y(value));
        svg.text("s14", WIDE - SIDE + 8.0, y(value) + 4.5, &told(value));
    }
    let points: Vec<(f64, f64)> = values.iter().enumerate().map(|(i, v)| (x(i), y(*v))).collect();
    svg.polyline("values", &points);
    for (index, point) in points.iter().enumerate() {
        let stands_out = found.signals.iter().any(|(at, _)| *at == index);
        let (class, radius) = if stands_out { ("signal", 6.0) } else { ("value", 3.5) };
        svg.circle(class, point.0, point.1, radius);
    }
    let mut says = format!(
        "Mean {}, limits {} and {}: mean ± 2.66 × the mean difference of neighbours.",
        told(found.mean),
        told(found.low),
        told(found.high)
    );
    match found.signals.last() {
        None => says.push_str(" Nothing stands out: what varies is chance."),
        Some((at, signal)) => {
            let mut places: Vec<usize> = found.signals.iter().map(|(at, _)| *at).collect();
            places.dedup();
            let why = match signal {
                Signal::Beyond => "lies outside of the limits",
                Signal::Side => "is the last of eight on one side of the mean",
                Signal::Trend => "is the last of six that go one way",
                Signal::Jump => "jumped from the one before it",
            };
            says += &format!(
                " {} of {} stand out; the newest, {}, {why}.",
                places.len(),
                values.len(),
                told(values[*at])
            );
        }
    }
    Individuals { drawing: Some(svg.finish()), says }
}

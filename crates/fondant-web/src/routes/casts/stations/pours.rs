//! Station 6: when each layer goes in.

use askama::Template;
use fondant_core::plan::Kind;
use fondant_core::plan::evaluation::HANDS;
use fondant_core::plan::{Conflict, Plan};
use fondant_core::quantities::{Length, Span, bounds};
use fondant_core::schedule::{Joint, Schedule, ShopHours};
use jiff::civil::{DateTime, Time, Weekday};

use super::Asked;
use crate::drawings::hours_axis::{HoursAxis, draw};
use crate::drawings::{FULL, both};
use crate::entries::Reader;
use crate::state::Shop;
use crate::views::fields::Field;
use crate::views::format::span;
use crate::views::strip::layer_name;
use crate::views::{kinds, words};

/// A river this many layers' depths wide is cooled by its timber by less than
/// a kelvin; found by comparing a two-dimensional model with this one.
const WIDE_IN_DEPTHS: f64 = 8.0;
/// How `datetime-local` fields write a moment.
const LOCAL: &str = "%Y-%m-%dT%H:%M";

#[derive(Template)]
#[template(path = "stations/pours.html")]
struct PoursBody {
    refusal: String,
    axis: String,
    trouble: String,
    missed: Vec<String>,
    narrow: String,
    rows: Vec<PourRow>,
    opens: String,
    opens_by: &'static str,
    fields: Vec<Field>,
    hours: String,
    past: String,
    now_entry: String,
    hands: String,
}

struct PourRow {
    name: String,
    when: String,
    depth: String,
    volume: String,
    parts: String,
    joint: String,
    window: String,
    peak: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan, shop: &Shop) {
    // The button "Plan from now" carries its own moment.
    let chosen = reader.entries.get("from_now").or_else(|| reader.entries.get("not_before"));
    let text = chosen.unwrap_or_default();
    match text
        .parse::<DateTime>()
        .and_then(|local| local.to_zoned_datetime(shop.hours.zone().clone()))
    {
        Ok(at) => plan.pours.not_before = at.timestamp(),
        Err(_) => reader.refusals.add(
            "not_before",
            format!("“{text}” is not a date and time. Write it as 2026-11-24T08:00."),
        ),
    }
    let mut minutes = plan.pours.sanding.s() / 60.0;
    reader.number("sanding", &bounds::SANDING_MINUTES, &mut minutes);
    plan.pours.sanding = Span::from_s(minutes * 60.0);
}

/// The date is the only figure of this form that the plan's own check can refuse.
pub(super) fn field_of(conflict: &Conflict) -> String {
    match conflict {
        Conflict::OutOfBounds(_) => "not_before".to_owned(),
        _ => String::new(),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (zone, fields) = (asked.shop.hours.zone(), asked.fields());
    let local =
        |at: jiff::Timestamp| at.to_zoned_datetime(zone.clone()).strftime(LOCAL).to_string();
    let minutes = fondant_core::quantities::units::trimmed(plan.pours.sanding.s() / 60.0, 0);
    let mut body = PoursBody {
        refusal: asked.refusal(),
        axis: String::new(),
        trouble: String::new(),
        missed: Vec::new(),
        narrow: String::new(),
        rows: Vec::new(),
        opens: String::new(),
        opens_by: kinds::hard(plan.kind).sentence,
        fields: vec![
            fields
                .text("not_before", "Begin no earlier than", &local(plan.pours.not_before))
                .kind("datetime-local"),
            fields
                .text("sanding", "Sanding between layers", &format!("{minutes} min"))
                .hint("Only where a window is missed: 80 grit, wipe, dry."),
        ],
        hours: hours(&asked.shop.hours),
        past: String::new(),
        now_entry: local(asked.now + jiff::SignedDuration::from_mins(30)),
        hands: span(HANDS),
    };
    match &evaluation.pours {
        Ok(schedule) => {
            let view = HoursAxis {
                schedule,
                hours: &asked.shop.hours,
                now: asked.now,
                hard: kinds::hard(plan.kind).mark,
                shown,
            };
            body.axis = both(FULL, |frame| draw(&view, frame));
            body.rows = (0..schedule.pours.len()).map(|i| row(asked, schedule, i)).collect();
            body.missed = missed(asked, schedule);
            body.narrow = narrow(asked, schedule);
            body.opens = shown.date_and_time(schedule.hard, zone);
            if let Some(first) = schedule.pours.first().filter(|first| first.at < asked.now) {
                body.past = format!(
                    "The first pour stands at {}, which has passed.",
                    shown.date_and_time(first.at, zone)
                );
            }
        }
        Err(trouble) => body.trouble = words::pours(trouble, shown),
    }
    body.render()
}

fn row(asked: &Asked<'_>, schedule: &Schedule, index: usize) -> PourRow {
    let (shown, zone) = (asked.shop.shown, asked.shop.hours.zone());
    let pour = &schedule.pours[index];
    let time = |at| shown.day_and_time(at, zone);
    let mixed = asked.evaluation.measured.mixed(pour.layer.volume);
    let mixed = fondant_core::mix::parts(mixed, &asked.evaluation.resin);
    PourRow {
        name: capitalised(layer_name(index, schedule).trim_start_matches("the ")),
        when: shown.date_and_time(pour.at, zone),
        depth: shown.length(pour.layer.depth()),
        volume: shown.volume(mixed.volume),
        parts: format!("{} A + {} B", shown.mass(mixed.a_mass), shown.mass(mixed.b_mass)),
        joint: match pour.joint {
            Joint::First => kinds::hard(asked.plan.kind).joins.to_owned(),
            Joint::WetOnTacky => "sticky on sticky".to_owned(),
            Joint::AfterCure { sanding, .. } => format!("after sanding, from {}", time(sanding)),
        },
        window: if index + 1 == schedule.pours.len() {
            format!("top-ups until {}", time(pour.closes))
        } else {
            format!("{} – {}", time(pour.opens), time(pour.closes))
        },
        peak: shown.temperature(pour.peak),
    }
}

/// A sentence where the timber beside the river, which the model leaves out,
/// moves the windows.
fn narrow(asked: &Asked<'_>, schedule: &Schedule) -> String {
    let shown = asked.shop.shown;
    if asked.plan.kind != Kind::River {
        return String::new();
    }
    // What is open at the top, shared out over the length.
    let (fill, layout) = (&asked.evaluation.measured.fill, &asked.evaluation.measured.layout);
    let skin = Length::from_mm(0.1);
    let width = fill.volume_between(fill.depth() - skin, fill.depth()) / skin / layout.length;
    let deepest = schedule.pours.iter().map(|p| p.layer.depth()).fold(Length::ZERO, Length::max);
    if width >= deepest * WIDE_IN_DEPTHS {
        return String::new();
    }
    format!(
        "A river {} wide on average is narrow for layers of {}: the timber cools it, so that it \
         stays cooler and its windows open later than drawn. Go by the witness cup.",
        shown.length(width),
        shown.length(deepest)
    )
}

/// A sentence for each window that no shop hour falls in.
fn missed(asked: &Asked<'_>, schedule: &Schedule) -> Vec<String> {
    let (shown, zone) = (asked.shop.shown, asked.shop.hours.zone());
    let time = |at| shown.day_and_time(at, zone);
    let mut sentences = Vec::new();
    for (index, pour) in schedule.pours.iter().enumerate().skip(1) {
        let Joint::AfterCure { hard, sanding } = pour.joint else { continue };
        let below = &schedule.pours[index - 1];
        sentences.push(format!(
            "No pour falls inside shop hours while {} is sticky, {} to {}. Instead: it is hard {}, \
             sand it from {} and pour {} {}.",
            layer_name(index - 1, schedule),
            time(below.opens),
            time(below.closes),
            time(hard),
            time(sanding),
            layer_name(index, schedule),
            time(pour.at)
        ));
    }
    sentences
}

const DAYS: [(Weekday, &str); 7] = [
    (Weekday::Monday, "Mon"),
    (Weekday::Tuesday, "Tue"),
    (Weekday::Wednesday, "Wed"),
    (Weekday::Thursday, "Thu"),
    (Weekday::Friday, "Fri"),
    (Weekday::Saturday, "Sat"),
    (Weekday::Sunday, "Sun"),
];

/// "08:00 to 18:00, Mon–Sat": days that follow one another are drawn together.
fn hours(hours: &ShopHours) -> String {
    let Some(day) = DAYS.iter().find_map(|(day, _)| hours.on(*day)) else { return String::new() };
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for (index, _) in DAYS.iter().enumerate().filter(|(_, (day, _))| hours.on(*day).is_some()) {
        match runs.last_mut() {
            Some((_, last)) if *last + 1 == index => *last = index,
            _ => runs.push((index, index)),
        }
    }
    let named: Vec<String> = runs
        .into_iter()
        .map(|(first, last)| match last - first {
            0 => DAYS[first].1.to_owned(),
            6 => "every day".to_owned(),
            _ => format!("{}–{}", DAYS[first].1, DAYS[last].1),
        })
        .collect();
    let clock = |time: Time| time.strftime("%H:%M").to_string();
    format!("{} to {}, {}", clock(day.opens), clock(day.closes), named.join(", "))
}

fn capitalised(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or_else(String::new, |first| first.to_uppercase().chain(chars).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_core::schedule::Workday;

    #[test]
    fn working_days_are_drawn_together() {
        let day =
            Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 30, 0, 0) };
        let on = |open: [usize; 7]| {
            ShopHours::new(open.map(|o| (o == 1).then_some(day)), "UTC").map(|h| hours(&h)).unwrap()
        };
        assert_eq!(on([1, 1, 1, 1, 1, 1, 0]), "08:00 to 18:30, Mon–Sat");
        assert_eq!(on([1, 1, 1, 1, 1, 1, 1]), "08:00 to 18:30, every day");
        assert_eq!(on([1, 0, 1, 1, 0, 0, 1]), "08:00 to 18:30, Mon, Wed–Thu, Sun");
    }
}

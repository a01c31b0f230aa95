//! Station 6: when each layer goes in.

mod cards;
mod facts;
mod split;

use askama::Template;
use fondant_cast::facts::FactRow;
use fondant_cast::{
    AirFrom, Conflict, Evaluation, InBucket, Plan, PourTask, ShopSettings, Standing, fixes,
};
use fondant_heat::climate::trouble::{Trouble, troubles};
use fondant_pours::simulate::observe::{Observed, Touch};
use fondant_pours::{Joint, Schedule};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Span, TemperatureDelta, bounds};
use jiff::civil::DateTime;

use super::Asked;
use crate::drawings::hours_axis::{HoursAxis, draw};
use crate::drawings::{FULL, Frame, NARROW};
use crate::entries::Reader;
use crate::pour_jobs::key_of;
use crate::state::Shop;
use crate::views::fields::Field;
use crate::views::format::{Shown, span};
use crate::views::strip::layer_name;
use crate::views::{kinds, pour_words, words};

pub(in crate::routes) use cards::{Card, cards};

/// Windows that open later by less at the narrowest place are not told of.
const HARDLY_LATER: Span = Span::from_s(600.0);
/// How `datetime-local` fields write a moment.
pub(in crate::routes) const LOCAL: &str = "%Y-%m-%dT%H:%M";
/// The axis, and how many times as wide it can be drawn.
const ZOOMS: [u8; 3] = [1, 2, 4];

/// What the station works out beside the plan.
pub(in crate::routes) struct PoursExtras {
    /// The plan by what has happened; `None` where nothing has.
    pub(in crate::routes) observed: Option<Observed>,
    /// What has been written down.
    pub(in crate::routes) facts: Vec<FactRow>,
    /// The width of the narrowest place and how much later windows open there.
    pub(in crate::routes) narrowest: Option<(Length, Span)>,
}

#[derive(Template)]
#[template(path = "stations/pours.html")]
struct PoursBody {
    cast: i64,
    /// Names what is compared: other inputs, other answers.
    key: String,
    refusal: String,
    axis: String,
    trouble: String,
    missed: Vec<String>,
    narrow: String,
    /// The shop's clock.
    zone: String,
    air_trouble: String,
    troubles: Vec<String>,
    /// Changes that would help are looked for.
    wants_help: bool,
    rows: Vec<PourRow>,
    standing: &'static str,
    standing_note: String,
    has_taken: bool,
    /// Something is poured: what is left is moved, not planned anew.
    has_begun: bool,
    difference: String,
    split: split::SplitView,
    facts: facts::FactsView,
    when: Vec<Field>,
    past: String,
    now_entry: String,
    hours: String,
}

struct PourRow {
    name: String,
    when: String,
    takes: String,
    why: String,
    depth: String,
    volume: String,
    parts: String,
    joint: String,
    window: String,
    peak: String,
    is_poured: bool,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan, shop: &Shop) {
    // The button "Plan from now" carries its own moment.
    let chosen = reader.entries.get("from_now").or_else(|| reader.entries.get("not_before"));
    let text = chosen.unwrap_or_default();
    match moment(text, shop) {
        Some(at) => plan.pours.not_before = at,
        None => reader.refusals.add(
            "not_before",
            format!("“{text}” is not a date and time. Write it as 2026-11-24T08:00."),
        ),
    }
    if reader.entries.get("from_now").is_some() {
        plan.pours.taken.clear();
    }
    let mut minutes = plan.pours.sanding.s() / 60.0;
    reader.number("sanding", &bounds::SANDING_MINUTES, &mut minutes);
    plan.pours.sanding = Span::from_s(minutes * 60.0);
    let sources = [("steady", AirFrom::Steady), ("shop", AirFrom::Shop)];
    reader.choice("air_from", &sources, &mut plan.conditions.air_from);
    if reader.entries.get("heated").is_some() {
        let mut heated = plan.conditions.heated.k();
        reader.number("heated", &bounds::HEATED_K, &mut heated);
        plan.conditions.heated = TemperatureDelta::from_k(heated);
    }
    let before = plan.pours.split.clone();
    split::apply(reader, plan);
    if plan.pours.split != before {
        // Times of other layers say nothing.
        plan.pours.taken.clear();
    }
}

/// A moment as `datetime-local` fields write it, on the shop's clock.
pub(in crate::routes) fn moment(text: &str, shop: &Shop) -> Option<jiff::Timestamp> {
    let local: DateTime = text.parse().ok()?;
    local.to_zoned_datetime(shop.hours.zone().clone()).ok().map(|zoned| zoned.timestamp())
}

/// The date is the only figure of this form that the plan's own check can refuse.
pub(super) fn field_of(conflict: &Conflict) -> String {
    match conflict {
        Conflict::OutOfBounds(_) => "not_before".to_owned(),
        _ => String::new(),
    }
}

/// The axis and what stands at its side, for a schedule: shown alone while
/// something is dragged.
#[derive(Template)]
#[template(path = "parts/pour_axis.html")]
pub(in crate::routes) struct AxisPart {
    axis: String,
    breaks: Vec<String>,
    opens: String,
    opens_by: &'static str,
}

impl AxisPart {
    pub(in crate::routes) fn new(asked: &Showing<'_>) -> Self {
        let zone = asked.shop.hours.zone();
        let say = |b| pour_words::broken(b, asked.schedule, asked.shown(), zone);
        Self {
            axis: asked.axis(),
            breaks: asked.schedule.breaks.iter().map(say).collect(),
            opens: asked.shown().date_and_time(asked.schedule.hard, zone),
            opens_by: kinds::hard(asked.plan.kind).sentence,
        }
    }
}

/// A schedule and what is drawn with it.
pub(in crate::routes) struct Showing<'a> {
    pub(in crate::routes) plan: &'a Plan,
    pub(in crate::routes) shop: &'a Shop,
    pub(in crate::routes) schedule: &'a Schedule,
    pub(in crate::routes) resin: &'a fondant_materials::resin::Resin,
    pub(in crate::routes) facts: &'a [FactRow],
    pub(in crate::routes) now: jiff::Timestamp,
}

impl Showing<'_> {
    fn shown(&self) -> Shown {
        self.shop.shown
    }

    fn settings(&self) -> &ShopSettings {
        &self.shop.workshop.settings.shop
    }

    fn troubles(&self) -> Vec<Trouble> {
        let air = self.shop.site.air_of(self.plan);
        let limits = self.settings().air_limits(self.resin);
        let first = self.schedule.pours.first().map_or(self.schedule.hard, |pour| pour.at);
        let surface = |at| self.schedule.surface_at(at);
        troubles(&air, &limits, surface, first, self.schedule.hard)
    }

    fn touches(&self) -> Vec<(usize, jiff::Timestamp, Touch)> {
        let touch = |row: &FactRow| match row.fact {
            fondant_cast::Fact::Touched { pour, at, found } => Some((pour, at, found)),
            _ => None,
        };
        fondant_cast::facts::standing(self.facts).iter().filter_map(touch).collect()
    }

    fn axis(&self) -> String {
        let air = self.shop.site.air_of(self.plan);
        let (troubles, touches) = (self.troubles(), self.touches());
        let view = HoursAxis {
            schedule: self.schedule,
            hours: &self.shop.hours,
            air: &air,
            limits: self.settings().air_limits(self.resin),
            troubles: &troubles,
            touches: &touches,
            poured: fondant_cast::facts::poured(self.facts),
            takes_facts: !self.plan.pours.taken.is_empty(),
            now: self.now,
            hard: kinds::hard(self.plan.kind).mark,
            shown: self.shown(),
        };
        // Each zoom is a drawing of its own: text keeps its size, days get wider.
        let zoomed = |zoom: u8| {
            let class = ["wide zoom-1", "wide zoom-2", "wide zoom-4"][usize::from(zoom / 2)];
            draw(&view, Frame { width: FULL.width * f64::from(zoom), class })
        };
        ZOOMS.into_iter().map(zoomed).collect::<String>() + &draw(&view, NARROW)
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (zone, fields) = (asked.shop.hours.zone(), asked.fields());
    let local =
        |at: jiff::Timestamp| at.to_zoned_datetime(zone.clone()).strftime(LOCAL).to_string();
    let minutes = trimmed(plan.pours.sanding.s() / 60.0, 0);
    let extras = asked.pours_extras.as_ref();
    let none = Vec::new();
    let rows = extras.map_or(&none, |extras| &extras.facts);
    let observed = extras.and_then(|extras| extras.observed.as_ref());
    let source = match plan.conditions.air_from {
        AirFrom::Steady => "steady",
        AirFrom::Shop => "shop",
    };
    let mut body = PoursBody {
        cast: asked.cast.0,
        key: evaluation.pour_task.as_ref().map_or_else(String::new, |task| key_of(&task.untaken())),
        refusal: asked.refusal(),
        axis: String::new(),
        trouble: String::new(),
        missed: too_thick(asked).into_iter().collect(),
        narrow: String::new(),
        zone: zone.iana_name().unwrap_or("UTC").to_owned(),
        air_trouble: asked.shop.air_trouble.clone().unwrap_or_default(),
        troubles: Vec::new(),
        wants_help: evaluation.standing != Standing::Taken && fixes::is_wanted(evaluation),
        rows: Vec::new(),
        standing: "",
        standing_note: String::new(),
        has_taken: !plan.pours.taken.is_empty(),
        has_begun: fondant_cast::facts::poured(rows) > 0,
        difference: String::new(),
        split: split::SplitView::new(asked),
        facts: facts::FactsView::default(),
        when: vec![
            fields
                .text("not_before", "Begin no earlier than", &local(plan.pours.not_before))
                .kind("datetime-local"),
            fields.choice(
                "air_from",
                "Air of the pours",
                source,
                &[
                    ("shop", "The shop's, day and night"),
                    ("steady", &format!("Steady, {}", shown.temperature(plan.conditions.air))),
                ],
            ),
            fields
                .number("heated", "Heated by", plan.conditions.heated.k(), &bounds::HEATED_K)
                .hint("A heater makes the shop's air warmer by this."),
            fields
                .text("sanding", "Sanding between layers", &format!("{minutes} min"))
                .hint("Only where a window is missed: 80 grit, wipe, dry."),
        ],
        past: String::new(),
        now_entry: local(asked.now + jiff::SignedDuration::from_mins(30)),
        hours: hours(asked),
    };
    if plan.conditions.air_from == AirFrom::Steady {
        body.when.retain(|field| field.name != "heated");
    }
    (body.standing, body.standing_note) = match evaluation.standing {
        Standing::Proposed => (
            "Proposed",
            "A quick look; nothing is promised to anybody yet. \
             Compare the alternatives below and take one, or drag a flag."
                .to_owned(),
        ),
        Standing::Taken => (
            "Taken",
            "These times are the plan: Today and the calendar go by \
             them. Drag a flag to move a pour; what follows moves along. Touch the row of a \
             layer, before now, to write down what happened."
                .to_owned(),
        ),
        Standing::Outdated => (
            "Out of date",
            "The form has changed since the plan was taken. \
             Take one of the alternatives anew; until then Today shows nothing of this cast."
                .to_owned(),
        ),
    };
    let schedule = match (observed, &evaluation.pours) {
        (Some(observed), _) => &observed.schedule,
        (None, Ok(schedule)) => schedule,
        (None, Err(trouble)) => {
            body.trouble = words::pours(trouble, shown);
            return body.render();
        }
    };
    let showing = Showing {
        plan,
        shop: asked.shop,
        schedule,
        resin: &evaluation.resin,
        facts: rows,
        now: asked.now,
    };
    let part = AxisPart::new(&showing);
    body.axis = part.render()?;
    body.troubles =
        showing.troubles().iter().map(|t| pour_words::trouble(t, shown, zone)).collect();
    let poured = fondant_cast::facts::poured(rows);
    body.rows = (0..schedule.pours.len()).map(|i| row(asked, schedule, i, i < poured)).collect();
    body.missed.extend(missed(asked, schedule));
    body.narrow = narrow(asked);
    if let (Some(observed), Ok(planned)) = (observed, &evaluation.pours) {
        body.difference = facts::difference(observed, planned, shown, zone);
    }
    if evaluation.standing == Standing::Taken {
        body.facts = facts::FactsView::new(asked, schedule, rows);
    }
    let next = schedule.pours.get(poured);
    if let Some(next) = next.filter(|next| next.at < asked.now) {
        body.past = format!(
            "{} stands at {}, which has passed.",
            pour_words::capitalised(&layer_name(poured, schedule)),
            shown.date_and_time(next.at, zone)
        );
    }
    body.render()
}

fn row(asked: &Asked<'_>, schedule: &Schedule, index: usize, is_poured: bool) -> PourRow {
    let (shown, zone) = (asked.shop.shown, asked.shop.hours.zone());
    let pour = &schedule.pours[index];
    let time = |at| shown.day_and_time(at, zone);
    let mixed = asked.evaluation.measured.mixed(pour.layer.volume);
    let mixed = fondant_cast::mix::parts(mixed, &asked.evaluation.resin);
    let takes = Span::between(pour.at, pour.done);
    PourRow {
        name: pour_words::capitalised(layer_name(index, schedule).trim_start_matches("the ")),
        when: shown.date_and_time(pour.at, zone),
        why: match (is_poured, pour.binding) {
            (true, _) => "poured".to_owned(),
            (false, Some(binding)) => pour_words::binding(binding).to_owned(),
            (false, None) => "as you set it".to_owned(),
        },
        depth: shown.length(pour.layer.depth()),
        volume: shown.volume(mixed.volume),
        takes: format!("{}, {}", pour_words::buckets(pour.batches), span(takes)),
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
        is_poured,
    }
}

/// How much later windows open where the piece is narrowest; nothing where the
/// model cannot follow that place.
pub(in crate::routes) fn narrowest(evaluation: &Evaluation) -> Option<(Length, Span)> {
    let (task, schedule) = (evaluation.pour_task.as_ref()?, evaluation.pours.as_ref().ok()?);
    task.later_at_narrowest(schedule).ok().flatten()
}

/// A sentence where windows open later at the narrowest place than where the
/// piece is widest, which the plan goes by.
fn narrow(asked: &Asked<'_>) -> String {
    let shown = asked.shop.shown;
    let narrowest = asked.pours_extras.as_ref().and_then(|extras| extras.narrowest);
    let width = asked.evaluation.pour_task.as_ref().and_then(PourTask::width);
    match (narrowest, width) {
        (Some((there, later)), Some(width)) if later >= HARDLY_LATER => format!(
            "Reckoned where it is widest, {}, timber beside it included. Where it is {} wide \
             windows open up to {} later: touch it there too.",
            shown.length(width),
            shown.length(there),
            span(later)
        ),
        _ => String::new(),
    }
}

/// A sentence where a bucket would be too thick before it is poured.
fn too_thick(asked: &Asked<'_>) -> Option<String> {
    let shown = asked.shop.shown;
    match asked.evaluation.pour_task.as_ref()?.in_bucket() {
        InBucket::Fits => None,
        InBucket::Smaller { mass, pot_life } => Some(format!(
            "Mixed {} at a time: more in one bucket warms itself and is too thick after {}, before \
             it is poured.",
            shown.mass(mass),
            span(pot_life)
        )),
        InBucket::Never { pot_life } => Some(format!(
            "▲ This resin is too thick to pour after {}, sooner than the shop takes for a bucket. \
             Mix less, have somebody pour beside you, or take a slower resin.",
            span(pot_life)
        )),
    }
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

/// The shop's hours of the coming days, as they stand.
fn hours(asked: &Asked<'_>) -> String {
    let days = &asked.shop.workshop.settings.days;
    let names = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
    let written = days.each_ref().map(|day| fondant_pours::Workday::write_day(day));
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for index in 0..7 {
        match runs.last_mut() {
            Some((first, last)) if written[*first] == written[index] => *last = index,
            _ => runs.push((index, index)),
        }
    }
    let said = |(first, last): (usize, usize)| match (written[first].as_str(), last - first) {
        ("", _) => String::new(),
        (hours, 6) => format!("{hours} every day"),
        (hours, 0) => format!("{hours} {}", names[first]),
        (hours, _) => format!("{hours} {}–{}", names[first], names[last]),
    };
    runs.into_iter().map(said).filter(|text| !text.is_empty()).collect::<Vec<_>>().join("; ")
}

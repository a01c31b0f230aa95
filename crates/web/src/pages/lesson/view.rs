//! The page of a lesson.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_app::records::CastSummary;
use fondant_heat::HeatError;
use fondant_heat::calibration::forecast::{self, Interval};
use fondant_heat::calibration::learning::{Lesson as Learnt, LossFrom, film_of};
use fondant_materials::resin::{Calibrated, Record};
use fondant_numerics::Stop;
use fondant_quantities::units::Unit;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, Span, Temperature};

use super::drawing::chart;
use super::form::{Asked, fields};
use crate::paths::shop::{AcceptLesson, Lesson, Resin};
use crate::svg::Markup;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::numbers::span;
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown};
use crate::words::counting::counted;

#[derive(Template, WebTemplate)]
#[template(path = "pages/lesson/lesson.html")]
pub(super) struct LessonPage {
    page: Page,
    here: Lesson,
    accept: AcceptLesson,
    resin: Resin,
    name: String,
    fields: Vec<Field>,
    /// How much a cup has to warm to tell heat and loss apart, and water for one that does not.
    warms: String,
    water_at: &'static str,
    log: String,
    water: String,
    log_refusal: String,
    water_refusal: String,
    taught: Option<Taught>,
    /// What accepting it changes: another lesson meanwhile is not overwritten.
    revision: i32,
    /// Names the acceptance, so that the lesson is kept once.
    request: String,
}

/// A lesson as it is shown before it is kept.
pub(super) struct Taught {
    chart: Markup,
    says: Vec<String>,
    peak_before: String,
    peak_after: String,
    depth_before: String,
    depth_after: String,
    cast: String,
    /// Every entry once more, for accepting.
    entries: Vec<(String, String)>,
}

/// Contents of the page.
pub(super) struct Showing<'a> {
    pub(super) shop: &'a Shop,
    pub(super) casts: &'a [CastSummary],
    pub(super) resin: &'a Record,
    pub(super) entries: &'a Entries,
    pub(super) refusals: &'a Refusals,
    pub(super) taught: Option<Taught>,
    pub(super) revision: i32,
    pub(super) request: String,
}

impl LessonPage {
    pub(super) fn new(showing: Showing<'_>) -> Self {
        let Showing { shop, casts, resin, entries, refusals, .. } = showing;
        let is_typed = entries.get("log").is_some();
        let typed = Fields::of(shop.shown(), is_typed.then_some(entries), refusals);
        let id = resin.id.0.clone();
        Self {
            page: Page::new(format!("{}: learn", resin.name), Place::Shelf)
                .with(&[Script::Module("/file_box.js")]),
            here: Lesson { resin: id.clone() },
            accept: AcceptLesson { resin: id.clone() },
            resin: Resin { resin: id },
            name: resin.name.clone(),
            fields: fields(&typed, casts, resin),
            warms: shop.shown().degrees(25.0),
            water_at: match shop.shown().system {
                UnitSystem::Metric => "40–50\u{202f}°C",
                UnitSystem::UsCustomary => "105–120\u{202f}°F",
            },
            log: entries.get("log").unwrap_or_default().to_owned(),
            water: entries.get("water").unwrap_or_default().to_owned(),
            log_refusal: refusals.of("log"),
            water_refusal: refusals.of("water"),
            taught: showing.taught,
            revision: showing.revision,
            request: showing.request,
        }
    }
}

/// Entries that accepting a lesson needs.
const ENTRIES: [&str; 8] = ["mass", "air", "lot", "times", "scale", "cast", "log", "water"];

impl Taught {
    /// What a lesson means for the cast that it is told of.
    pub(super) fn of(
        asked: &Asked,
        lesson: &Learnt,
        (shown, entries): (Shown, &Entries),
        stop: &Stop,
    ) -> Result<Self, HeatError> {
        let layer = forecast::Layer { stop: stop.clone(), ..asked.layer.clone() };
        let (before, after) = (asked.read.resin.calibrated(), lesson.calibrated(&asked.read.resin));
        let degrees = |i: Interval| interval(i, |k| shown.temperature(Temperature::from_k(k)));
        let lengths = |i: Interval| interval(i, |m| shown.length(Length::from_m(m)));
        let peak = |resin: &Calibrated| forecast::peak(resin, &layer).map(degrees);
        let depth = |resin: &Calibrated| forecast::deepest(resin, &layer).map(lengths);
        let entry = |name: &str| entries.get(name).unwrap_or_default().to_owned();
        Ok(Self {
            chart: chart(asked, lesson, shown, stop),
            says: says(asked, lesson, shown),
            peak_before: peak(&before)?,
            peak_after: peak(&after)?,
            depth_before: depth(&before)?,
            depth_after: depth(&after)?,
            cast: asked.cast.clone(),
            entries: ENTRIES.iter().map(|name| ((*name).to_owned(), entry(name))).collect(),
        })
    }
}

fn interval(interval: Interval, say: impl Fn(f64) -> String) -> String {
    let Interval { low, value, high } = interval;
    format!("{} ({} to {})", say(value), say(low), say(high))
}

fn says(asked: &Asked, lesson: &Learnt, shown: Shown) -> Vec<String> {
    let log = &asked.read.log;
    let unit = shown.system.temperature();
    let kelvin = unit.write(Temperature::from_k(301.0)) - unit.write(Temperature::from_k(300.0));
    let mut says = vec![format!(
        "{} readings over {}, spread {:.1} {} about the curve. Rate ×{:.2}, heat ×{:.2}.",
        log.rows,
        span(Span::from_s(log.readings.last().map_or(0.0, |r| r.t_s))),
        lesson.noise_k * kelvin,
        unit.symbol(),
        lesson.factors.rate,
        lesson.factors.heat
    )];
    says.push(loss(asked, lesson));
    if let Some(apart) = lesson.water_disagrees {
        says.push(format!(
            "The water log says another loss, by {:.0}\u{202f}%. This log settles it better and is used.",
            apart.abs() * 100.0
        ));
    }
    if !lesson.outliers.is_empty() {
        says.push(format!(
            "Left out, since they jump away from the rest: {}, the open dots.",
            counted(lesson.outliers.len(), "reading")
        ));
    }
    if !log.gaps.is_empty() {
        says.push(format!("The log has {} gaps, none of them at the peak.", log.gaps.len()));
    }
    says
}

fn loss(asked: &Asked, lesson: &Learnt) -> String {
    let film = film_of(&asked.read.resin.generic(), &asked.read.cup, lesson.factors.loss);
    match lesson.loss_from {
        LossFrom::ThisLog => format!(
            "The cup warmed enough to tell its own loss: as through a film of {film:.0} W/m²K all \
             round."
        ),
        LossFrom::Water => {
            format!("The cup's loss is that of the water log: {film:.0} W/m²K all round.")
        }
    }
}

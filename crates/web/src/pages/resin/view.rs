//! The page of a resin.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_heat::calibration::sheet::{Compared, Figure};
use fondant_materials::resin::shelf::{LessonRecord, OnShelf};
use fondant_materials::resin::{Calibration, Record, shipped};
use fondant_quantities::{Length, Span};

use super::form::groups;
use crate::pages::shelf::lot_name;
use crate::paths::shop::{ExportResin, Forget, Lesson, NewResin, PutAway, Resin, Restore};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::Fields;
use crate::ui::group::Group;
use crate::ui::numbers::span;
use crate::ui::page::{Follows, Page, Place, Script};
use crate::ui::units::{self, InUnits};
use crate::words::resin::{CLASSES, name_of};

#[derive(Template, WebTemplate)]
#[template(path = "pages/resin/resin.html")]
pub(super) struct ResinPage {
    page: Page,
    links: Links,
    name: String,
    revision: i32,
    /// Names the addition of a new one, so that it is added once.
    request: String,
    is_new: bool,
    /// The class whose figures stand in the form.
    class: &'static str,
    is_away: bool,
    /// It ships, and the shop has a record of its own.
    can_restore: bool,
    notice: String,
    groups: Vec<Group>,
    compared: Vec<ComparedRow>,
    learnt: String,
    /// How far off a forecast may be without a reading of its own.
    uncertainty: String,
    lessons: Vec<String>,
}

/// Addresses of what is done with a resin.
struct Links {
    save: String,
    teach: Lesson,
    forget: Forget,
    export: ExportResin,
    away: PutAway,
    restore: Restore,
}

struct ComparedRow {
    what: &'static str,
    sheet: String,
    model: String,
    is_met: bool,
}

/// A resin and everything that is shown of it.
pub(super) struct Shown<'a> {
    pub(super) shop: &'a Shop,
    /// As it stands on the shelf; `None` for a new one.
    pub(super) on: Option<&'a OnShelf>,
    pub(super) record: &'a Record,
    /// Revision of the shop's own record; 0 where it has none.
    pub(super) revision: i32,
    pub(super) compared: Vec<Compared>,
    pub(super) lessons: Vec<LessonRecord>,
    pub(super) request: String,
}

/// What was typed, and refused or still in hand.
pub(super) struct Refused<'a> {
    pub(super) entries: &'a Entries,
    pub(super) refusals: &'a Refusals,
    pub(super) notice: &'a str,
}

impl Refused<'_> {
    /// Whether something was wrong with it.
    pub(super) fn is_refusal(&self) -> bool {
        !self.refusals.is_empty() || !self.notice.is_empty()
    }
}

impl ResinPage {
    pub(super) fn new(asked: &Shown<'_>, refused: Option<Refused<'_>>) -> Self {
        let (shop, record, none) = (asked.shop, asked.record, Refusals::none());
        let shown = shop.shown();
        let fields = Fields::of(
            shown,
            refused.as_ref().map(|r| r.entries),
            refused.as_ref().map_or(&none, |r| r.refusals),
        );
        let is_new = asked.on.is_none();
        let is_own = asked.on.is_some_and(|on| on.is_own);
        let title = if is_new { "A new resin".to_owned() } else { record.name.clone() };
        let typed_request = refused.as_ref().and_then(|r| r.entries.get("request"));
        let of_it = |lesson: &&LessonRecord| !is_new && lesson.resin == record.id;
        Self {
            page: Page::new(title, Place::Shelf).following(Follows::Shop).with(&[Script::Htmx]),
            links: links(record, is_new),
            name: record.name.clone(),
            revision: asked.revision,
            request: typed_request.unwrap_or(&asked.request).to_owned(),
            is_new,
            is_away: asked.on.is_some_and(|on| on.is_put_away),
            can_restore: is_own && shipped::find(&record.id).is_ok(),
            class: name_of(&CLASSES, &record.class),
            groups: groups(&fields, record),
            compared: asked.compared.iter().map(|compared| row(compared, shown)).collect(),
            learnt: record.calibration.as_ref().map_or_else(String::new, |c| learnt(c, shop)),
            uncertainty: shown.forecast_uncertainty(),
            lessons: asked.lessons.iter().rev().filter(of_it).map(|l| lesson(l, shop)).collect(),
            notice: refused.map_or_else(String::new, |refused| refused.notice.to_owned()),
        }
    }
}

fn links(record: &Record, is_new: bool) -> Links {
    let resin = record.id.0.clone();
    Links {
        save: match is_new {
            true => NewResin.to_string(),
            false => Resin { resin: resin.clone() }.to_string(),
        },
        teach: Lesson { resin: resin.clone() },
        forget: Forget { resin: resin.clone() },
        export: ExportResin { resin: resin.clone() },
        away: PutAway { resin: resin.clone() },
        restore: Restore { resin },
    }
}

fn learnt(calibration: &Calibration, shop: &Shop) -> String {
    format!(
        "Calibrated {}: {:.2} times the rate and {:.2} times the heat of its model, lot {}.",
        shop.shown().date_and_time(calibration.at, shop.hours().zone()),
        calibration.rate,
        calibration.heat,
        lot_name(&calibration.lot)
    )
}

fn lesson(lesson: &LessonRecord, shop: &Shop) -> String {
    let (shown, learnt) = (shop.shown(), &lesson.calibration);
    format!(
        "{}: rate ×{:.2}, heat ×{:.2}, lot {}, {} readings of {} at {}",
        shown.date_and_time(learnt.at, shop.hours().zone()),
        learnt.rate,
        learnt.heat,
        lot_name(&learnt.lot),
        lesson.readings.len(),
        shown.mass_fine(lesson.mass),
        shown.temperature(lesson.air)
    )
}

fn row(compared: &Compared, shown: units::Shown) -> ComparedRow {
    let figure = |value: f64| match compared.figure {
        Figure::Deepest => shown.length(Length::from_m(value)),
        _ => span(Span::from_s(value)),
    };
    ComparedRow {
        what: match compared.figure {
            Figure::PotLife => "Pot life",
            Figure::Tacky => "Sticky after",
            Figure::Demould => "Out of the form after",
            Figure::FullCure => "Fully cured after",
            Figure::Deepest => "Deepest layer",
        },
        sheet: figure(compared.sheet),
        model: compared.model.map_or_else(|| "never".to_owned(), figure),
        is_met: compared.is_met,
    }
}

//! The page of the shop's logs.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_app::records::KeptLog;
use fondant_files::logs::air::ReadAir;
use fondant_files::logs::{DateOrder, Scale};
use fondant_heat::climate::indoor::Fitted;
use fondant_quantities::units::UnitSystem;

use super::drawing::curves;
use super::form::{CLOCKS, ORDERS, SCALES};
use crate::paths::shop::{KeepLog, WithdrawLog};
use crate::svg::Markup;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::numbers::span;
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown};
use crate::words::counting::counted;

static NONE: Refusals = Refusals::none();

/// What the page is asked to show.
pub(super) struct Look<'a> {
    pub(super) typed: Option<&'a Entries>,
    pub(super) refusals: &'a Refusals,
    /// A log that is looked at before it is kept.
    pub(super) read: Option<&'a ReadAir>,
    pub(super) done: String,
}

impl Default for Look<'_> {
    fn default() -> Self {
        Self { typed: None, refusals: &NONE, read: None, done: String::new() }
    }
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/shop_log/shop_log.html")]
pub(super) struct LogPage {
    page: Page,
    keep: KeepLog,
    text: String,
    refusal: String,
    fields: Vec<Field>,
    done: String,
    request: String,
    seen: Option<Seen>,
    logs: Vec<LogRow>,
}

/// A log that is looked at.
struct Seen {
    sum: String,
    notes: Vec<String>,
    /// Label and curve of temperature and of humidity.
    curves: [(String, Markup); 2],
}

/// A log that is kept.
struct LogRow {
    about: String,
    when: String,
    withdraw: WithdrawLog,
}

impl LogPage {
    pub(super) fn new(shop: &Shop, logs: &[KeptLog], look: &Look<'_>, request: String) -> Self {
        let shown = shop.shown();
        let fields = Fields::of(shown, look.typed, look.refusals);
        let orders = ORDERS.map(|(word, name, _)| (word, name));
        Self {
            page: Page::new("A log of the shop's air", Place::Shop)
                .with(&[Script::Module("/file_box.js")]),
            keep: KeepLog,
            text: look.typed.and_then(|typed| typed.get("log")).unwrap_or_default().to_owned(),
            refusal: look.refusals.of("log"),
            fields: vec![
                fields.choice("clock", "Its times are", "written", &CLOCKS),
                fields.text("hours", "Hours ahead of UTC", ""),
                fields.choice("scale", "Its temperatures are in", "", &SCALES),
                fields.choice("dates", "Its dates are", "", &orders),
            ],
            done: look.done.clone(),
            request,
            seen: look.read.map(|read| seen(read, shop)),
            logs: logs.iter().map(|log| row(log, shop)).collect(),
        }
    }
}

fn row(log: &KeptLog, shop: &Shop) -> LogRow {
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let at = |at| shown.date_and_time(at, zone);
    LogRow {
        about: format!("{}, {} to {}", counted(log.rows, "row"), at(log.first), at(log.last)),
        when: format!("brought in {}", at(log.created)),
        withdraw: WithdrawLog { log: log.id },
    }
}

fn seen(read: &ReadAir, shop: &Shop) -> Seen {
    let (shown, zone, log) = (shop.shown(), shop.hours().zone(), &read.log);
    let ends = log.readings.first().zip(log.readings.last());
    let between = ends.map_or(String::new(), |(first, last)| {
        let at = |at| shown.date_and_time(at, zone);
        format!(", {} to {}", at(first.at), at(last.at))
    });
    Seen {
        sum: format!(
            "{} in {}{between}.",
            counted(log.rows, "row"),
            counted(log.readings.len(), "quarter hour")
        ),
        notes: notes(read, shop),
        curves: {
            let [warm, humid] = curves(&log.readings, shown);
            let degrees = if shown.system == UnitSystem::Metric { "°C" } else { "°F" };
            [(format!("Temperature, {degrees}"), warm), ("Humidity, %".to_owned(), humid)]
        },
    }
}

/// How a log was read, and what is odd about it.
fn notes(read: &ReadAir, shop: &Shop) -> Vec<String> {
    let (shown, zone, log) = (shop.shown(), shop.hours().zone(), &read.log);
    let scale = if read.scale == Scale::Fahrenheit { "°F" } else { "°C" };
    let mut notes = vec![format!("Read in {scale}.")];
    notes.extend(read.order.map(|order| match order {
        DateOrder::MonthFirst => "Its dates have the month first.".to_owned(),
        _ => "Its dates have the day first.".to_owned(),
    }));
    notes.extend(
        log.lacks_humidity.then(|| "It has no humidity; 55\u{202f}% is assumed.".to_owned()),
    );
    let rows = |n: usize, says: &str| (n > 0).then(|| format!("{} {says}.", counted(n, "row")));
    notes.extend(rows(read.blank, "without a temperature left out"));
    notes.extend(rows(read.missing, "at an hour that the clock passed over, taken an hour later"));
    notes.extend(read.was_descending.then(|| "Its newest reading came first.".to_owned()));
    notes.extend(
        (read.footer > 0).then(|| "The lines below the last reading were left out.".to_owned()),
    );
    notes.extend(log.gaps.first().map(|(from, to)| {
        let stretches = match log.gaps.len() {
            1 => "One stretch".to_owned(),
            n => format!("{n} stretches"),
        };
        format!(
            "{stretches} without a reading, the first from {} to {}: the shop's usual day is used there.",
            shown.date_and_time(*from, zone),
            shown.date_and_time(*to, zone)
        )
    }));
    notes
}

/// What a fitted room is like.
pub(super) fn says_fit(fitted: &Fitted, shown: Shown) -> String {
    format!(
        "The room is {} warmer than outside and {} late; that meets {} readings to {}. The air is \
         now the forecast through this room.",
        shown.degrees(fitted.indoor.offset.k()),
        span(fitted.indoor.lag),
        fitted.readings,
        shown.degrees(fitted.rms_k)
    )
}

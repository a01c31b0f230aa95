//! The day on paper: every act of a date, in order, with boxes to tick.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use fondant_app::{App, CastAgenda, Shop};
use fondant_cast::agenda::{Act, ActKind};
use fondant_pours::Workday;
use jiff::Timestamp;
use jiff::civil::Date;
use serde::Deserialize;

use crate::Web;
use crate::pages::today::{pour_of, poured, weighed_out};
use crate::paths::shop::DaySheet;
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::page::{Page, Place};
use crate::ui::units::InUnits;
use crate::words::pours;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show)
}

#[derive(Debug, Deserialize)]
struct Wanted {
    date: Option<String>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/day_sheet/day_sheet.html")]
struct SheetPage {
    page: Page,
    shop: String,
    date: String,
    before: String,
    after: String,
    hours: String,
    air: String,
    rows: Vec<Row>,
}

struct Row {
    when: String,
    what: String,
    cast: String,
    details: Vec<String>,
    mark: Mark,
}

/// How an act stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Mark {
    /// To be ticked.
    Open,
    /// Written down as done.
    Done,
    /// It should have been done by now.
    Late,
}

/// The sheet of a date; of today where none is named.
async fn show(
    _: DaySheet,
    State(app): State<App>,
    Query(wanted): Query<Wanted>,
) -> Result<SheetPage, WebError> {
    let shop = app.shop().await?;
    let today = app.now().to_zoned_datetime(shop.hours().zone().clone()).date();
    let date: Date = match wanted.date {
        Some(text) => text.parse().map_err(|_| WebError::NotFound("date"))?,
        None => today,
    };
    let no_date = |_| WebError::NotFound("date");
    let begins = |date: Date| date.to_zoned_datetime(shop.hours().zone().clone());
    let next = date.tomorrow().map_err(no_date)?;
    let start = begins(date).map_err(no_date)?.timestamp();
    let end = begins(next).map_err(no_date)?.timestamp();
    let casts = app.agendas(&shop, start).await?;
    let (low, high) = shop.site().air.range(start, end);
    let open = Workday::write_day(shop.hours().on_date(date));
    let shown = shop.shown();
    Ok(SheetPage {
        page: Page::new("Day sheet", Place::Today),
        shop: shop.workshop.settings.name.clone(),
        date: date.strftime("%A, %-d %B %Y").to_string(),
        before: date.yesterday().map_or_else(|_| date.to_string(), |d| d.to_string()),
        after: next.to_string(),
        hours: if open.is_empty() { "closed".to_owned() } else { open },
        air: format!("{} to {}", shown.temperature(low), shown.temperature(high)),
        rows: rows(&shop, &casts, (start, end), app.now()),
    })
}

fn rows(
    shop: &Shop,
    casts: &[CastAgenda],
    (start, end): (Timestamp, Timestamp),
    now: Timestamp,
) -> Vec<Row> {
    let mut acts: Vec<(Act, &CastAgenda)> = casts
        .iter()
        .flat_map(|cast| cast.agenda.acts().into_iter().map(move |act| (act, cast)))
        .filter(|(act, _)| act.at >= start && act.at < end)
        .collect();
    acts.sort_by_key(|(act, cast)| (act.at, act.kind, cast.cast.0));
    let zone = shop.hours().zone();
    let row = |(act, cast): (Act, &CastAgenda)| {
        let pour = pour_of(&act, &cast.agenda);
        Row {
            when: act.at.to_zoned_datetime(zone.clone()).strftime("%H:%M").to_string(),
            what: pours::act(act.kind, pour.layer),
            cast: cast.name.clone(),
            details: match act.kind {
                ActKind::Pour => vec![poured(pour, shop), weighed_out(pour, &cast.agenda, shop)],
                _ => Vec::new(),
            },
            mark: Mark::of(&act, cast.agenda.poured, now),
        }
    };
    acts.into_iter().map(row).collect()
}

/// What leads to a pour is done with it; of the rest nothing is written down.
const fn leads_to_pour(kind: ActKind) -> bool {
    matches!(kind, ActKind::Sand | ActKind::Wait | ActKind::Pour)
}

impl Mark {
    /// Of an act of a cast of whose pours `poured` have happened.
    pub(crate) fn of(act: &Act, poured: usize, now: Timestamp) -> Self {
        match leads_to_pour(act.kind) {
            true if act.pour < poured => Self::Done,
            true if act.at < now => Self::Late,
            _ => Self::Open,
        }
    }

    /// A box on paper.
    pub(crate) const fn drawn(self) -> &'static str {
        match self {
            Self::Open => "☐",
            Self::Done => "☑",
            Self::Late => "☐ late",
        }
    }
}

//! The day on paper: every act of a date, in order, with boxes to tick.

use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Response};
use jiff::civil::Date;
use serde::Deserialize;

use crate::views::pour_words;
use crate::{AppState, WebError};

#[derive(Debug, Deserialize)]
pub(in crate::routes) struct Wanted {
    date: Option<String>,
}

#[derive(Template)]
#[template(path = "day_sheet.html")]
struct SheetPage {
    title: &'static str,
    place: &'static str,
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
    detail: String,
}

/// The sheet of a date; of today where none is named.
pub(in crate::routes) async fn show(
    State(state): State<AppState>,
    Query(wanted): Query<Wanted>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let (shown, zone) = (shop.shown, shop.hours.zone());
    let now = state.now();
    let today = now.to_zoned_datetime(zone.clone()).date();
    let date: Date = match wanted.date {
        Some(text) => text.parse().map_err(|_| WebError::NotFound("date"))?,
        None => today,
    };
    let start =
        date.to_zoned_datetime(zone.clone()).map_err(|_| WebError::NotFound("date"))?.timestamp();
    let next = date.tomorrow().map_err(|_| WebError::NotFound("date"))?;
    let end =
        next.to_zoned_datetime(zone.clone()).map_err(|_| WebError::NotFound("date"))?.timestamp();
    let casts = state.store.agendas(shop.id, start).await?;
    let mut acts: Vec<_> = casts
        .iter()
        .flat_map(|cast| cast.agenda.acts().into_iter().map(move |act| (act, cast)))
        .filter(|(act, _)| act.at >= start && act.at < end)
        .collect();
    acts.sort_by_key(|(act, cast)| (act.at, act.kind, cast.cast.0));
    let rows = acts
        .into_iter()
        .map(|(act, cast)| {
            let pour = &cast.agenda.pours[act.pour.min(cast.agenda.pours.len().saturating_sub(1))];
            let is_pour = act.kind == fondant_cast::agenda::ActKind::Pour;
            Row {
                when: act.at.to_zoned_datetime(zone.clone()).strftime("%H:%M").to_string(),
                what: pour_words::act(act.kind, &pour.name),
                cast: cast.name.clone(),
                detail: if is_pour {
                    format!(
                        "{}, {}, {} deep",
                        shown.volume(pour.volume),
                        pour_words::buckets(pour.batches),
                        shown.length(pour.depth)
                    )
                } else {
                    String::new()
                },
            }
        })
        .collect();
    let (low, high) = shop.site.air.range(start, end);
    let open = fondant_pours::Workday::write_day(shop.hours.on_date(date));
    let page = SheetPage {
        title: "Day sheet",
        place: "today",
        shop: shop.workshop.settings.name.clone(),
        date: date.strftime("%A, %-d %B %Y").to_string(),
        before: date.yesterday().map_or_else(|_| date.to_string(), |d| d.to_string()),
        after: next.to_string(),
        hours: if open.is_empty() { "closed".to_owned() } else { open },
        air: format!("{} to {}", shown.temperature(low), shown.temperature(high)),
        rows,
    };
    Ok(Html(page.render()?).into_response())
}

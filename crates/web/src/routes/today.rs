//! Today: all casts on one time axis, the next acts, and what collides.

mod resolve;
mod sheet;

use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Response};
use fondant_cast::agenda::{Act, ActKind};
use fondant_cast::{Agenda, Collision, collisions};
use fondant_heat::climate::trouble::{TroubleKind, troubles};
use fondant_store::repos::CastAgenda;
use jiff::{SignedDuration, Timestamp};

pub(super) use resolve::{apply, offer};
pub(super) use sheet::show as day_sheet;

use crate::drawings::day_axis::{DayAxis, Line, draw};
use crate::drawings::{FULL, both};
use crate::state::Shop;
use crate::views::format::Shown;
use crate::views::pour_words;
use crate::{AppState, WebError};

/// Acts shown at most.
const ACTS: usize = 8;
/// Casts drawn at most; the rest are counted.
const LINES: usize = 24;
/// Trouble of the air told at most.
const TROUBLES: usize = 3;
/// Collisions told at most.
const COLLISIONS: usize = 6;
/// The axis shows so long from the day's beginning.
const SHOWN: SignedDuration = SignedDuration::from_hours(4 * 24);
/// An act that was missed is shown for so long.
const MISSED: SignedDuration = SignedDuration::from_hours(36);

#[derive(Template)]
#[template(path = "today.html")]
struct TodayPage {
    title: &'static str,
    place: &'static str,
    date: String,
    air: String,
    air_troubles: Vec<String>,
    axis: String,
    more: usize,
    acts: Vec<ActRow>,
    collisions: Vec<CollisionRow>,
    collisions_more: usize,
    has_casts: bool,
}

/// One act.
struct ActRow {
    when: String,
    until: i64,
    countdown: String,
    what: String,
    cast: String,
    href: String,
    detail: String,
    is_late: bool,
}

/// One collision.
struct CollisionRow {
    sentence: String,
    cast: i64,
    pour: usize,
}

pub(super) async fn show(State(state): State<AppState>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let now = state.now();
    let casts = state.store.agendas(shop.id, now - MISSED).await?;
    Ok(Html(page(&shop, &casts, now).render()?).into_response())
}

fn page(shop: &Shop, casts: &[CastAgenda], now: Timestamp) -> TodayPage {
    let (shown, zone) = (shop.shown, shop.hours.zone());
    let hands = shop.workshop.settings.shop.hands;
    let agendas: Vec<Agenda> = casts.iter().map(|cast| cast.agenda.clone()).collect();
    let found = collisions(&agendas, hands);
    let day =
        now.to_zoned_datetime(zone.clone()).start_of_day().map_or(now, |start| start.timestamp());
    let until = day + SHOWN;
    let mut lines: Vec<(Timestamp, Line<'_>)> = casts
        .iter()
        .filter(|cast| !cast.agenda.is_over(now))
        .filter_map(|cast| {
            let next = cast.agenda.next(now).first().map_or(cast.agenda.hard, |act| act.at);
            let href = format!("/casts/{}/pours", cast.cast.0);
            (next < until).then_some((next, Line { name: &cast.name, href, agenda: &cast.agenda }))
        })
        .collect();
    lines.sort_by(|a, b| (a.0, a.1.name).cmp(&(b.0, b.1.name)));
    let more = lines.len().saturating_sub(LINES);
    let lines: Vec<Line<'_>> = lines.into_iter().take(LINES).map(|(_, line)| line).collect();
    let view = DayAxis { lines: &lines, hours: &shop.hours, from: day, to: until, now };
    let mut acts: Vec<(Act, &CastAgenda)> = casts
        .iter()
        .flat_map(|cast| cast.agenda.next(now).into_iter().map(move |act| (act, cast)))
        .filter(|(act, _)| act.at >= now - MISSED && act.at < until)
        // That it is watched goes without saying until it is in.
        .filter(|(act, cast)| act.kind != ActKind::Watch || act.pour < cast.agenda.poured)
        .collect();
    acts.sort_by_key(|(act, cast)| (act.at, act.kind, cast.cast.0));
    let air = shop.site.air.at(now);
    TodayPage {
        title: "Today",
        place: "today",
        date: now.to_zoned_datetime(zone.clone()).strftime("%A, %-d %B").to_string(),
        air: format!(
            "{}, {:.0} % humidity, dew point {}",
            shown.temperature(air.temperature),
            air.humidity_percent,
            shown.temperature(shop.site.air.dew_point(now))
        ),
        air_troubles: tonight(shop, casts, now),
        axis: if lines.is_empty() { String::new() } else { both(FULL, |frame| draw(&view, frame)) },
        more,
        acts: acts.into_iter().take(ACTS).map(|(act, cast)| row(&act, cast, shop, now)).collect(),
        collisions: found
            .iter()
            .take(COLLISIONS)
            .map(|collision| {
                let (cast, pour) = collision.gives_way();
                CollisionRow {
                    sentence: told(collision, casts, shown, shop),
                    cast: casts[cast].cast.0,
                    pour,
                }
            })
            .collect(),
        collisions_more: found.len().saturating_sub(COLLISIONS),
        has_casts: !casts.is_empty(),
    }
}

fn row(act: &Act, cast: &CastAgenda, shop: &Shop, now: Timestamp) -> ActRow {
    let (shown, zone) = (shop.shown, shop.hours.zone());
    let pour = &cast.agenda.pours[act.pour.min(cast.agenda.pours.len().saturating_sub(1))];
    let detail = match act.kind {
        ActKind::Pour => format!(
            "{}, {}, {} deep",
            shown.volume(pour.volume),
            pour_words::buckets(pour.batches),
            shown.length(pour.depth)
        ),
        ActKind::Opens => format!("until {}", shown.day_and_time(pour.closes, zone)),
        _ => String::new(),
    };
    ActRow {
        when: shown.day_and_time(act.at, zone),
        until: act.at.as_second(),
        countdown: pour_words::countdown(now, act.at),
        what: pour_words::act(act.kind, &pour.name),
        cast: cast.name.clone(),
        href: format!("/casts/{}/pours", cast.cast.0),
        detail,
        is_late: act.at < now,
    }
}

fn told(collision: &Collision, casts: &[CastAgenda], shown: Shown, shop: &Shop) -> String {
    let zone = shop.hours.zone();
    let name = |(cast, pour): (usize, usize)| {
        let cast = &casts[cast];
        format!("{} of “{}”", cast.agenda.pours[pour].name, cast.name)
    };
    match collision {
        Collision::Hands { first, second } => {
            let at = casts[second.0].agenda.pours[second.1].at;
            let hands = shop.workshop.settings.shop.hands;
            let people = if hands == 1 {
                "one person pours".to_owned()
            } else {
                format!("{hands} people pour")
            };
            format!(
                "{}: {} is due while {} keeps the hands busy; {people} here.",
                shown.date_and_time(at, zone),
                name(*second),
                name(*first)
            )
        }
        Collision::Pot { first, second } => {
            let free = casts[first.0].agenda.hard;
            format!(
                "The pressure pot holds “{}” until {}; “{}” should go in before.",
                casts[first.0].name,
                shown.date_and_time(free, zone),
                casts[second.0].name
            )
        }
    }
}

/// Trouble of the air in the coming day for what is wet, by its own resin.
fn tonight(shop: &Shop, casts: &[CastAgenda], now: Timestamp) -> Vec<String> {
    let until = now + SignedDuration::from_hours(24);
    let mut said = Vec::new();
    for cast in casts {
        let agenda = &cast.agenda;
        let first = agenda.pours.first().map_or(agenda.hard, |pour| pour.at);
        let (from, to) = (first.max(now), agenda.hard.min(until));
        let Ok(resin) = shop.shelf.find(&agenda.resin) else { continue };
        if from >= to {
            continue;
        }
        let limits = shop.workshop.settings.shop.air_limits(resin);
        let found = troubles(&shop.site.air, &limits, |_| None, from, to);
        said.extend(found.iter().filter(|trouble| trouble.kind != TroubleKind::Humid).map(
            |trouble| {
                let words = pour_words::trouble(trouble, shop.shown, shop.hours.zone());
                format!("“{}” stands in it. {words}", cast.name)
            },
        ));
        if said.len() >= TROUBLES {
            said.truncate(TROUBLES);
            break;
        }
    }
    said
}

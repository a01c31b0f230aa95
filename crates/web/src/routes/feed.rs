//! The calendar of a workshop: all pours, windows and forms to open, as an
//! iCalendar file (RFC 5545) and as a feed at a private address.

use axum::extract::{Path, State};
use axum::http::header;
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, Utc};
use fondant_cast::Agenda;
use fondant_cast::agenda::TOP_UPS_H;
use fondant_store::repos::CastAgenda;
use icalendar::{Alarm, Calendar, Component, Event, EventLike, Property};
use jiff::{SignedDuration, Timestamp};

use crate::state::Shop;
use crate::views::pour_words::{buckets, capitalised};
use crate::{AppState, WebError};

/// Events of the past stay for so long.
const KEPT: SignedDuration = SignedDuration::from_hours(14 * 24);
/// An alarm rings so long before a pour or an opening window, min.
const ALARM_MIN: i64 = 30;
/// Bytes of chance in a private address.
const TOKEN_BYTES: usize = 18;

/// A private part for a feed's address.
pub(super) fn new_token() -> Result<String, WebError> {
    let mut bytes = [0u8; TOKEN_BYTES];
    getrandom::fill(&mut bytes).map_err(|error| WebError::Internal(error.to_string()))?;
    Ok(bytes.iter().map(|byte| format!("{byte:02x}")).collect())
}

/// The address of a workshop's feed; one is made where there is none yet.
pub(super) async fn address(state: &AppState, shop: &Shop, host: &str) -> Result<String, WebError> {
    let token = match state.store.feed_token(shop.id).await? {
        Some(token) => token,
        None => {
            let token = new_token()?;
            state.store.set_feed_token(shop.id, &token).await?;
            token
        }
    };
    Ok(format!("http://{host}/feed/{token}/pours.ics"))
}

/// The feed, for whoever knows its address.
pub(super) async fn show(
    State(state): State<AppState>,
    Path(token): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let kept = state.store.feed_token(shop.id).await?;
    if kept.as_deref() != Some(token.as_str()) {
        return Err(WebError::NotFound("calendar"));
    }
    let casts = state.store.agendas(shop.id, state.now() - KEPT).await?;
    let calendar = calendar(&shop.workshop.settings.name, &casts)?;
    let headers = [
        (header::CONTENT_TYPE, "text/calendar; charset=utf-8"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"pours.ics\""),
    ];
    Ok((headers, calendar.to_string()).into_response())
}

/// A calendar of agendas. Ids stay the same over re-plans; the sequence rises.
fn calendar(name: &str, casts: &[CastAgenda]) -> Result<Calendar, WebError> {
    let mut calendar = Calendar::empty();
    for (key, value) in
        [("VERSION", "2.0"), ("PRODID", "-//Fondant//Pours//EN"), ("CALSCALE", "GREGORIAN")]
    {
        calendar.append_property(Property::new(key, value));
    }
    calendar.name(name);
    for cast in casts {
        for event in events(cast)? {
            calendar.push(event);
        }
    }
    Ok(calendar.done())
}

fn events(cast: &CastAgenda) -> Result<Vec<Event>, WebError> {
    let agenda = &cast.agenda;
    let mut all = Vec::new();
    let last = agenda.pours.len().saturating_sub(1);
    for (index, pour) in agenda.pours.iter().enumerate() {
        let what = capitalised(&pour.name);
        let volume = format!(
            "{:.1} L in {}, {:.0} mm",
            pour.volume.l(),
            buckets(pour.batches),
            pour.depth.mm()
        );
        let is_done = index < agenda.poured;
        let title = if is_done {
            format!("{what} was poured: {}", cast.name)
        } else {
            format!("Pour {}: {}", pour.name, cast.name)
        };
        let mut event =
            event(cast, &format!("pour-{index}"), &title, &volume, (pour.at, pour.done))?;
        if !is_done {
            ring(&mut event, &title);
        }
        all.push(event.done());
        let next = agenda.pours.get(index + 1);
        if index < last && next.is_some_and(|next| next.sanding.is_none()) {
            let title = format!("Window: {} is sticky, {}", pour.name, cast.name);
            let note = "Touch the witness cup first: sticky, nothing left on the glove.";
            let mut event = self::event(
                cast,
                &format!("window-{index}"),
                &title,
                note,
                (pour.opens, pour.closes),
            )?;
            ring(&mut event, &title);
            all.push(event.done());
        }
        if let Some(sanding) = pour.sanding {
            let title = format!("Sand before {}: {}", pour.name, cast.name);
            let note = "80 grit, wipe, dry. Dust respirator.";
            let times = (sanding, sanding + SignedDuration::from_hours(1));
            all.push(self::event(cast, &format!("sand-{index}"), &title, note, times)?.done());
        }
    }
    let title = format!("Open the form: {}", cast.name);
    let note = "If a thumbnail leaves no mark in the overfill.";
    let times = (agenda.hard, agenda.hard + SignedDuration::from_hours(1));
    let mut open = event(cast, "open", &title, note, times)?;
    ring(&mut open, &title);
    all.push(open.done());
    all.extend(top_ups(cast, agenda)?);
    Ok(all)
}

/// Timber drinks: the level is looked at an hour, a day and two after.
fn top_ups(cast: &CastAgenda, agenda: &Agenda) -> Result<Vec<Event>, WebError> {
    let Some(last) = agenda.pours.last() else { return Ok(Vec::new()) };
    TOP_UPS_H
        .into_iter()
        .map(|hours| {
            let at = last.done + SignedDuration::from_hours(hours);
            let title = format!("Look at the level: {}", cast.name);
            let note = "Top up what the timber drank while the surface is still sticky.";
            let times = (at, at + SignedDuration::from_mins(15));
            Ok(event(cast, &format!("level-{hours}"), &title, note, times)?.done())
        })
        .collect()
}

fn event(
    cast: &CastAgenda,
    id: &str,
    title: &str,
    note: &str,
    (from, to): (Timestamp, Timestamp),
) -> Result<Event, WebError> {
    let mut event = Event::new();
    event
        .uid(&format!("cast-{}-{id}@fondant", cast.cast.0))
        .sequence(cast.agenda.sequence)
        .timestamp(utc(cast.agenda.changed)?)
        .summary(title)
        .description(note)
        .starts(utc(from)?)
        .ends(utc(to)?);
    Ok(event)
}

fn ring(event: &mut Event, title: &str) {
    let mut alarm = Alarm::display(title, -chrono::Duration::minutes(ALARM_MIN));
    // An id of chance would make every reading of the feed a new one.
    let id = event.get_uid().unwrap_or_default().replace("@fondant", "-alarm@fondant");
    alarm.uid(&id);
    // Nor is the moment of reading the moment of a change.
    if let Some(changed) = event.get_timestamp() {
        alarm.timestamp(changed);
    }
    event.alarm(alarm.done());
}

fn utc(at: Timestamp) -> Result<DateTime<Utc>, WebError> {
    DateTime::from_timestamp(at.as_second(), 0)
        .ok_or_else(|| WebError::Internal(format!("{at} is no date of a calendar")))
}

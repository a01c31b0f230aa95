//! The calendar of a workshop: all pours, windows and forms to open, as an iCalendar file (RFC 5545)
//! and as a feed at a private address.

use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use axum_extra::routing::RouterExt;
use chrono::{DateTime, Utc};
use fondant_app::{App, CastAgenda, settings};
use fondant_cast::agenda::{Agenda, AgendaPour, TOP_UPS_H};
use icalendar::{Alarm, Calendar, Component, Event, EventLike, Property};
use jiff::{SignedDuration, Timestamp};

use crate::Web;
use crate::paths::shop::Feed;
use crate::ui::error::WebError;
use crate::words::layers::{capitalised, name};
use crate::words::pours::buckets;

/// Events of the past stay for this long.
const KEPT: SignedDuration = SignedDuration::from_hours(14 * 24);
/// How long before a pour or an opening window an alarm rings, min.
const ALARM_MIN: i64 = 30;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show)
}

/// The feed, for anyone who knows its address.
async fn show(Feed { token }: Feed, State(app): State<App>) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    if !settings::is_feed_token(&app, &shop, &token).await? {
        return Err(WebError::NotFound("calendar"));
    }
    let casts = app.agendas(&shop, app.now() - KEPT).await?;
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
    for (index, pour) in agenda.pours.iter().enumerate() {
        all.push(poured(cast, pour, index < agenda.poured)?);
        let next = agenda.pours.get(index + 1);
        if next.is_some_and(|next| next.sanding.is_none()) {
            all.push(window(cast, pour)?);
        }
        if let Some(sanding) = pour.sanding {
            let title = format!("Sand before {}: {}", name(pour.layer), cast.name);
            let note = match pour.layer.is_flood() {
                true => "Flatten, sand, wipe, dry. Dust respirator.",
                false => "80 grit, wipe, dry. Dust respirator.",
            };
            let times = (sanding, sanding + SignedDuration::from_hours(1));
            all.push(event(cast, &format!("sand-{}", pour.id.0), (&title, note), times)?.done());
        }
    }
    let title = format!("Open the form: {}", cast.name);
    let note = "If a thumbnail leaves no mark in the overfill.";
    let opens = agenda.form_opens.unwrap_or(agenda.hard);
    let times = (opens, opens + SignedDuration::from_hours(1));
    let mut open = event(cast, "open", (&title, note), times)?;
    ring(&mut open, &title);
    all.push(open.done());
    all.extend(top_ups(cast, agenda)?);
    Ok(all)
}

fn poured(cast: &CastAgenda, pour: &AgendaPour, is_done: bool) -> Result<Event, WebError> {
    let layer = name(pour.layer);
    let volume =
        format!("{:.1} L in {}, {:.0} mm", pour.volume.l(), buckets(pour.batches), pour.depth.mm());
    let title = if is_done {
        format!("{} was poured: {}", capitalised(&layer), cast.name)
    } else {
        format!("Pour {layer}: {}", cast.name)
    };
    let id = format!("pour-{}", pour.id.0);
    // Nothing is poured on a layer that is still liquid.
    let begins = pour.waits_for.unwrap_or(pour.at);
    let times = (begins, begins + pour.done.duration_since(pour.at));
    let mut event = event(cast, &id, (&title, &volume), times)?;
    if !is_done {
        ring(&mut event, &title);
    }
    Ok(event.done())
}

/// The hours in which the next layer bonds.
fn window(cast: &CastAgenda, pour: &AgendaPour) -> Result<Event, WebError> {
    let title = format!("Window: {} is sticky, {}", name(pour.layer), cast.name);
    let note = "Touch the witness cup first: sticky, nothing left on the glove.";
    let id = format!("window-{}", pour.id.0);
    let mut event = event(cast, &id, (&title, note), (pour.opens, pour.closes))?;
    ring(&mut event, &title);
    Ok(event.done())
}

/// Timber absorbs resin: the level is looked at an hour, a day and two after.
fn top_ups(cast: &CastAgenda, agenda: &Agenda) -> Result<Vec<Event>, WebError> {
    let Some(last) = agenda.pours.last() else { return Ok(Vec::new()) };
    TOP_UPS_H
        .into_iter()
        .map(|hours| {
            let at = last.done + SignedDuration::from_hours(hours);
            let title = format!("Look at the level: {}", cast.name);
            let note = "Top up what has soaked in while the surface is still sticky.";
            let times = (at, at + SignedDuration::from_mins(15));
            Ok(event(cast, &format!("level-{hours}"), (&title, note), times)?.done())
        })
        .collect()
}

fn event(
    cast: &CastAgenda,
    id: &str,
    (title, note): (&str, &str),
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
        .ok_or_else(|| WebError::Fault(format!("{at} is not a date in a calendar")))
}

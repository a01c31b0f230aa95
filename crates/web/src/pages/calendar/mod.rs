//! The calendar of a workshop: all pours, windows and forms to open, as an iCalendar file (RFC 5545)
//! and as a feed at a private address.

use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, Utc};
use fondant_app::finishing::{Due, due};
use fondant_app::records::CastId;
use fondant_app::{App, CastAgenda, Shop, settings as shop_settings};
use fondant_cast::agenda::{AgendaPour, TOP_UPS_H, sequence};
use fondant_cast::mix::parts;
use fondant_quantities::Mass;
use icalendar::{Alarm, Calendar, Component, Event, EventLike, Property};
use jiff::{SignedDuration, Timestamp};

use crate::paths::casts::Station;
use crate::paths::shop::Feed;
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::slug::slug;
use crate::ui::units::InUnits;
use crate::words::finishing::step;
use crate::words::layers::{capitalised, name};
use crate::words::pours::buckets;
use crate::{Settings, Web};

/// Events of the past stay for this long.
const KEPT: SignedDuration = SignedDuration::from_hours(14 * 24);
/// How long before a pour or an opening window an alarm rings, min.
const ALARM_MIN: i64 = 30;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show)
}

/// The feed, for anyone who knows its address.
async fn show(
    Feed { token }: Feed,
    State(app): State<App>,
    State(settings): State<Settings>,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    if !shop_settings::is_feed_token(&app, &shop, &token).await? {
        return Err(WebError::NotFound("calendar"));
    }
    let casts = app.agendas(&shop, app.now() - KEPT).await?;
    // By the day, so that the feed is the same however often it is read.
    let today = app.now().to_zoned_datetime(shop.hours().zone().clone()).start_of_day();
    let today = today.map_or(app.now(), |day| day.timestamp());
    let finishing = finishing(&app, &shop, (&casts, today)).await?;
    let writing = Writing { shop: &shop, address: settings.address(), today };
    let calendar = calendar(&writing, &casts, &finishing)?;
    let headers = [
        (header::CONTENT_TYPE, "text/calendar; charset=utf-8"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"pours.ics\""),
    ];
    Ok((headers, calendar.to_string()).into_response())
}

/// Casts whose finishing is dated at most, those that come out of their forms first.
const FINISHED: usize = 24;

/// What is left to be done to the casts, from the hour at which their form opens, or from this day on.
async fn finishing(
    app: &App,
    shop: &Shop,
    (casts, today): (&[CastAgenda], Timestamp),
) -> Result<Vec<Due>, WebError> {
    let opens = |cast: &CastAgenda| cast.agenda.form_opens.unwrap_or(cast.agenda.hard);
    let mut wanted: Vec<(CastId, Timestamp)> =
        casts.iter().map(|cast| (cast.cast, opens(cast).max(today))).collect();
    wanted.sort_by_key(|(_, from)| *from);
    wanted.truncate(FINISHED);
    Ok(due(app, shop, &wanted).await?)
}

/// The steps of the finishing that take time.
fn finished(of: &Followed<'_>, due: Option<&Due>) -> Result<Vec<Event>, WebError> {
    let Some(due) = due else { return Ok(Vec::new()) };
    let steps = due.steps.iter().filter(|(_, [from, to])| from < to);
    steps
        .map(|(kind, [from, to])| {
            let title = format!("{}: {}", step(*kind, due.school), due.name);
            let note = "In the shop's hours, at its own pace, one cast by itself.";
            let id = format!("finish-{}", slug(*kind));
            let mut event = event(of, &id, (&title, note), (*from, *to))?;
            // Dates move with the day and with what is told: then they are newer than the plan.
            let moved = due.told_at.map_or(of.writing.today, |told| told.max(of.writing.today));
            event.sequence(of.cast.agenda.sequence.max(sequence(moved)));
            Ok(event.done())
        })
        .collect()
}

/// How often a program that follows the calendar is to look again, as RFC 7986 writes durations.
const REFRESHED: &str = "PT1H";

/// What all events have in common.
struct Writing<'a> {
    shop: &'a Shop,
    /// The address of the application, which events lead to.
    address: String,
    /// The beginning of the day.
    today: Timestamp,
}

/// A calendar of agendas. Ids stay the same over re-plans and differ between installations; the
/// sequence rises.
fn calendar(
    writing: &Writing<'_>,
    casts: &[CastAgenda],
    finishing: &[Due],
) -> Result<Calendar, WebError> {
    let mut calendar = Calendar::empty();
    for (key, value) in [
        ("VERSION", "2.0"),
        ("PRODID", "-//Fondant//Pours//EN"),
        ("CALSCALE", "GREGORIAN"),
        ("X-PUBLISHED-TTL", REFRESHED),
    ] {
        calendar.append_property(Property::new(key, value));
    }
    let refreshed =
        Property::new("REFRESH-INTERVAL", REFRESHED).add_parameter("VALUE", "DURATION").done();
    calendar.append_property(refreshed);
    calendar.name(&writing.shop.workshop.settings.name);
    for cast in casts {
        let of = Followed { writing, cast };
        let due = finishing.iter().find(|due| due.cast == cast.cast);
        for event in events(&of)?.into_iter().chain(finished(&of, due)?) {
            calendar.push(event);
        }
    }
    Ok(calendar.done())
}

/// A cast whose events are written.
struct Followed<'a> {
    writing: &'a Writing<'a>,
    cast: &'a CastAgenda,
}

fn events(of: &Followed<'_>) -> Result<Vec<Event>, WebError> {
    let (cast, agenda) = (of.cast, &of.cast.agenda);
    let mut all = Vec::new();
    for (index, pour) in agenda.pours.iter().enumerate() {
        all.push(poured(of, pour, index < agenda.poured)?);
        let next = agenda.pours.get(index + 1);
        if next.is_some_and(|next| next.sanding.is_none()) {
            all.push(window(of, pour)?);
        }
        if let Some(sanding) = pour.sanding {
            let title = format!("Sand before {}: {}", name(pour.layer), cast.name);
            let note = match pour.layer.is_flood() {
                true => "Flatten, sand, wipe, dry. Dust respirator.",
                false => "80 grit, wipe, dry. Dust respirator.",
            };
            let times = (sanding, sanding + SignedDuration::from_hours(1));
            all.push(event(of, &format!("sand-{}", pour.id.0), (&title, note), times)?.done());
        }
    }
    let title = format!("Open the form: {}", cast.name);
    let note = "If a thumbnail leaves no mark in the overfill.";
    let opens = agenda.form_opens.unwrap_or(agenda.hard);
    let times = (opens, opens + SignedDuration::from_hours(1));
    let mut open = event(of, "open", (&title, note), times)?;
    ring(&mut open, &title);
    all.push(open.done());
    all.extend(top_ups(of)?);
    Ok(all)
}

/// What is mixed for a pour: its volume, its parts in grams, as they are weighed.
fn mixed(of: &Followed<'_>, pour: &AgendaPour) -> String {
    let shown = of.writing.shop.shown();
    let volume = shown.volume(pour.volume);
    let whole =
        format!("{volume} mixed in {}, {}", buckets(pour.batches), shown.length(pour.depth));
    let resin = pour.resin.as_ref().unwrap_or(&of.cast.agenda.resin);
    let Ok(found) = of.writing.shop.shelf().find(resin) else { return whole };
    let parts = parts(pour.volume, &found.properties);
    let grams = |mass: Mass| format!("{:.0} g", mass.kg() * 1e3);
    format!(
        "{whole}: {} A + {} B of {}",
        grams(parts.a_mass),
        grams(parts.b_mass),
        found.properties.name
    )
}

fn poured(of: &Followed<'_>, pour: &AgendaPour, is_done: bool) -> Result<Event, WebError> {
    let (cast, layer) = (of.cast, name(pour.layer));
    let volume = mixed(of, pour);
    let title = if is_done {
        format!("{} was poured: {}", capitalised(&layer), cast.name)
    } else {
        format!("Pour {layer}: {}", cast.name)
    };
    let id = format!("pour-{}", pour.id.0);
    // Nothing is poured on a layer that is still liquid.
    let begins = pour.waits_for.unwrap_or(pour.at);
    let times = (begins, begins + pour.done.duration_since(pour.at));
    let mut event = event(of, &id, (&title, &volume), times)?;
    if !is_done {
        ring(&mut event, &title);
    }
    Ok(event.done())
}

/// The hours in which the next layer bonds.
fn window(of: &Followed<'_>, pour: &AgendaPour) -> Result<Event, WebError> {
    let title = format!("Window: {} is sticky, {}", name(pour.layer), of.cast.name);
    let note = "Touch the witness cup first: sticky, nothing left on the glove.";
    let id = format!("window-{}", pour.id.0);
    let mut event = event(of, &id, (&title, note), (pour.opens, pour.closes))?;
    ring(&mut event, &title);
    Ok(event.done())
}

/// Resin shrinks and timber takes it up: the level is looked at an hour, a day and two after.
fn top_ups(of: &Followed<'_>) -> Result<Vec<Event>, WebError> {
    let Some(last) = of.cast.agenda.pours.last() else { return Ok(Vec::new()) };
    TOP_UPS_H
        .into_iter()
        .map(|hours| {
            let at = last.done + SignedDuration::from_hours(hours);
            let title = format!("Look at the level: {}", of.cast.name);
            let note = "Top up where it has sunk while the surface is still sticky.";
            let times = (at, at + SignedDuration::from_mins(15));
            Ok(event(of, &format!("level-{hours}"), (&title, note), times)?.done())
        })
        .collect()
}

fn event(
    of: &Followed<'_>,
    id: &str,
    (title, note): (&str, &str),
    (from, to): (Timestamp, Timestamp),
) -> Result<Event, WebError> {
    let (cast, mut event) = (of.cast, Event::new());
    let installation = &of.writing.shop.workshop.installation;
    let pours = Station::of(cast.cast, "pours");
    event
        .uid(&format!("cast-{}-{id}@{installation}.fondant", cast.cast.0))
        .url(&format!("{}{pours}", of.writing.address))
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
    // A random id would make each download of the feed differ.
    let id = event.get_uid().unwrap_or_default().replace('@', "-alarm@");
    alarm.uid(&id);
    // The time of the download is not the time of a change.
    if let Some(changed) = event.get_timestamp() {
        alarm.timestamp(changed);
    }
    event.alarm(alarm.done());
}

fn utc(at: Timestamp) -> Result<DateTime<Utc>, WebError> {
    DateTime::from_timestamp(at.as_second(), 0)
        .ok_or_else(|| WebError::Fault(format!("{at} is not a date in a calendar")))
}

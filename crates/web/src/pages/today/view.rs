//! What Today shows, from the agendas of all casts.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::records::CastId;
use fondant_app::{CastAgenda, Shop};
use fondant_cast::agenda::{Act, ActKind, Agenda, AgendaPour, AtBench, Collision, Fit, collisions};
use fondant_cast::mix::parts;
use fondant_heat::climate::trouble::{TroubleKind, troubles};
use jiff::{SignedDuration, Timestamp};

use super::drawing::{DayAxis, Line, draw};
use super::finishing::FinishRow;
use super::runs::RunRow;
use crate::paths::casts::Station;
use crate::paths::shop::WayOut;
use crate::svg::{FULL, Markup, both};
use crate::ui::page::{Follows, Page, Place, Script};
use crate::ui::units::InUnits;
use crate::words::mixing::of_each_bucket;
use crate::words::{layers, pours};

/// An act that was missed is shown for this long.
pub(super) const MISSED: SignedDuration = SignedDuration::from_hours(36);

/// Acts shown at most.
const ACTS: usize = 8;
/// Casts drawn at most; the rest are counted.
const LINES: usize = 24;
/// Trouble of the air told at most.
const TROUBLES: usize = 3;
/// Collisions told at most.
const COLLISIONS: usize = 6;
/// How far the axis reaches from the day's beginning.
const SHOWN: SignedDuration = SignedDuration::from_hours(4 * 24);

#[derive(Template, WebTemplate)]
#[template(path = "pages/today/today.html")]
pub(super) struct TodayPage {
    page: Page,
    date: String,
    air: String,
    air_troubles: Vec<String>,
    /// Casts whose times could not be worked out again since the shop or its air changed.
    old: Vec<String>,
    /// Casts that were changed since their pours were taken, with where they are put into the plan.
    outdated: Vec<(String, Station)>,
    axis: Markup,
    more: usize,
    runs: Vec<RunRow>,
    finishing: Vec<FinishRow>,
    acts: Vec<ActRow>,
    collisions: Vec<CollisionRow>,
    collisions_more: usize,
    has_casts: bool,
}

/// One act.
struct ActRow {
    when: String,
    /// Seconds since 1970.
    until: i64,
    countdown: String,
    what: String,
    cast: String,
    href: Station,
    detail: String,
    is_late: bool,
}

/// One collision.
struct CollisionRow {
    sentence: String,
    way_out: WayOut,
}

impl TodayPage {
    pub(super) fn new(
        shop: &Shop,
        (casts, runs, finishing): (&[CastAgenda], Vec<RunRow>, Vec<FinishRow>),
        busy: &[(CastId, AtBench)],
        now: Timestamp,
    ) -> Self {
        let (shown, zone) = (shop.shown(), shop.hours().zone());
        let local = now.to_zoned_datetime(zone.clone());
        let day = local.start_of_day().map_or(now, |start| start.timestamp());
        let until = day + SHOWN;
        let (axis, more) = axis(shop, casts, (day, until), now);
        let agendas: Vec<Agenda> = casts.iter().map(|cast| cast.agenda.clone()).collect();
        let at_bench: Vec<AtBench> = busy.iter().map(|(_, busy)| *busy).collect();
        let found = collisions(&agendas, &at_bench, shop.site().hands);
        let air = shop.site().air.at(now);
        Self {
            page: Page::new("Today", Place::Today)
                .following(Follows::Agendas)
                .with(&[Script::Htmx, Script::Module("/today.js")]),
            date: local.strftime("%A, %-d %B").to_string(),
            air: format!(
                "{}, {:.0}\u{202f}% humidity, dew point {}",
                shown.temperature(air.temperature),
                air.humidity_percent,
                shown.temperature(shop.site().air.dew_point(now))
            ),
            air_troubles: tonight(shop, casts, now),
            old: casts.iter().filter(|cast| cast.is_old).map(|cast| cast.name.clone()).collect(),
            outdated: casts
                .iter()
                .filter(|cast| lacks_hours(&cast.agenda, now))
                .map(|cast| (cast.name.clone(), Station::of(cast.cast, "pours")))
                .collect(),
            axis,
            more,
            runs,
            finishing,
            acts: acts(shop, casts, until, now),
            collisions: found
                .iter()
                .take(COLLISIONS)
                .map(|collision| collided(collision, (casts, &at_bench), shop))
                .collect(),
            collisions_more: found.len().saturating_sub(COLLISIONS),
            has_casts: !casts.is_empty(),
        }
    }
}

/// Whether something of a cast has no hours. What was added to one that is hard stands with its finishing.
fn lacks_hours(agenda: &Agenda, now: Timestamp) -> bool {
    match agenda.fit {
        Fit::Whole => false,
        Fit::Poured => agenda.hard > now,
        Fit::Lacking => true,
    }
}

/// The axis, and how many casts are left out of it.
fn axis(
    shop: &Shop,
    casts: &[CastAgenda],
    (from, to): (Timestamp, Timestamp),
    now: Timestamp,
) -> (Markup, usize) {
    let line = |cast: &'_ CastAgenda| {
        let next = cast.agenda.next(now).first().map_or(cast.agenda.hard, |act| act.at);
        (!cast.agenda.is_over(now) && next < to).then_some(next)
    };
    let mut due: Vec<(Timestamp, &CastAgenda)> =
        casts.iter().filter_map(|cast| line(cast).map(|next| (next, cast))).collect();
    due.sort_by(|a, b| (a.0, &a.1.name).cmp(&(b.0, &b.1.name)));
    let drawn = |cast: &'_ CastAgenda| Station::of(cast.cast, "pours").to_string();
    let lines: Vec<Line<'_>> = due
        .iter()
        .take(LINES)
        .map(|(_, cast)| Line { name: &cast.name, href: drawn(cast), agenda: &cast.agenda })
        .collect();
    if lines.is_empty() {
        return (Markup::default(), 0);
    }
    let view = DayAxis { lines: &lines, hours: shop.hours(), from, to, now };
    (both(FULL, |frame| draw(&view, frame)), due.len().saturating_sub(LINES))
}

fn acts(shop: &Shop, casts: &[CastAgenda], until: Timestamp, now: Timestamp) -> Vec<ActRow> {
    let mut acts: Vec<(Act, &CastAgenda)> = casts
        .iter()
        .flat_map(|cast| cast.agenda.next(now).into_iter().map(move |act| (act, cast)))
        .filter(|(act, _)| act.at >= now - MISSED && act.at < until)
        // Watching a pour is not listed before the pour is in.
        .filter(|(act, cast)| act.kind != ActKind::Watch || act.pour < cast.agenda.poured)
        .collect();
    acts.sort_by_key(|(act, cast)| (act.at, act.kind, cast.cast.0));
    acts.into_iter().take(ACTS).map(|(act, cast)| row(&act, cast, shop, now)).collect()
}

/// The pour of an act.
pub(crate) fn pour_of<'a>(act: &Act, agenda: &'a Agenda) -> &'a AgendaPour {
    &agenda.pours[act.pour.min(agenda.pours.len().saturating_sub(1))]
}

/// Parts A and B of each bucket of a pour.
pub(crate) fn weighed_out(pour: &AgendaPour, cast: &Agenda, shop: &Shop) -> String {
    let resin = pour.resin.as_ref().unwrap_or(&cast.resin);
    let Ok(resin) = shop.shelf().find(resin) else { return String::new() };
    of_each_bucket(&parts(pour.volume, resin), pour.batches, resin, shop.shown())
}

/// What is poured: "3.2 L, 1 bucket, 20 mm deep"; with the resin where it is not the cast's own.
pub(crate) fn poured(pour: &AgendaPour, shop: &Shop) -> String {
    let shown = shop.shown();
    let of = pour.resin.as_ref().and_then(|id| shop.shelf().find(id).ok());
    format!(
        "{}{}, {}, {} deep",
        shown.volume(pour.volume),
        of.map(|resin| format!(" of {}", resin.name)).unwrap_or_default(),
        pours::buckets(pour.batches),
        shown.length(pour.depth)
    )
}

fn row(act: &Act, cast: &CastAgenda, shop: &Shop, now: Timestamp) -> ActRow {
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let pour = pour_of(act, &cast.agenda);
    let detail = match act.kind {
        ActKind::Pour => poured(pour, shop),
        ActKind::Wait => match pour.waits_for {
            Some(opens) => format!("sticky from {}", shown.day_and_time(opens, zone)),
            None => String::new(),
        },
        ActKind::Opens => format!("until {}", shown.day_and_time(pour.closes, zone)),
        _ => String::new(),
    };
    ActRow {
        when: shown.day_and_time(act.at, zone),
        until: act.at.as_second(),
        countdown: pours::countdown(now, act.at),
        what: pours::act(act.kind, pour.layer),
        cast: cast.name.clone(),
        href: Station::of(cast.cast, "pours"),
        detail,
        is_late: act.at < now,
    }
}

fn collided(
    collision: &Collision,
    (casts, at_bench): (&[CastAgenda], &[AtBench]),
    shop: &Shop,
) -> CollisionRow {
    let (cast, pour) = collision.gives_way();
    let cast = &casts[cast];
    let way_out = WayOut { cast: cast.cast, pour: cast.agenda.pours[pour].id.0 };
    CollisionRow { sentence: told(collision, (casts, at_bench), shop), way_out }
}

fn told(
    collision: &Collision,
    (casts, at_bench): (&[CastAgenda], &[AtBench]),
    shop: &Shop,
) -> String {
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let name = |(cast, pour): (usize, usize)| {
        let cast = &casts[cast];
        format!("{} of “{}”", layers::name(cast.agenda.pours[pour].layer), cast.name)
    };
    match collision {
        Collision::Hands { first, second } => {
            let at = casts[second.0].agenda.pours[second.1].at;
            let hands = shop.site().hands;
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
        Collision::Bench { run, second } => format!(
            "{}: {} is due while a run at the bench keeps hands busy until about {}.",
            shown.date_and_time(casts[second.0].agenda.pours[second.1].at, zone),
            name(*second),
            shown.day_and_time(at_bench[*run].until, zone)
        ),
        Collision::Pot { first, second } => format!(
            "The pressure pot holds “{}” until {}; “{}” should go in before.",
            casts[first.0].name,
            shown.date_and_time(casts[first.0].agenda.hard, zone),
            casts[second.0].name
        ),
    }
}

/// Trouble of the air in the coming day for what is wet, by its own resin.
fn tonight(shop: &Shop, casts: &[CastAgenda], now: Timestamp) -> Vec<String> {
    let until = now + SignedDuration::from_hours(24);
    let said = casts.iter().flat_map(|cast| {
        let agenda = &cast.agenda;
        let first = agenda.pours.first().map_or(agenda.hard, |pour| pour.at);
        let (from, to) = (first.max(now), agenda.hard.min(until));
        let resin = shop.shelf().find(&agenda.resin).ok().filter(|_| from < to);
        let found = resin.map_or_else(Vec::new, |resin| {
            let limits = shop.site().air_limits(&resin.properties);
            troubles(&shop.site().air, &limits, |_| None, from, to)
        });
        found.into_iter().filter(|trouble| trouble.kind != TroubleKind::Humid).map(|trouble| {
            let words = pours::trouble(&trouble, shop.shown(), shop.hours().zone());
            format!("Affects “{}”. {words}", cast.name)
        })
    });
    said.take(TROUBLES).collect()
}

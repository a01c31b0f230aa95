//! A collision resolved by moving the pour that gives way, with what follows
//! from it said first.

use askama::Template;
use axum::extract::{Path, State};
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_cast::pouring::as_taken;
use fondant_cast::{Agenda, collisions};
use fondant_pours::{Schedule, refit};
use fondant_store::repos::CastId;
use jiff::{SignedDuration, Timestamp};

use crate::routes::extract::Typed;
use crate::state::Shop;
use crate::{AppState, WebError};

/// Moves are tried so far apart, and so many of them.
const STEP: SignedDuration = SignedDuration::from_mins(30);
const TRIES: usize = 60;

#[derive(Template)]
#[template(path = "parts/resolve.html")]
struct Offered {
    cast: i64,
    pour: usize,
    at: i64,
    revision: i32,
    what: String,
    then: String,
    trouble: String,
}

/// A move and what comes of it.
struct Move {
    at: Timestamp,
    schedule: Schedule,
}

/// The first later time of a pour that collides with nothing and breaks nothing.
async fn found(
    state: &AppState,
    shop: &Shop,
    cast: CastId,
    pour: usize,
) -> Result<Option<(Move, i32, Timestamp)>, WebError> {
    let record = state.store.cast(shop.id, cast).await?;
    let evaluated = state.evaluate(&record.plan, shop).await?;
    let Ok(evaluation) = evaluated else { return Ok(None) };
    let Some((task, given)) =
        evaluation.pour_task.clone().and_then(|task| task.taken().map(|given| (task, given)))
    else {
        return Ok(None);
    };
    let others: Vec<Agenda> = state
        .store
        .agendas(shop.id, state.now())
        .await?
        .into_iter()
        .filter(|other| other.cast != cast)
        .map(|other| other.agenda)
        .collect();
    let (hands, plan) = (shop.site.hands, record.plan.clone());
    let before_hard = evaluation.pours.as_ref().map_or(Timestamp::MIN, |schedule| schedule.hard);
    let now = state.now();
    let moved = state
        .compute(move || {
            let from = given.get(pour)?.at;
            (1..=TRIES).find_map(|step| {
                let mut tried = given.clone();
                tried[pour].at = from + STEP * i32::try_from(step).ok()?;
                let ladder = task.ladder_of(&tried);
                let refitted = refit(&task.task(&ladder), &tried, pour).ok()?;
                let schedule = task.judged(&refitted).ok()?;
                if !schedule.breaks.is_empty() {
                    return None;
                }
                let mut all = others.clone();
                all.push(Agenda::of(&plan, &schedule, 0, now));
                let mine = all.len() - 1;
                let collides =
                    collisions(&all, hands).iter().any(|collision| collision.gives_way().0 == mine);
                (!collides).then(|| Move { at: tried[pour].at, schedule })
            })
        })
        .await?;
    Ok(moved.map(|moved| (moved, record.revision, before_hard)))
}

/// What moving the pour would bring, with the button that does it.
pub(in crate::routes) async fn offer(
    State(state): State<AppState>,
    Path((cast, pour)): Path<(i64, usize)>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let (shown, zone) = (shop.shown, shop.hours.zone().clone());
    let page = match found(&state, &shop, CastId(cast), pour).await? {
        Some((moved, revision, before)) => {
            let later = moved.schedule.hard.duration_since(before);
            let shift = match later.as_mins() {
                m if m > 2 => format!("the form opens {} later", said(later)),
                m if m < -2 => format!("the form opens {} earlier", said(-later)),
                _ => "the form opens when it did".to_owned(),
            };
            let sanded = match moved.schedule.sanded_joints() {
                0 => String::new(),
                count => format!(", {count} joints to sand"),
            };
            Offered {
                cast,
                pour,
                at: moved.at.as_second(),
                revision,
                what: format!("Move it to {}", shown.date_and_time(moved.at, &zone)),
                then: format!("{shift}{sanded}; nothing breaks."),
                trouble: String::new(),
            }
        }
        None => Offered {
            cast,
            pour,
            at: 0,
            revision: 0,
            what: String::new(),
            then: String::new(),
            trouble: "No later time within thirty hours does without breaking something. Plan that cast anew, or have more hands.".to_owned(),
        },
    };
    Ok(Html(page.render()?).into_response())
}

fn said(span: SignedDuration) -> String {
    let span = fondant_quantities::Span::from_s(span.as_secs_f64());
    crate::views::format::span(span)
}

/// Moves the pour.
pub(in crate::routes) async fn apply(
    State(state): State<AppState>,
    Path((cast, pour)): Path<(i64, usize)>,
    Typed(entries): Typed,
) -> Result<Redirect, WebError> {
    let shop = state.shop().await?;
    let id = CastId(cast);
    let record = state.store.cast(shop.id, id).await?;
    let wished = entries.get("at").and_then(|text| text.parse::<i64>().ok());
    let Some((moved, _, _)) = found(&state, &shop, id, pour).await? else {
        return Err(WebError::NotFound("time for it"));
    };
    // What was offered is what is done, or nothing.
    if wished != Some(moved.at.as_second()) {
        return Err(WebError::BadForm("the day has changed meanwhile; look again".to_owned()));
    }
    let mut plan = record.plan;
    plan.pours.taken = as_taken(&moved.schedule);
    let expected = entries.number("revision");
    let expected = expected.ok_or_else(|| WebError::BadForm("no revision".to_owned()))?;
    state.store.save_plan(shop.id, id, expected, &plan, state.now()).await?;
    state.refresh_agenda(&shop, id).await?;
    Ok(Redirect::to("/today"))
}

//! Writing down what happened to a pour, and withdrawing what was wrong.

use axum::extract::{Path, State};
use axum::response::Response;
use fondant_cast::Fact;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Temperature, bounds};
use fondant_store::repos::CastId;
use jiff::SignedDuration;

use super::Worked;
use crate::entries::{Entries, Reader, Refusals};
use crate::routes::casts::stations::pours::moment;
use crate::routes::extract::{Typed, WantsFragment};
use crate::routes::workspace;
use crate::{AppState, WebError};

/// A clock in the shop may be fast by so much.
const FAST_CLOCK: SignedDuration = SignedDuration::from_mins(10);
/// Nothing is written down that lies so far from the plan.
const FAR: SignedDuration = SignedDuration::from_hours(30 * 24);

/// Writes down what happened.
pub(in crate::routes) async fn add(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    WantsFragment(fragment): WantsFragment,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let worked = Worked::read(&state, cast).await?;
    match read(&state, &worked, &entries) {
        Ok(fact) => {
            state.store.add_fact(worked.record.id, &fact, state.now()).await?;
            workspace::shown_anew(&state, worked.record.id, "pours", fragment).await
        }
        Err(refusals) => {
            workspace::refused(&state, worked.record.id, "pours", fragment, &entries, &refusals)
                .await
        }
    }
}

fn read(state: &AppState, worked: &Worked, entries: &Entries) -> Result<Fact, Refusals> {
    let mut reader = Reader::new(entries, worked.shop.shown.system);
    let given = worked.given().unwrap_or_default();
    let pour: usize =
        entries.get("fact_pour").and_then(|text| text.parse().ok()).unwrap_or(usize::MAX);
    let text = entries.get("fact_at").unwrap_or_default();
    let at = moment(text, &worked.shop);
    match at {
        None => reader.refusals.add(
            "fact_at",
            format!("“{text}” is not a date and time. Write it as 2026-11-24T08:00."),
        ),
        Some(at) if at > state.now() + FAST_CLOCK => reader
            .refusals
            .add("fact_at", "That lies ahead. Write down what has happened, once it has."),
        Some(at) => {
            let far = given.get(pour).is_some_and(|g| g.at - at > FAR || at - g.at > FAR);
            if far {
                reader.refusals.add(
                    "fact_at",
                    "That is more than a month from the plan. Check the date, or move the pour first.",
                );
            }
        }
    }
    if pour >= given.len() {
        reader.refusals.add("fact_pour", "There is no such layer in the plan. Choose one.");
    }
    let mut resin_at: Option<Temperature> = None;
    let what = entries.get("fact_what").unwrap_or_default();
    if what == "poured" {
        reader.maybe("fact_resin", &bounds::RESIN_TEMPERATURE, &mut resin_at);
    }
    let found = match what {
        "clear" => Some(Touch::Clear),
        "tacky" => Some(Touch::Tacky),
        "hard" => Some(Touch::Hard),
        _ => None,
    };
    if let (Some(at), Some(_), Some(given)) = (at, found, given.get(pour))
        && at < given.at
    {
        reader.refusals.add(
            "fact_at",
            "That layer goes in later by the plan. Write down first when it was poured.",
        );
    }
    match (at, reader.refusals.is_empty()) {
        (Some(at), true) => Ok(match found {
            Some(found) => Fact::Touched { pour, at, found },
            None => Fact::Poured { pour, at, resin_at },
        }),
        _ => Err(reader.refusals),
    }
}

/// Withdraws what was written down wrongly.
pub(in crate::routes) async fn withdraw(
    State(state): State<AppState>,
    Path((cast, row)): Path<(i64, i64)>,
    WantsFragment(fragment): WantsFragment,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let record = state.store.cast(shop.id, CastId(cast)).await?;
    state.store.add_fact(record.id, &Fact::Withdrawn { row }, state.now()).await?;
    workspace::shown_anew(&state, record.id, "pours", fragment).await
}

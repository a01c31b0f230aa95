//! A collision resolved by moving the pour that gives way, with what follows from it said first.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::response::Redirect;
use fondant_app::collisions::{self, Way};
use fondant_app::{App, Shop, casts};
use fondant_cast::document::PourId;
use fondant_quantities::Span;
use jiff::{SignedDuration, Timestamp};

use crate::Web;
use crate::paths::shop::{Today, WayOut};
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::numbers::span;
use crate::ui::units::InUnits;
use crate::words::pours;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(offer).typed_post(apply)
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/way_out/way_out.html")]
struct Offered {
    here: WayOut,
    /// `None` where there is no way.
    way: Option<WayRow>,
}

struct WayRow {
    /// Seconds since 1970.
    at: i64,
    revision: i32,
    what: String,
    then: String,
}

/// What moving the pour would bring, with the button that does it.
async fn offer(here: WayOut, State(app): State<App>) -> Result<Offered, WebError> {
    let shop = casts::open(&app, here.cast).await?.shop;
    let way = collisions::way_out(&app, here.cast, PourId(here.pour)).await?;
    Ok(Offered { way: way.map(|way| row(&way, &shop)), here })
}

fn row(way: &Way, shop: &Shop) -> WayRow {
    let later = way.schedule.hard.duration_since(way.opened);
    let shift = match later.as_mins() {
        m if m > 2 => format!("the form opens {} later", said(later)),
        m if m < -2 => format!("the form opens {} earlier", said(-later)),
        _ => "demoulding is unchanged".to_owned(),
    };
    let sanded = pours::sanded(way.schedule.sanded_joints());
    let then = [Some(shift), sanded].into_iter().flatten().collect::<Vec<_>>().join(", ");
    WayRow {
        at: way.at.as_second(),
        revision: way.revision,
        what: format!("Move it to {}", shop.shown().date_and_time(way.at, shop.hours().zone())),
        then: format!("{then}; nothing breaks."),
    }
}

fn said(duration: SignedDuration) -> String {
    span(Span::from_s(duration.as_secs_f64()))
}

/// Moves the pour: what was offered, or nothing.
async fn apply(
    here: WayOut,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Redirect, WebError> {
    let at = entries.get("at").and_then(|text| text.parse().ok());
    let at = at.and_then(|second| Timestamp::from_second(second).ok());
    let at = at.ok_or_else(|| WebError::BadForm("no time".to_owned()))?;
    let wished = (PourId(here.pour), at);
    collisions::make_way(&app, here.cast, expected(&entries)?, wished).await?;
    Ok(Redirect::to(&Today.to_string()))
}

//! Plans compared, once they are worked out; changes that would help.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use fondant_app::casts::{self, pours::offer_key};
use fondant_app::jobs::{self, JobView, plans_key};
use fondant_app::{App, AppError};
use fondant_cast::planning::Offer;
use fondant_cast::pours::as_given;
use fondant_pours::simulate::tries::AIR_K;
use jiff::tz::TimeZone;
use serde::Deserialize;

use super::view::{Card, cards};
use crate::Web;
use crate::paths::casts::{Alternatives, ApplyFix, Offers, Settle, TakePlan};
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};
use crate::words::{jobs as job_words, plans, pours, trouble};

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(alternatives).typed_get(offers)
}

#[derive(Debug, Deserialize)]
pub(super) struct Again {
    /// Retry a comparison that has failed.
    again: Option<u8>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/alternatives/alternatives.html")]
pub(super) struct AlternativesPart {
    here: Alternatives,
    take: TakePlan,
    /// Key by which the plans are found again when one is taken.
    compared: String,
    /// Still at work: how far, percent.
    percent: Option<u16>,
    waits: bool,
    /// Why it has failed; it can be asked for again.
    failed: &'static str,
    trouble: String,
    /// How far the air is off in the tries.
    air_off: String,
    cards: Vec<Card>,
    settle: Settle,
    /// Nothing is taken yet: the button of the page takes what is suggested.
    takes_suggested: bool,
    /// The suggested plan, where it is not the one that the page shows.
    other: Option<usize>,
}

/// The plans, or how far the comparison is: the page asks again.
pub(super) async fn alternatives(
    here: Alternatives,
    State(app): State<App>,
    Query(query): Query<Again>,
) -> Result<AlternativesPart, WebError> {
    let cast = here.cast;
    let open = casts::open(&app, cast).await?;
    let worked = open.worked(&app).await?;
    let mut part = AlternativesPart {
        here,
        take: TakePlan { cast },
        compared: plans_key(&worked)?.to_string(),
        percent: None,
        waits: false,
        failed: "",
        trouble: String::new(),
        air_off: open.shop.shown().degrees(AIR_K),
        cards: Vec::new(),
        settle: Settle { cast },
        takes_suggested: false,
        other: None,
    };
    if worked.evaluation.pour_task.is_none() {
        part.trouble = "Without a safe depth there is nothing to compare.".to_owned();
        return Ok(part);
    }
    let (shown, zone) = (open.shop.shown(), open.shop.hours().zone());
    match jobs::plans(&app, (open.shop.id, cast), &worked, query.again.is_some()).await? {
        JobView::Working(working) => {
            part.percent = Some(working.permille / 10);
            part.waits = working.waits;
        }
        JobView::Failed(why) => part.failed = job_words::failed(why),
        JobView::Unknown => part.failed = job_words::GIVEN_UP,
        JobView::Done(done) => match &done.result {
            Ok(all) => {
                part.cards = cards(all, shown, zone);
                let proposed = worked.evaluation.pours.as_ref().map(as_given).unwrap_or_default();
                let suggested = all.iter().position(|plan| plan.is_suggested);
                part.other = suggested.filter(|number| all[*number].given() != proposed);
                part.takes_suggested =
                    suggested.is_some() && open.record.document.pours.taken.is_empty();
            }
            Err(why) => part.trouble = trouble::pours(why, shown),
        },
    }
    Ok(part)
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/alternatives/offers.html")]
pub(super) struct OffersPart {
    apply: ApplyFix,
    rows: Vec<OfferRow>,
}

/// A change that would help, and its button.
struct OfferRow {
    key: String,
    what: String,
    then: String,
}

/// The smallest changes that would help, each checked.
pub(super) async fn offers(path: Offers, State(app): State<App>) -> Result<OffersPart, WebError> {
    let open = casts::open(&app, path.cast).await?;
    let worked = open.worked(&app).await?;
    let (shown, zone) = (open.shop.shown(), open.shop.hours().zone());
    let offers = app.offers(&open.shop, &worked).await?;
    let row = |offer: &Offer| {
        Ok::<_, AppError>(OfferRow {
            key: offer_key(offer)?.to_string(),
            what: plans::fix(&offer.fix, shown, zone),
            then: outcome(offer, shown, zone),
        })
    };
    let rows = offers.iter().map(row).collect::<Result<_, _>>()?;
    Ok(OffersPart { apply: ApplyFix { cast: path.cast }, rows })
}

fn outcome(offer: &Offer, shown: Shown, zone: &TimeZone) -> String {
    let sanded = pours::sanded(offer.sanded).unwrap_or_else(|| "no sanding".to_owned());
    let count = pours::pours(offer.pours);
    format!("{count}, {sanded}, hard {}", shown.date_and_time(offer.hard, zone))
}

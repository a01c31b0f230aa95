//! Runs that are in hand: what is mixed in which bucket, and how long it can be poured.

use fondant_app::records::KeptRun;
use fondant_app::{App, AppError, CastAgenda, Shop, bench};
use jiff::Timestamp;

use crate::pages::bench::modelled;
use crate::paths::casts::Run;
use crate::ui::units::InUnits;
use crate::words::layers;
use crate::words::pours::countdown;

/// A run in hand.
pub(super) struct RunRow {
    pub(super) href: Run,
    pub(super) says: String,
    pub(super) buckets: Vec<Bucket>,
}

/// A bucket in which A has met B.
pub(super) struct Bucket {
    pub(super) number: u32,
    /// When it can no longer be poured, seconds since 1970; 0 for days to come.
    pub(super) until: i64,
    pub(super) countdown: String,
    pub(super) is_running_away: bool,
}

/// The runs of the workshop that are in hand, those with an open bucket first.
pub(super) async fn runs(
    app: &App,
    shop: &Shop,
    casts: &[CastAgenda],
    now: Timestamp,
) -> Result<Vec<RunRow>, AppError> {
    let mut rows = Vec::new();
    for kept in bench::in_hand(app, shop.id).await? {
        rows.push(row(app, shop, (&kept, casts), now).await?);
    }
    rows.sort_by_key(|row| row.buckets.iter().map(|bucket| bucket.until).min().unwrap_or(i64::MAX));
    Ok(rows)
}

async fn row(
    app: &App,
    shop: &Shop,
    (kept, casts): (&KeptRun, &[CastAgenda]),
    now: Timestamp,
) -> Result<RunRow, AppError> {
    let run = bench::folded(kept);
    let cast = casts.iter().find(|cast| cast.cast == kept.cast);
    let name = match cast {
        Some(cast) => cast.name.clone(),
        None => fondant_app::casts::open(app, kept.cast).await?.record.document.name.clone(),
    };
    let buckets = modelled(app, kept, now).await?;
    let shown = shop.shown();
    Ok(RunRow {
        href: Run { cast: kept.cast, run: kept.id },
        says: format!(
            "{}, {}: {} of {} in",
            name,
            layers::name(run.plan.layer),
            shown.weighed(run.poured()),
            shown.weighed(run.wanted())
        ),
        buckets: buckets
            .into_iter()
            .map(|bucket| Bucket {
                number: bucket.batch,
                countdown: bucket.ends().map_or_else(String::new, |ends| countdown(now, ends)),
                until: bucket.ends().map_or(0, Timestamp::as_second),
                is_running_away: bucket.runaway.is_some(),
            })
            .collect(),
    })
}

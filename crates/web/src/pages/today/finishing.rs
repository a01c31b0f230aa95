//! Casts that are out of their form, or can be: what is to be done to them next.

use fondant_app::finishing::{Due, due};
use fondant_app::records::{Asked, CastId, CastState, Listed};
use fondant_app::{App, AppError, Shop, casts};
use fondant_quantities::Span;
use jiff::Timestamp;

use crate::paths::casts::Station;
use crate::ui::numbers::span;
use crate::ui::units::{InUnits, Shown};
use crate::words::finishing as words;

/// Casts shown at most.
const MOST: usize = 8;

/// One cast.
pub(super) struct FinishRow {
    pub(super) what: String,
    /// Work of this step; empty for what is a wait or a moment.
    pub(super) left: String,
    /// Since when somebody is at it.
    pub(super) when: String,
    /// What comes after it.
    pub(super) then: String,
    /// What is to be done at Pours before its flood coat can be poured.
    pub(super) coat: Option<(&'static str, Station)>,
    pub(super) cast: String,
    pub(super) href: Station,
}

/// The casts that are hard and not in the ledger, those that somebody works on first.
pub(super) async fn finishing(
    app: &App,
    shop: &Shop,
    now: Timestamp,
) -> Result<Vec<FinishRow>, AppError> {
    let asked = Asked { listed: Listed::Of(CastState::Done), ..Asked::default() };
    let hard = casts::list(app, shop, &asked).await?.casts;
    let wanted: Vec<(CastId, Timestamp)> =
        hard.iter().take(MOST).map(|cast| (cast.id, now)).collect();
    let mut all = due(app, shop, &wanted).await?;
    all.sort_by_key(|due| (due.since.is_none(), due.since));
    Ok(all.iter().filter_map(|due| row(due, shop, shop.shown())).collect())
}

fn row(due: &Due, shop: &Shop, shown: Shown) -> Option<FinishRow> {
    let (kind, _) = *due.steps.first()?;
    let then: Vec<String> = due
        .steps
        .iter()
        .skip(1)
        .take(2)
        .map(|(kind, _)| words::step(*kind, due.school).to_lowercase())
        .collect();
    Some(FinishRow {
        what: words::step(kind, due.school).to_owned(),
        left: if due.takes > Span::ZERO { span(due.takes) } else { String::new() },
        when: due.since.map_or_else(String::new, |since| {
            format!("since {}", shown.day_and_time(since, shop.hours().zone()))
        }),
        then: if then.is_empty() { String::new() } else { format!("then {}", then.join(", ")) },
        coat: due
            .coat
            .and_then(words::before_coat)
            .map(|says| (says, Station::of(due.cast, "pours"))),
        cast: due.name.clone(),
        href: Station::of(due.cast, "finish"),
    })
}

//! The ledger: casts that have come to their end, with totals.

use fondant_record::compare::{Difference, compare as differences, spreads};
use fondant_record::fault::FaultKind;
use fondant_record::figures::Figure;
use fondant_store::repos::{CastId, LedgerAsked, LedgerBy, LedgerGroup, LedgerRow, LedgerTotals};

use crate::app::App;
use crate::courses::{Lived, of_cast};
use crate::error::AppError;
use crate::shop::Shop;

/// Casts on one page.
pub const PAGE: u64 = 60;
/// Casts in a chart at most.
const CHARTED: u64 = 60;
/// Casts of a kind from which a shop's spread is taken.
pub(crate) const LIKE: u64 = 200;
/// Casts in a file at most.
pub const MOST_IN_A_FILE: u64 = 50_000;

/// A page of the ledger.
#[derive(Debug, Clone)]
pub struct LedgerPage {
    /// Casts of the page.
    pub rows: Vec<LedgerRow>,
    /// The cast after which the next page begins; `None` where this is the last.
    pub next: Option<CastId>,
    /// Totals of all pages.
    pub totals: LedgerTotals,
    /// By month, by resin, by kind.
    pub groups: [Vec<LedgerGroup>; 3],
    /// Names of all resins of the ledger.
    pub resins: Vec<String>,
    /// A figure of the latest of these casts, the oldest first.
    pub charted: Vec<f64>,
}

/// A page of what is asked for.
///
/// # Errors
/// [`AppError`].
pub async fn page(
    app: &App,
    shop: &Shop,
    asked: &LedgerAsked,
    charted: Figure,
) -> Result<LedgerPage, AppError> {
    let read = app.store.read();
    let zone = shop.hours().zone().iana_name().unwrap_or("UTC");
    // Each goes over the whole ledger: beside one another they take as long as the longest.
    let (mut rows, totals, month, resin, kind, resins, charted) = tokio::try_join!(
        read.ledger(shop.id, asked, PAGE + 1),
        read.ledger_totals(shop.id, asked),
        read.ledger_groups(shop.id, asked, LedgerBy::Month(zone)),
        read.ledger_groups(shop.id, asked, LedgerBy::Resin),
        read.ledger_groups(shop.id, asked, LedgerBy::Kind),
        read.ledger_resins(shop.id),
        read.ledger_figure(shop.id, asked, (charted, CHARTED)),
    )?;
    let has_more = rows.len() as u64 > PAGE;
    rows.truncate(usize::try_from(PAGE).unwrap_or(usize::MAX));
    let next = rows.last().filter(|_| has_more).map(|row| row.cast);
    Ok(LedgerPage { rows, next, totals, groups: [month, resin, kind], resins, charted })
}

/// All of what is asked for, for a file.
///
/// # Errors
/// [`AppError`].
pub async fn all(app: &App, shop: &Shop, asked: &LedgerAsked) -> Result<Vec<LedgerRow>, AppError> {
    Ok(app.store.read().ledger(shop.id, asked, MOST_IN_A_FILE).await?)
}

/// Two casts side by side.
#[derive(Debug, Clone)]
pub struct Compared {
    /// Name and faults of each.
    pub sides: [(String, Vec<FaultKind>); 2],
    /// They are of one kind: the spread is that of its casts.
    pub is_one_kind: bool,
    /// What is known of both, what differs most first.
    pub differences: Vec<Difference>,
    /// What each went through.
    pub lived: [Option<Lived>; 2],
}

/// Compares two casts of the ledger by the spread among casts of their kind, or among all where they are of
/// two kinds.
///
/// # Errors
/// [`AppError::NotFound`] where one of them has no record.
pub async fn compare(
    app: &App,
    shop: &Shop,
    (one, other): (CastId, CastId),
) -> Result<Compared, AppError> {
    let read = app.store.read();
    let of = async |cast: CastId| -> Result<_, AppError> {
        let kept = read.record(shop.id, cast).await?.filter(|kept| !kept.is_open);
        let end = kept.ok_or(AppError::NotFound("record"))?.end;
        let name = read.cast(shop.id, cast).await?.document.name;
        let marked = read.faults(shop.id, cast).await?;
        let kinds = marked.iter().map(|kept| kept.fault.kind).collect();
        Ok((end.known(), end.kind, (name, kinds)))
    };
    let (first, kind, one_side) = of(one).await?;
    let (second, other_kind, other_side) = of(other).await?;
    let is_one_kind = kind == other_kind;
    let among = if is_one_kind { kind.as_str() } else { "" };
    // Neither counts among those that they are measured by.
    let like = read.figures_of_kind(shop.id, (among, [one, other], LIKE)).await?;
    let lived = tokio::try_join!(of_cast(app, one), of_cast(app, other))?;
    Ok(Compared {
        lived: lived.into(),
        sides: [one_side, other_side],
        is_one_kind,
        differences: differences(&first, &second, &spreads(&like)),
    })
}

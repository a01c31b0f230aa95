//! The ledger: records found by word and by what they are, sorted, page by page, and their totals.

mod asked;

use fondant_record::end::Outcome;
use fondant_record::figures::{Figure, Figures};
use jiff::Timestamp;
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};

use super::records::of_word;
use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json};
use crate::error::StoreError;
use crate::session::Session;
use asked::Asking;

pub use asked::{LedgerAsked, LedgerSort};

/// Most bars of a chart.
const MOST_GROUPS: i64 = 12;

/// A cast in the ledger.
#[derive(Debug, Clone, PartialEq)]
pub struct LedgerRow {
    /// Database id.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
    /// When it came to its end, UTC.
    pub ended_at: Timestamp,
    /// Outcome of the cast.
    pub outcome: Outcome,
    /// Kind, by its slug.
    pub kind: String,
    /// Name of the resin.
    pub resin: String,
    /// Names of its timbers.
    pub timber: String,
    /// Who worked on it.
    pub people: String,
    /// Mixed volume, m³.
    pub volume_m3: f64,
    /// Working hours, s.
    pub hours_s: f64,
    /// Cost of the resin, in the shop's currency.
    pub cost: f64,
    /// Number of faults.
    pub faults: u32,
}

/// Totals of what is asked for, all pages together.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct LedgerTotals {
    /// Casts.
    pub casts: u64,
    /// Those of them that were finished.
    pub finished: u64,
    /// Finished without a fault.
    pub sound: u64,
    /// Faults.
    pub faults: u64,
    /// Mixed volume, m³.
    pub volume_m3: f64,
    /// Working hours, s.
    pub hours_s: f64,
    /// Cost of the resin, in the shop's currency.
    pub cost: f64,
    /// That of casts that were given up or have a fault.
    pub cost_of_faults: f64,
}

/// What a chart of the ledger counts by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LedgerBy<'a> {
    /// Month on the clock of a zone (its IANA name), the last twelve.
    Month(&'a str),
    /// Resin, the most used first.
    Resin,
    /// Kind, the most used first.
    Kind,
}

/// A bar of a chart.
#[derive(Debug, Clone, PartialEq)]
pub struct LedgerGroup {
    /// Month (`2026-11`), resin or kind.
    pub label: String,
    /// Casts.
    pub casts: u64,
    /// Those that were given up or have a fault.
    pub faulty: u64,
    /// Mixed volume, m³.
    pub volume_m3: f64,
}

#[derive(FromQueryResult)]
struct Row {
    cast_id: i64,
    name: String,
    ended_at: sea_orm::prelude::DateTimeUtc,
    outcome: String,
    kind: String,
    resin: String,
    timber: String,
    people: String,
    volume_m3: f64,
    hours_s: f64,
    cost: f64,
    fault_count: i32,
}

#[derive(FromQueryResult)]
struct TotalsRow {
    casts: i64,
    finished: i64,
    sound: i64,
    faults: i64,
    volume_m3: f64,
    hours_s: f64,
    cost: f64,
    cost_of_faults: f64,
}

#[derive(FromQueryResult)]
struct GroupRow {
    label: String,
    casts: i64,
    faulty: i64,
    volume_m3: f64,
}

#[derive(FromQueryResult)]
struct FiguresRow {
    figures: serde_json::Value,
    told: serde_json::Value,
}

#[derive(FromQueryResult)]
struct LabelRow {
    label: String,
}

#[derive(FromQueryResult)]
struct CauseRow {
    kind: String,
    cause: String,
    times: i64,
}

impl<C: ConnectionTrait> Session<C> {
    /// A page of the ledger: at most `count` casts.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ledger(
        &self,
        workshop: WorkshopId,
        asked: &LedgerAsked,
        count: u64,
    ) -> Result<Vec<LedgerRow>, StoreError> {
        let mut asking = Asking::of(workshop, asked)?;
        let column = asked.sort.column();
        let (sign, order) = if asked.is_ascending { (">", "asc") } else { ("<", "desc") };
        if let Some(after) = asked.after {
            let place = asking.value(after.0);
            asking.sql += &format!(
                " and ({column}, d.cast_id) {sign} (select {column}, d.cast_id from record d \
                 join \"cast\" c on c.id = d.cast_id where d.cast_id = {place})"
            );
        }
        let most = asking.value(i64::try_from(count).unwrap_or(i64::MAX));
        asking.sql += &format!(" order by {column} {order}, d.cast_id {order} limit {most}");
        let what = "d.cast_id, c.name, d.ended_at, d.outcome, d.kind, d.resin, d.timber, \
                    d.people, d.volume_m3, d.hours_s, d.cost, d.fault_count";
        let found = Row::find_by_statement(asking.select(what, self.0.get_database_backend()));
        found.all(&self.0).await?.into_iter().map(row).collect()
    }

    /// Totals of what is asked for.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ledger_totals(
        &self,
        workshop: WorkshopId,
        asked: &LedgerAsked,
    ) -> Result<LedgerTotals, StoreError> {
        let asking = Asking::of(workshop, asked)?;
        let what = "count(*) as casts, count(*) filter (where outcome = 'finished') as finished, \
             count(*) filter (where outcome = 'finished' and fault_count = 0) as sound, \
             coalesce(sum(fault_count), 0) as faults, \
             coalesce(sum(volume_m3), 0) as volume_m3, coalesce(sum(hours_s), 0) as hours_s, \
             coalesce(sum(cost), 0) as cost, coalesce(sum(cost) filter \
             (where outcome <> 'finished' or fault_count > 0), 0) as cost_of_faults";
        let found =
            TotalsRow::find_by_statement(asking.select(what, self.0.get_database_backend()));
        let row = found.one(&self.0).await?.ok_or(StoreError::NotFound("record"))?;
        Ok(LedgerTotals {
            casts: row.casts.unsigned_abs(),
            finished: row.finished.unsigned_abs(),
            sound: row.sound.unsigned_abs(),
            faults: row.faults.unsigned_abs(),
            volume_m3: row.volume_m3,
            hours_s: row.hours_s,
            cost: row.cost,
            cost_of_faults: row.cost_of_faults,
        })
    }

    /// What is asked for, counted: months in order, others with the most casts first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ledger_groups(
        &self,
        workshop: WorkshopId,
        asked: &LedgerAsked,
        by: LedgerBy<'_>,
    ) -> Result<Vec<LedgerGroup>, StoreError> {
        let mut asking = Asking::of(workshop, asked)?;
        let (label, order) = match by {
            LedgerBy::Month(zone) => {
                let zone = asking.value(zone);
                (format!("to_char(d.ended_at at time zone {zone}, 'YYYY-MM')"), "label desc")
            }
            LedgerBy::Resin => ("d.resin".to_owned(), "casts desc, label"),
            LedgerBy::Kind => ("d.kind".to_owned(), "casts desc, label"),
        };
        let most = asking.value(MOST_GROUPS);
        asking.sql += &format!(" group by label order by {order} limit {most}");
        let what = format!(
            "{label} as label, count(*) as casts, count(*) filter \
             (where outcome <> 'finished' or fault_count > 0) as faulty, \
             coalesce(sum(volume_m3), 0) as volume_m3"
        );
        let found =
            GroupRow::find_by_statement(asking.select(&what, self.0.get_database_backend()));
        let mut groups: Vec<LedgerGroup> =
            found.all(&self.0).await?.into_iter().map(group).collect();
        if matches!(by, LedgerBy::Month(_)) {
            groups.reverse();
        }
        Ok(groups)
    }

    /// The figures of casts of a kind, or of all where it is empty, the latest first: what a shop's spread is
    /// known from.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn figures_of_kind(
        &self,
        workshop: WorkshopId,
        (kind, but, most): (&str, [CastId; 2], u64),
    ) -> Result<Vec<Figures>, StoreError> {
        let asked = LedgerAsked { kind: kind.to_owned(), ..LedgerAsked::default() };
        let mut asking = Asking::of(workshop, &asked)?;
        let [one, other] = but.map(|cast| asking.value(cast.0));
        let most = asking.value(i64::try_from(most).unwrap_or(i64::MAX));
        asking.sql += &format!(
            " and d.cast_id not in ({one}, {other}) order by d.ended_at desc limit {most}"
        );
        let statement = asking.select("d.figures, d.told", self.0.get_database_backend());
        let rows = FiguresRow::find_by_statement(statement).all(&self.0).await?;
        rows.iter().map(both).collect()
    }

    /// The figures of casts of a timber whose edges were not sealed, the latest first: what it absorbs is
    /// learnt from them.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn figures_of_timber(
        &self,
        workshop: WorkshopId,
        timber: &str,
        most: u64,
    ) -> Result<Vec<Figures>, StoreError> {
        let mut asking = Asking::of(workshop, &LedgerAsked::default())?;
        let timber = asking.value(timber);
        let most = asking.value(i64::try_from(most).unwrap_or(i64::MAX));
        asking.sql += &format!(
            " and d.timber = {timber} and d.figures ? 'absorbed' order by d.ended_at desc limit {most}"
        );
        let statement = asking.select("d.figures, d.told", self.0.get_database_backend());
        let rows = FiguresRow::find_by_statement(statement).all(&self.0).await?;
        rows.iter().map(both).collect()
    }

    /// Names of the resins of all records, in order.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ledger_resins(&self, workshop: WorkshopId) -> Result<Vec<String>, StoreError> {
        let mut asking = Asking::of(workshop, &LedgerAsked::default())?;
        asking.sql += " order by 1";
        let what = "distinct d.resin as label";
        let found = LabelRow::find_by_statement(asking.select(what, self.0.get_database_backend()));
        Ok(found.all(&self.0).await?.into_iter().map(|row| row.label).collect())
    }

    /// A figure of the latest casts of what is asked for, the oldest first: those in which it is known.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn ledger_figure(
        &self,
        workshop: WorkshopId,
        asked: &LedgerAsked,
        (figure, most): (Figure, u64),
    ) -> Result<Vec<f64>, StoreError> {
        let mut asking = Asking::of(workshop, asked)?;
        let most = asking.value(i64::try_from(most).unwrap_or(i64::MAX));
        asking.sql += &format!(" order by d.ended_at desc, d.cast_id desc limit {most}");
        let statement = asking.select("d.figures, d.told", self.0.get_database_backend());
        let rows = FiguresRow::find_by_statement(statement).all(&self.0).await?;
        let all: Result<Vec<Figures>, StoreError> = rows.iter().map(both).collect();
        Ok(all?.iter().rev().filter_map(|figures| figures.get(figure)).collect())
    }

    /// How often each cause of each fault was confirmed in a workshop.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn confirmed_causes(
        &self,
        workshop: WorkshopId,
    ) -> Result<fondant_record::diagnose::Confirmed, StoreError> {
        let sql = "select f.kind, f.cause, count(*) as times from record_fault f \
                   join \"cast\" c on c.id = f.cast_id where c.workshop_id = $1 \
                   and c.deleted_at is null and f.cause is not null group by f.kind, f.cause";
        let values = [workshop.0.into()];
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), sql, values);
        let mut confirmed = fondant_record::diagnose::Confirmed::default();
        for row in CauseRow::find_by_statement(statement).all(&self.0).await? {
            let times = u32::try_from(row.times).unwrap_or(u32::MAX);
            confirmed.set(of_word(&row.kind)?, of_word(&row.cause)?, times);
        }
        Ok(confirmed)
    }
}

fn both(row: &FiguresRow) -> Result<Figures, StoreError> {
    let mut figures: Figures = from_json(&row.figures)?;
    figures.overlay(&from_json(&row.told)?);
    Ok(figures)
}

fn row(row: Row) -> Result<LedgerRow, StoreError> {
    Ok(LedgerRow {
        cast: CastId(row.cast_id),
        name: row.name,
        ended_at: from_column(row.ended_at)?,
        outcome: of_word(&row.outcome)?,
        kind: row.kind,
        resin: row.resin,
        timber: row.timber,
        people: row.people,
        volume_m3: row.volume_m3,
        hours_s: row.hours_s,
        cost: row.cost,
        faults: row.fault_count.unsigned_abs(),
    })
}

fn group(row: GroupRow) -> LedgerGroup {
    LedgerGroup {
        label: row.label,
        casts: row.casts.unsigned_abs(),
        faulty: row.faulty.unsigned_abs(),
        volume_m3: row.volume_m3,
    }
}

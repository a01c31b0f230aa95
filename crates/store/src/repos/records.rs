//! Records of casts, and the faults of their pieces.

use fondant_record::causes::Cause;
use fondant_record::end::CastEnd;
use fondant_record::fault::Fault;
use jiff::Timestamp;
use sea_orm::sea_query::{Expr, ExprTrait, OnConflict};
use sea_orm::{ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};
use serde::Serialize;
use serde::de::DeserializeOwned;

use super::casts::of_workshop;
use super::{CastId, WorkshopId};
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{record, record_fault};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A record as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptRecord {
    /// It rises with every change; a change must name it.
    pub revision: i32,
    /// The cast is worked on again: what was said waits for its next end.
    pub is_open: bool,
    /// What is kept.
    pub end: CastEnd,
}

/// A fault's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct FaultId(pub i64);

impl std::fmt::Display for FaultId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A fault as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptFault {
    /// Database id.
    pub id: FaultId,
    /// When it was marked, UTC.
    pub marked_at: Timestamp,
    /// What is wrong.
    pub fault: Fault,
    /// The cause, once somebody knows.
    pub cause: Option<Cause>,
}

impl<C: ConnectionTrait> Session<C> {
    /// The record of a cast; `None` where it has never come to its end.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn record(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Option<KeptRecord>, StoreError> {
        let found = record::Entity::find_by_id(cast.0)
            .filter(record::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .one(&self.0)
            .await?;
        found.map(record_of).transpose()
    }

    /// The faults of a cast, in the order in which they were marked.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn faults(
        &self,
        workshop: WorkshopId,
        cast: CastId,
    ) -> Result<Vec<KeptFault>, StoreError> {
        let found = record_fault::Entity::find()
            .filter(record_fault::Column::CastId.in_subquery(of_workshop(workshop, cast)))
            .order_by_asc(record_fault::Column::Id)
            .all(&self.0)
            .await?;
        found.iter().map(fault_of).collect()
    }
}

impl Transaction {
    /// Keeps the record of a cast that is locked in this transaction, in place of the one at `before`; 0
    /// where there is none.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_record(
        &self,
        workshop: WorkshopId,
        cast: CastId,
        (name, end, before): (&str, &CastEnd, i32),
    ) -> Result<(), StoreError> {
        let count = self.faults(workshop, cast).await?.len();
        let row = record::ActiveModel {
            cast_id: ActiveValue::Set(cast.0),
            workshop_id: ActiveValue::Set(workshop.0),
            ended_at: ActiveValue::Set(to_column(end.ended_at)?),
            revision: ActiveValue::Set(before.saturating_add(1)),
            is_open: ActiveValue::Set(false),
            outcome: ActiveValue::Set(word(&end.outcome)?),
            kind: ActiveValue::Set(end.kind.clone()),
            resin: ActiveValue::Set(end.resin.clone()),
            timber: ActiveValue::Set(end.timber.clone()),
            people: ActiveValue::Set(end.people.clone()),
            note: ActiveValue::Set(end.note.clone()),
            volume_m3: ActiveValue::Set(end.volume_m3),
            hours_s: ActiveValue::Set(end.hours_s),
            cost: ActiveValue::Set(end.cost),
            fault_count: ActiveValue::Set(i32::try_from(count).unwrap_or(i32::MAX)),
            words: ActiveValue::Set(words(name, end)),
            figures: ActiveValue::Set(to_json(&end.figures)?),
            told: ActiveValue::Set(to_json(&end.told)?),
        };
        let all = <record::Column as sea_orm::Iterable>::iter();
        record::Entity::insert(row)
            .on_conflict(OnConflict::column(record::Column::CastId).update_columns(all).to_owned())
            .exec_without_returning(&self.0)
            .await?;
        Ok(())
    }

    /// Takes a cast out of the ledger: it is worked on again. What was said is kept.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn reopen_record(&self, cast: CastId) -> Result<(), StoreError> {
        record::Entity::update_many()
            .col_expr(record::Column::IsOpen, Expr::value(true))
            .col_expr(record::Column::Revision, Expr::col(record::Column::Revision).add(1))
            .filter(record::Column::CastId.eq(cast.0))
            .filter(record::Column::IsOpen.eq(false))
            .exec(&self.0)
            .await?;
        Ok(())
    }

    /// Marks a fault of a cast that is locked in this transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_fault(
        &self,
        cast: CastId,
        fault: &Fault,
        now: Timestamp,
    ) -> Result<FaultId, StoreError> {
        let row = record_fault::ActiveModel {
            id: ActiveValue::NotSet,
            cast_id: ActiveValue::Set(cast.0),
            kind: ActiveValue::Set(word(&fault.kind)?),
            cause: ActiveValue::Set(None),
            marked_at: ActiveValue::Set(to_column(now)?),
            document: ActiveValue::Set(to_json(fault)?),
        };
        let id = record_fault::Entity::insert(row).exec(&self.0).await?.last_insert_id;
        self.count_faults(cast, 1).await?;
        Ok(FaultId(id))
    }

    /// Takes a fault back that was marked by mistake.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such fault.
    pub async fn remove_fault(&self, cast: CastId, id: FaultId) -> Result<(), StoreError> {
        let gone = record_fault::Entity::delete_many()
            .filter(record_fault::Column::Id.eq(id.0))
            .filter(record_fault::Column::CastId.eq(cast.0))
            .exec(&self.0)
            .await?;
        if gone.rows_affected == 0 {
            return Err(StoreError::NotFound("fault"));
        }
        self.count_faults(cast, -1).await
    }

    /// Says what a fault came from, or that nobody knows after all.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the cast has no such fault.
    pub async fn confirm_cause(
        &self,
        cast: CastId,
        id: FaultId,
        cause: Option<Cause>,
    ) -> Result<(), StoreError> {
        let cause = cause.as_ref().map(word).transpose()?;
        let told = record_fault::Entity::update_many()
            .col_expr(record_fault::Column::Cause, Expr::value(cause))
            .filter(record_fault::Column::Id.eq(id.0))
            .filter(record_fault::Column::CastId.eq(cast.0))
            .exec(&self.0)
            .await?;
        if told.rows_affected == 0 { Err(StoreError::NotFound("fault")) } else { Ok(()) }
    }

    async fn count_faults(&self, cast: CastId, more: i32) -> Result<(), StoreError> {
        let count = Expr::col(record::Column::FaultCount).add(more);
        record::Entity::update_many()
            .col_expr(record::Column::FaultCount, count)
            .filter(record::Column::CastId.eq(cast.0))
            .exec(&self.0)
            .await?;
        Ok(())
    }
}

fn record_of(row: record::Model) -> Result<KeptRecord, StoreError> {
    let (revision, is_open) = (row.revision, row.is_open);
    let end = CastEnd {
        ended_at: from_column(row.ended_at)?,
        outcome: of_word(&row.outcome)?,
        kind: row.kind,
        resin: row.resin,
        timber: row.timber,
        people: row.people,
        note: row.note,
        volume_m3: row.volume_m3,
        hours_s: row.hours_s,
        cost: row.cost,
        figures: from_json(&row.figures)?,
        told: from_json(&row.told)?,
    };
    Ok(KeptRecord { revision, is_open, end })
}

fn fault_of(row: &record_fault::Model) -> Result<KeptFault, StoreError> {
    Ok(KeptFault {
        id: FaultId(row.id),
        marked_at: from_column(row.marked_at)?,
        fault: from_json(&row.document)?,
        cause: row.cause.as_deref().map(of_word).transpose()?,
    })
}

/// What the ledger is searched by, line by line.
fn words(name: &str, end: &CastEnd) -> String {
    let lines = [name, &end.resin, &end.timber, &end.people, &end.note];
    lines.map(|line| line.replace('\n', " ")).join("\n")
}

/// An enum's name in a column: as in JSON.
pub(super) fn word<T: Serialize>(value: &T) -> Result<String, StoreError> {
    let json = to_json(value)?;
    Ok(json.as_str().unwrap_or_default().to_owned())
}

pub(super) fn of_word<T: DeserializeOwned>(word: &str) -> Result<T, StoreError> {
    from_json(&serde_json::Value::from(word))
}

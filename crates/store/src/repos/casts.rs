//! Casts and the revisions of their documents.

use std::collections::HashMap;

use fondant_cast::Document;
use jiff::Timestamp;
use sea_orm::sea_query::{Expr, SelectStatement};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter,
    QueryOrder, QuerySelect, QueryTrait, Statement,
};

use super::WorkshopId;
use crate::convert::{from_json, to_column, to_json};
use crate::entities::{cast, cast_revision};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A cast's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct CastId(pub i64);

impl std::fmt::Display for CastId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A cast with its newest document.
#[derive(Debug, Clone, PartialEq)]
pub struct CastRecord {
    /// Database id.
    pub id: CastId,
    /// The newest revision; an edit must name it.
    pub revision: i32,
    /// The document.
    pub document: Document,
    /// There is a change to undo.
    pub can_undo: bool,
    /// There is a change to redo.
    pub can_redo: bool,
    /// It has come to its end, and stands in the ledger.
    pub has_ended: bool,
    /// The workshop has no other: its first one.
    pub is_only: bool,
}

/// A step through the changes of a document.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Step {
    /// Back.
    Undo,
    /// Forward again.
    Redo,
}

/// What a new revision leads back and forward to.
#[derive(Debug, Clone, Copy)]
struct Links {
    undo_to: Option<i32>,
    redo_to: Option<i32>,
}

/// A cast joined with its newest revision.
#[derive(FromQueryResult)]
struct Row {
    id: i64,
    revision: i32,
    plan: serde_json::Value,
    undo_to: Option<i32>,
    redo_to: Option<i32>,
    has_ended: bool,
    is_only: bool,
}

const NEWEST: &str = "select c.id, c.revision, r.plan, r.undo_to, r.redo_to, \
     exists (select 1 from record d where d.cast_id = c.id and not d.is_open) as has_ended, \
     not exists (select 1 from \"cast\" o where o.workshop_id = c.workshop_id and o.id <> c.id) \
     as is_only \
     from \"cast\" c join cast_revision r on r.cast_id = c.id and r.number = c.revision \
     where c.workshop_id = $1 and c.deleted_at is null";

/// The id of a cast, where it is one of this workshop: for rows that belong to a cast.
pub(super) fn of_workshop(workshop: WorkshopId, id: CastId) -> SelectStatement {
    let found = cast::Entity::find_by_id(id.0).filter(cast::Column::WorkshopId.eq(workshop.0));
    found.select_only().column(cast::Column::Id).into_query()
}

impl<C: ConnectionTrait> Session<C> {
    /// A cast with its newest document.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where this workshop has none of that number;
    /// [`StoreError::Corrupt`] where what is kept cannot be read.
    pub async fn cast(&self, workshop: WorkshopId, id: CastId) -> Result<CastRecord, StoreError> {
        let values = [workshop.0.into(), id.0.into()];
        let sql = format!("{NEWEST} and c.id = $2");
        let statement = Statement::from_sql_and_values(self.0.get_database_backend(), sql, values);
        let row = Row::find_by_statement(statement).one(&self.0).await?;
        let row = row.ok_or(StoreError::NotFound("cast"))?;
        Ok(CastRecord {
            id: CastId(row.id),
            revision: row.revision,
            document: from_json(&row.plan)?,
            can_undo: row.undo_to.is_some(),
            can_redo: row.redo_to.is_some(),
            has_ended: row.has_ended,
            is_only: row.is_only,
        })
    }

    /// All casts of a workshop but those that are deleted, the one that was begun first first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn cast_ids(&self, workshop: WorkshopId) -> Result<Vec<CastId>, StoreError> {
        let found = cast::Entity::find()
            .select_only()
            .column(cast::Column::Id)
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::DeletedAt.is_null())
            .order_by_asc(cast::Column::Id)
            .into_tuple::<i64>()
            .all(&self.0)
            .await?;
        Ok(found.into_iter().map(CastId).collect())
    }

    /// The names of casts, by their numbers; those that are deleted have none.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn cast_names(
        &self,
        workshop: WorkshopId,
        ids: &[CastId],
    ) -> Result<HashMap<CastId, String>, StoreError> {
        let found = cast::Entity::find()
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::DeletedAt.is_null())
            .filter(cast::Column::Id.is_in(ids.iter().map(|id| id.0)))
            .all(&self.0)
            .await?;
        Ok(found.into_iter().map(|cast| (CastId(cast.id), cast.name)).collect())
    }
}

impl<C: ConnectionTrait> Session<C> {
    /// The document that a step from a revision leads to.
    ///
    /// # Errors
    /// [`StoreError::Nothing`] where there is none.
    pub async fn step_target(
        &self,
        workshop: WorkshopId,
        id: CastId,
        expected: i32,
        step: Step,
    ) -> Result<Document, StoreError> {
        self.cast(workshop, id).await?;
        from_json(&self.target(id, expected, step).await?.plan)
    }

    async fn target(
        &self,
        id: CastId,
        expected: i32,
        step: Step,
    ) -> Result<cast_revision::Model, StoreError> {
        let newest = self.revision(id, expected).await?;
        let to = match step {
            Step::Undo => newest.undo_to.ok_or(StoreError::Nothing("undo"))?,
            Step::Redo => newest.redo_to.ok_or(StoreError::Nothing("redo"))?,
        };
        self.revision(id, to).await
    }

    async fn revision(&self, id: CastId, number: i32) -> Result<cast_revision::Model, StoreError> {
        cast_revision::Entity::find_by_id((id.0, number))
            .one(&self.0)
            .await?
            .ok_or(StoreError::NotFound("revision"))
    }
}

impl Transaction {
    /// Begins a cast with its first document.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn create_cast(
        &self,
        workshop: WorkshopId,
        document: &Document,
        now: Timestamp,
    ) -> Result<CastId, StoreError> {
        let row = cast::ActiveModel {
            id: ActiveValue::NotSet,
            workshop_id: ActiveValue::Set(workshop.0),
            name: ActiveValue::Set(document.name.clone()),
            revision: ActiveValue::Set(1),
            created_at: ActiveValue::Set(to_column(now)?),
            updated_at: ActiveValue::Set(to_column(now)?),
            put_away_at: ActiveValue::Set(None),
            deleted_at: ActiveValue::Set(None),
        };
        let id = CastId(cast::Entity::insert(row).exec(&self.0).await?.last_insert_id);
        self.add_revision(id, 1, document, Links { undo_to: None, redo_to: None }, now).await?;
        Ok(id)
    }

    /// Locks a cast until this transaction ends, so that what happens to it happens one after the
    /// other. Returns its revision.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where this workshop has none of that number.
    pub async fn lock_cast(&self, workshop: WorkshopId, id: CastId) -> Result<i32, StoreError> {
        let head = cast::Entity::find_by_id(id.0)
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::DeletedAt.is_null())
            .lock_exclusive()
            .one(&self.0)
            .await?;
        Ok(head.ok_or(StoreError::NotFound("cast"))?.revision)
    }

    /// Locks a cast that is still at a revision.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has changed it since.
    pub async fn lock_cast_at(
        &self,
        workshop: WorkshopId,
        id: CastId,
        expected: i32,
    ) -> Result<(), StoreError> {
        let current = self.lock_cast(workshop, id).await?;
        if current == expected { Ok(()) } else { Err(StoreError::Stale { expected, current }) }
    }

    /// Keeps a changed document of a cast that is locked at `expected`. Returns the new revision.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn save_document(
        &self,
        workshop: WorkshopId,
        id: CastId,
        expected: i32,
        document: &Document,
        now: Timestamp,
    ) -> Result<i32, StoreError> {
        let links = Links { undo_to: Some(expected), redo_to: None };
        self.advance(workshop, (id, expected), document, links, now).await
    }

    /// Goes back to before the last change, or to what the last undo took away, with the document of it
    /// as a new revision of a cast that is locked at `expected`. Returns its number.
    ///
    /// # Errors
    /// [`StoreError::Nothing`] where there is none.
    pub async fn step(
        &self,
        workshop: WorkshopId,
        (id, expected): (CastId, i32),
        step: Step,
        document: &Document,
        now: Timestamp,
    ) -> Result<i32, StoreError> {
        let target = self.target(id, expected, step).await?;
        let redo_to = match step {
            Step::Undo => Some(expected),
            Step::Redo => target.redo_to,
        };
        let links = Links { undo_to: target.undo_to, redo_to };
        self.advance(workshop, (id, expected), document, links, now).await
    }

    /// Moves the cast to a new revision. The condition on the former one decides
    /// between two that save at the same moment: the second changes no row.
    async fn advance(
        &self,
        workshop: WorkshopId,
        (id, expected): (CastId, i32),
        document: &Document,
        links: Links,
        now: Timestamp,
    ) -> Result<i32, StoreError> {
        let number = expected + 1;
        let changed = cast::Entity::update_many()
            .col_expr(cast::Column::Revision, Expr::value(number))
            .col_expr(cast::Column::Name, Expr::value(document.name.clone()))
            .col_expr(cast::Column::UpdatedAt, Expr::value(to_column(now)?))
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .filter(cast::Column::Id.eq(id.0))
            .filter(cast::Column::Revision.eq(expected))
            .exec(&self.0)
            .await?;
        if changed.rows_affected != 1 {
            return Err(StoreError::Stale { expected, current: number });
        }
        self.add_revision(id, number, document, links, now).await?;
        Ok(number)
    }

    async fn add_revision(
        &self,
        id: CastId,
        number: i32,
        document: &Document,
        links: Links,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let schema =
            i32::try_from(document.schema).map_err(|e| StoreError::Corrupt(e.to_string()))?;
        let row = cast_revision::ActiveModel {
            cast_id: ActiveValue::Set(id.0),
            number: ActiveValue::Set(number),
            schema_version: ActiveValue::Set(schema),
            plan: ActiveValue::Set(to_json(document)?),
            undo_to: ActiveValue::Set(links.undo_to),
            redo_to: ActiveValue::Set(links.redo_to),
            created_at: ActiveValue::Set(to_column(now)?),
        };
        cast_revision::Entity::insert(row).exec_without_returning(&self.0).await?;
        Ok(())
    }
}

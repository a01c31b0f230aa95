//! Casts and the revisions of their plans.

use fondant_cast::Plan;
use jiff::Timestamp;
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{
    ActiveValue, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder,
    TransactionTrait,
};

use super::WorkshopId;
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::{cast, cast_revision};
use crate::{Store, StoreError};

/// A cast's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct CastId(pub i64);

/// A cast with its newest plan.
#[derive(Debug, Clone, PartialEq)]
pub struct CastRecord {
    /// Its number.
    pub id: CastId,
    /// The newest revision; a change must name it.
    pub revision: i32,
    /// The plan.
    pub plan: Plan,
    /// There is a change to undo.
    pub can_undo: bool,
    /// There is a change to redo.
    pub can_redo: bool,
}

/// A cast in a list.
#[derive(Debug, Clone, PartialEq)]
pub struct CastSummary {
    /// Its number.
    pub id: CastId,
    /// When its plan last changed.
    pub updated_at: Timestamp,
    /// The newest plan.
    pub plan: Plan,
}

/// A step through the changes of a plan.
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

impl Store {
    /// The casts of a workshop, the one changed last first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn casts(&self, workshop: WorkshopId) -> Result<Vec<CastSummary>, StoreError> {
        let heads = cast::Entity::find()
            .filter(cast::Column::WorkshopId.eq(workshop.0))
            .order_by_desc(cast::Column::UpdatedAt)
            .all(&self.db)
            .await?;
        // One query for all newest plans instead of one for each cast.
        let newest = cast_revision::Entity::find()
            .filter(
                Expr::tuple([
                    Expr::col(cast_revision::Column::CastId),
                    Expr::col(cast_revision::Column::Number),
                ])
                .in_tuples(heads.iter().map(|head| (head.id, head.revision))),
            )
            .all(&self.db)
            .await?;
        let mut plans: std::collections::HashMap<i64, _> =
            newest.into_iter().map(|row| (row.cast_id, row.plan)).collect();
        heads
            .into_iter()
            .map(|head| {
                let plan = plans.remove(&head.id).ok_or(StoreError::NotFound("plan"))?;
                Ok(CastSummary {
                    id: CastId(head.id),
                    updated_at: from_column(head.updated_at)?,
                    plan: from_json(&plan)?,
                })
            })
            .collect()
    }

    /// A cast with its newest plan.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where this workshop has none of that number.
    pub async fn cast(&self, workshop: WorkshopId, id: CastId) -> Result<CastRecord, StoreError> {
        let head = head(&self.db, workshop, id).await?;
        record(&head, &revision(&self.db, id, head.revision).await?)
    }

    /// Begins a cast with its first plan.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn create_cast(
        &self,
        workshop: WorkshopId,
        plan: &Plan,
        now: Timestamp,
    ) -> Result<CastId, StoreError> {
        let transaction = self.db.begin().await?;
        let row = cast::ActiveModel {
            id: ActiveValue::NotSet,
            workshop_id: ActiveValue::Set(workshop.0),
            name: ActiveValue::Set(plan.name.clone()),
            revision: ActiveValue::Set(1),
            created_at: ActiveValue::Set(to_column(now)?),
            updated_at: ActiveValue::Set(to_column(now)?),
        };
        let id = CastId(cast::Entity::insert(row).exec(&transaction).await?.last_insert_id);
        let links = Links { undo_to: None, redo_to: None };
        add_revision(&transaction, id, 1, plan, links, now).await?;
        transaction.commit().await?;
        Ok(id)
    }

    /// Keeps a changed plan, if nobody has changed it since `expected`.
    /// Returns the new revision. A plan equal to the kept one makes no revision.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has, and nothing is written.
    pub async fn save_plan(
        &self,
        workshop: WorkshopId,
        id: CastId,
        expected: i32,
        plan: &Plan,
        now: Timestamp,
    ) -> Result<i32, StoreError> {
        let transaction = self.db.begin().await?;
        let head = head(&transaction, workshop, id).await?;
        require(&head, expected)?;
        if revision(&transaction, id, expected).await?.plan == to_json(plan)? {
            return Ok(expected);
        }
        let links = Links { undo_to: Some(expected), redo_to: None };
        let number = advance(&transaction, &head, plan, links, now).await?;
        transaction.commit().await?;
        Ok(number)
    }

    /// Brings back the plan before the last change, or the one that the last
    /// undo took away, as a new revision.
    ///
    /// # Errors
    /// [`StoreError::Nothing`] where there is none; [`StoreError::Stale`].
    pub async fn step(
        &self,
        workshop: WorkshopId,
        id: CastId,
        expected: i32,
        step: Step,
        now: Timestamp,
    ) -> Result<i32, StoreError> {
        let transaction = self.db.begin().await?;
        let head = head(&transaction, workshop, id).await?;
        require(&head, expected)?;
        let newest = revision(&transaction, id, expected).await?;
        let to = match step {
            Step::Undo => newest.undo_to.ok_or(StoreError::Nothing("undo"))?,
            Step::Redo => newest.redo_to.ok_or(StoreError::Nothing("redo"))?,
        };
        let target = revision(&transaction, id, to).await?;
        let redo_to = match step {
            Step::Undo => Some(expected),
            Step::Redo => target.redo_to,
        };
        let links = Links { undo_to: target.undo_to, redo_to };
        let number = advance(&transaction, &head, &from_json(&target.plan)?, links, now).await?;
        transaction.commit().await?;
        Ok(number)
    }
}

async fn head(
    db: &impl ConnectionTrait,
    workshop: WorkshopId,
    id: CastId,
) -> Result<cast::Model, StoreError> {
    cast::Entity::find_by_id(id.0)
        .filter(cast::Column::WorkshopId.eq(workshop.0))
        .one(db)
        .await?
        .ok_or(StoreError::NotFound("cast"))
}

async fn revision(
    db: &impl ConnectionTrait,
    id: CastId,
    number: i32,
) -> Result<cast_revision::Model, StoreError> {
    cast_revision::Entity::find_by_id((id.0, number))
        .one(db)
        .await?
        .ok_or(StoreError::NotFound("revision"))
}

fn require(head: &cast::Model, expected: i32) -> Result<(), StoreError> {
    if head.revision == expected {
        Ok(())
    } else {
        Err(StoreError::Stale { expected, current: head.revision })
    }
}

/// Moves the cast to a new revision. The condition on the old one decides
/// between two that save at the same moment: the second changes no row.
async fn advance(
    db: &impl ConnectionTrait,
    head: &cast::Model,
    plan: &Plan,
    links: Links,
    now: Timestamp,
) -> Result<i32, StoreError> {
    let number = head.revision + 1;
    let changed = cast::Entity::update_many()
        .col_expr(cast::Column::Revision, Expr::value(number))
        .col_expr(cast::Column::Name, Expr::value(plan.name.clone()))
        .col_expr(cast::Column::UpdatedAt, Expr::value(to_column(now)?))
        .filter(cast::Column::Id.eq(head.id))
        .filter(cast::Column::Revision.eq(head.revision))
        .exec(db)
        .await?;
    if changed.rows_affected != 1 {
        return Err(StoreError::Stale { expected: head.revision, current: number });
    }
    add_revision(db, CastId(head.id), number, plan, links, now).await?;
    Ok(number)
}

async fn add_revision(
    db: &impl ConnectionTrait,
    id: CastId,
    number: i32,
    plan: &Plan,
    links: Links,
    now: Timestamp,
) -> Result<(), StoreError> {
    let schema = i32::try_from(plan.schema).map_err(|e| StoreError::Corrupt(e.to_string()))?;
    let row = cast_revision::ActiveModel {
        cast_id: ActiveValue::Set(id.0),
        number: ActiveValue::Set(number),
        schema_version: ActiveValue::Set(schema),
        plan: ActiveValue::Set(to_json(plan)?),
        undo_to: ActiveValue::Set(links.undo_to),
        redo_to: ActiveValue::Set(links.redo_to),
        created_at: ActiveValue::Set(to_column(now)?),
    };
    cast_revision::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

fn record(head: &cast::Model, newest: &cast_revision::Model) -> Result<CastRecord, StoreError> {
    Ok(CastRecord {
        id: CastId(head.id),
        revision: head.revision,
        plan: from_json(&newest.plan)?,
        can_undo: newest.undo_to.is_some(),
        can_redo: newest.redo_to.is_some(),
    })
}

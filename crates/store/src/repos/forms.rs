//! Forms and moulds that a shop has, and the casts that book them.

use std::collections::HashMap;

use fondant_shapes::form::owned::OwnedForm;
use sea_orm::sea_query::{Expr, ExprTrait};
use sea_orm::{
    ActiveValue, ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect,
};

use super::{CastId, WorkshopId};
use crate::convert::{from_json, to_json};
use crate::entities::cast;
use crate::entities::owned_form::{ActiveModel, Column, Entity, Model};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// A form's number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
#[serde(transparent)]
pub struct FormId(pub i64);

impl std::fmt::Display for FormId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A form or mould and who uses it.
#[derive(Debug, Clone, PartialEq)]
pub struct FormRecord {
    /// Database id.
    pub id: FormId,
    /// Counts its changes.
    pub revision: i32,
    /// The form.
    pub form: OwnedForm,
    /// The cast that uses it.
    pub booked_by: Option<BookedBy>,
}

/// A cast that uses a form.
#[derive(Debug, Clone, PartialEq)]
pub struct BookedBy {
    /// The cast.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
}

/// The forms of a workshop.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Forms {
    /// Those that can be read, the one added last first.
    pub all: Vec<FormRecord>,
    /// Number of rows that cannot be read.
    pub unreadable: usize,
}

impl<C: ConnectionTrait> Session<C> {
    /// All forms of a workshop.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn forms(&self, workshop: WorkshopId) -> Result<Forms, StoreError> {
        let rows = Entity::find()
            .filter(Column::WorkshopId.eq(workshop.0))
            .order_by_desc(Column::Id)
            .all(&self.0)
            .await?;
        let names = self.names(rows.iter().filter_map(|row| row.booked_by)).await?;
        let read = rows.iter().filter_map(|row| record(row, &names).ok());
        let all: Vec<FormRecord> = read.collect();
        Ok(Forms { unreadable: rows.len() - all.len(), all })
    }

    /// Names of casts.
    async fn names(
        &self,
        casts: impl Iterator<Item = i64>,
    ) -> Result<HashMap<i64, String>, StoreError> {
        let ids: Vec<i64> = casts.collect();
        if ids.is_empty() {
            return Ok(HashMap::new());
        }
        let named = cast::Entity::find()
            .select_only()
            .columns([cast::Column::Id, cast::Column::Name])
            .filter(cast::Column::Id.is_in(ids))
            .into_tuple::<(i64, String)>()
            .all(&self.0)
            .await?;
        Ok(named.into_iter().collect())
    }

    async fn form_row(&self, workshop: WorkshopId, id: FormId) -> Result<Model, StoreError> {
        let row = Entity::find().filter(of(workshop, id)).one(&self.0).await?;
        row.ok_or(StoreError::NotFound("form"))
    }
}

impl Transaction {
    /// Adds a form.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn add_form(
        &self,
        workshop: WorkshopId,
        form: &OwnedForm,
    ) -> Result<FormId, StoreError> {
        let row = ActiveModel {
            id: ActiveValue::NotSet,
            workshop_id: ActiveValue::Set(workshop.0),
            revision: ActiveValue::Set(1),
            document: ActiveValue::Set(to_json(form)?),
            booked_by: ActiveValue::Set(None),
        };
        Ok(FormId(Entity::insert(row).exec(&self.0).await?.last_insert_id))
    }

    /// Changes a form, if nobody has since `expected`.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has, and nothing is written.
    pub async fn save_form(
        &self,
        workshop: WorkshopId,
        id: FormId,
        expected: i32,
        form: &OwnedForm,
    ) -> Result<(), StoreError> {
        let changed = Entity::update_many()
            .col_expr(Column::Document, Expr::value(to_json(form)?))
            .col_expr(Column::Revision, Expr::col(Column::Revision).add(1))
            .filter(of(workshop, id).add(Column::Revision.eq(expected)))
            .exec(&self.0)
            .await?;
        if changed.rows_affected == 1 {
            return Ok(());
        }
        let now = self.form_row(workshop, id).await?;
        Err(StoreError::Stale { expected, current: now.revision })
    }

    /// Removes a form that no cast uses.
    ///
    /// # Errors
    /// [`StoreError::Booked`] where one does.
    pub async fn remove_form(&self, workshop: WorkshopId, id: FormId) -> Result<(), StoreError> {
        let gone = Entity::delete_many()
            .filter(of(workshop, id).add(Column::BookedBy.is_null()))
            .exec(&self.0)
            .await?;
        if gone.rows_affected == 1 {
            return Ok(());
        }
        self.form_row(workshop, id).await?;
        Err(StoreError::Booked)
    }

    /// Books a form for a cast that is locked in this transaction, which lets go of any other.
    ///
    /// # Errors
    /// [`StoreError::Booked`] where another cast uses it; nothing is changed then.
    pub async fn book_form(
        &self,
        workshop: WorkshopId,
        id: FormId,
        cast: CastId,
    ) -> Result<(), StoreError> {
        let free =
            Condition::any().add(Column::BookedBy.is_null()).add(Column::BookedBy.eq(cast.0));
        let changed = Entity::update_many()
            .col_expr(Column::BookedBy, Expr::value(cast.0))
            .filter(of(workshop, id).add(free))
            .exec(&self.0)
            .await?;
        if changed.rows_affected == 0 {
            self.form_row(workshop, id).await?;
            return Err(StoreError::Booked);
        }
        let others = Condition::all()
            .add(Column::WorkshopId.eq(workshop.0))
            .add(Column::BookedBy.eq(cast.0))
            .add(Column::Id.ne(id.0));
        self.let_go(others).await
    }

    /// Lets go of the form that a cast uses, which is locked in this transaction.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn release_form(&self, workshop: WorkshopId, cast: CastId) -> Result<(), StoreError> {
        let booked = Condition::all()
            .add(Column::WorkshopId.eq(workshop.0))
            .add(Column::BookedBy.eq(cast.0));
        self.let_go(booked).await
    }

    async fn let_go(&self, which: Condition) -> Result<(), StoreError> {
        Entity::update_many()
            .col_expr(Column::BookedBy, Expr::value(Option::<i64>::None))
            .filter(which)
            .exec(&self.0)
            .await?;
        Ok(())
    }
}

fn of(workshop: WorkshopId, id: FormId) -> Condition {
    Condition::all().add(Column::WorkshopId.eq(workshop.0)).add(Column::Id.eq(id.0))
}

fn record(row: &Model, names: &HashMap<i64, String>) -> Result<FormRecord, StoreError> {
    let booking = |cast: i64| BookedBy {
        cast: CastId(cast),
        name: names.get(&cast).cloned().unwrap_or_default(),
    };
    Ok(FormRecord {
        id: FormId(row.id),
        revision: row.revision,
        form: from_json(&row.document)?,
        booked_by: row.booked_by.map(booking),
    })
}

//! A shop's shelf. Resins, colours, lots and calibrations are kept
//! alike: a document with a short name and a revision.

use fondant_materials::resin::shelf::{Colour, LessonRecord, Lot, OwnResin};
use fondant_quantities::Volume;
use jiff::Timestamp;
use sea_orm::sea_query::{Expr, ExprTrait, OnConflict};
use sea_orm::{
    ActiveValue, ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder,
    QuerySelect,
};
use serde::Serialize;
use serde::de::DeserializeOwned;

use super::WorkshopId;
use crate::convert::{from_column, from_json, to_column, to_json};
use crate::entities::shelf_item::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::{Session, Transaction};

/// Something that stands on the shelf.
pub trait ShelfItem: Serialize + DeserializeOwned {
    /// The word for its kind in the table.
    const KIND: &'static str;
}

impl ShelfItem for OwnResin {
    const KIND: &'static str = "resin";
}
impl ShelfItem for Colour {
    const KIND: &'static str = "colour";
}
impl ShelfItem for Lot {
    const KIND: &'static str = "lot";
}
impl ShelfItem for LessonRecord {
    const KIND: &'static str = "lesson";
}

/// An item as it is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept<T> {
    /// Id of the item within its shelf.
    pub slug: String,
    /// Counts its changes.
    pub revision: i32,
    /// The item.
    pub item: T,
    /// When it was last changed.
    pub updated_at: Timestamp,
}

/// The items of a kind.
#[derive(Debug, Clone, PartialEq)]
pub struct Shelved<T> {
    /// Those that can be read, the one added first first.
    pub items: Vec<Kept<T>>,
    /// Short names of those that cannot.
    pub unreadable: Vec<String>,
}

impl<C: ConnectionTrait> Session<C> {
    /// All items of a kind.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn shelf_items<T: ShelfItem>(
        &self,
        workshop: WorkshopId,
    ) -> Result<Shelved<T>, StoreError> {
        let rows = Entity::find()
            .filter(of_kind::<T>(workshop))
            .order_by_asc(Column::Id)
            .all(&self.0)
            .await?;
        let mut shelved = Shelved { items: Vec::new(), unreadable: Vec::new() };
        for row in rows {
            match from_json(&row.document) {
                Ok(item) => shelved.items.push(Kept {
                    item,
                    slug: row.slug,
                    revision: row.revision,
                    updated_at: from_column(row.updated_at)?,
                }),
                Err(_) => shelved.unreadable.push(row.slug),
            }
        }
        Ok(shelved)
    }
}

impl Transaction {
    /// Puts an item on the shelf, or changes the one of that short name if
    /// nobody has since `expected`; 0 expects none.
    ///
    /// # Errors
    /// [`StoreError::Stale`] where somebody has, and nothing is written.
    pub async fn put_on_shelf<T: ShelfItem>(
        &self,
        workshop: WorkshopId,
        slug: &str,
        expected: i32,
        item: &T,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let (document, updated_at) = (to_json(item)?, to_column(now)?);
        if expected == 0 {
            let row = ActiveModel {
                id: ActiveValue::NotSet,
                workshop_id: ActiveValue::Set(workshop.0),
                kind: ActiveValue::Set(T::KIND.to_owned()),
                slug: ActiveValue::Set(slug.to_owned()),
                revision: ActiveValue::Set(1),
                document: ActiveValue::Set(document),
                updated_at: ActiveValue::Set(updated_at),
            };
            // A name that is taken must not end the transaction, which says by whom.
            let mut unique = OnConflict::columns([Column::WorkshopId, Column::Kind, Column::Slug]);
            let added = Entity::insert(row)
                .on_conflict(unique.do_nothing().to_owned())
                .exec_without_returning(&self.0)
                .await?;
            if added == 0 {
                return Err(self.stale::<T>(workshop, slug, expected).await?);
            }
            return self.shelf_changed(workshop).await;
        }
        let changed = Entity::update_many()
            .col_expr(Column::Document, Expr::value(document))
            .col_expr(Column::UpdatedAt, Expr::value(updated_at))
            .col_expr(Column::Revision, Expr::col(Column::Revision).add(1))
            .filter(named::<T>(workshop, slug).add(Column::Revision.eq(expected)))
            .exec(&self.0)
            .await?;
        if changed.rows_affected == 1 {
            return self.shelf_changed(workshop).await;
        }
        Err(self.stale::<T>(workshop, slug, expected).await?)
    }

    /// Takes some of a lot, or puts it back where `by` is below zero; nothing where the lot is no longer
    /// on the shelf. What is left of it makes no difference to any plan, so that none is worked out
    /// again.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn draw_lot(
        &self,
        workshop: WorkshopId,
        slug: &str,
        by: Volume,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let of_lot = || named::<Lot>(workshop, slug);
        let found = Entity::find().filter(of_lot()).lock_exclusive().one(&self.0).await?;
        let Some(row) = found else { return Ok(()) };
        let Ok(mut lot) = from_json::<Lot>(&row.document) else { return Ok(()) };
        lot.left = (lot.left - by).max(Volume::ZERO);
        Entity::update_many()
            .col_expr(Column::Document, Expr::value(to_json(&lot)?))
            .col_expr(Column::UpdatedAt, Expr::value(to_column(now)?))
            .col_expr(Column::Revision, Expr::col(Column::Revision).add(1))
            .filter(of_lot())
            .exec(&self.0)
            .await?;
        Ok(())
    }

    /// Takes an item off the shelf.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none.
    pub async fn take_off_shelf<T: ShelfItem>(
        &self,
        workshop: WorkshopId,
        slug: &str,
    ) -> Result<(), StoreError> {
        let gone = Entity::delete_many().filter(named::<T>(workshop, slug)).exec(&self.0).await?;
        if gone.rows_affected != 1 {
            return Err(StoreError::NotFound(T::KIND));
        }
        self.shelf_changed(workshop).await
    }

    async fn stale<T: ShelfItem>(
        &self,
        workshop: WorkshopId,
        slug: &str,
        expected: i32,
    ) -> Result<StoreError, StoreError> {
        let row = Entity::find().filter(named::<T>(workshop, slug)).one(&self.0).await?;
        let current = row.ok_or(StoreError::NotFound(T::KIND))?.revision;
        Ok(StoreError::Stale { expected, current })
    }
}

fn of_kind<T: ShelfItem>(workshop: WorkshopId) -> Condition {
    Condition::all().add(Column::WorkshopId.eq(workshop.0)).add(Column::Kind.eq(T::KIND))
}

fn named<T: ShelfItem>(workshop: WorkshopId, slug: &str) -> Condition {
    of_kind::<T>(workshop).add(Column::Slug.eq(slug))
}

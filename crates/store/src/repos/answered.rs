//! Requests that added something, so that the same request sent twice adds it once.

use jiff::{SignedDuration, Timestamp};
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{ActiveValue, ColumnTrait, EntityTrait, QueryFilter};

use super::WorkshopId;
use crate::convert::to_column;
use crate::entities::answered_request::{ActiveModel, Column, Entity};
use crate::error::StoreError;
use crate::session::Transaction;

/// Keys are kept this long: a browser sends a form again within minutes, a phone that was away
/// within days.
const KEPT_FOR: SignedDuration = SignedDuration::from_hours(30 * 24);

impl Transaction {
    /// Takes the key of a request. `None` where it is new: the work is to be done in this
    /// transaction, and its result kept by [`Transaction::keep_answer`]. Else what the request has
    /// added before. Two of the same at once: the second waits for the first.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn answered(
        &self,
        workshop: WorkshopId,
        key: &str,
        now: Timestamp,
    ) -> Result<Option<Option<i64>>, StoreError> {
        let row = ActiveModel {
            workshop_id: ActiveValue::Set(workshop.0),
            key: ActiveValue::Set(key.to_owned()),
            result: ActiveValue::Set(None),
            answered_at: ActiveValue::Set(to_column(now)?),
        };
        let mut unique = OnConflict::columns([Column::WorkshopId, Column::Key]);
        let added = Entity::insert(row)
            .on_conflict(unique.do_nothing().to_owned())
            .exec_without_returning(&self.0)
            .await?;
        if added == 1 {
            return Ok(None);
        }
        let kept = Entity::find_by_id((workshop.0, key.to_owned())).one(&self.0).await?;
        Ok(Some(kept.and_then(|row| row.result)))
    }

    /// Keeps the number of what a request has added, and lets go of keys that are too old.
    ///
    /// # Errors
    /// [`StoreError`].
    pub async fn keep_answer(
        &self,
        workshop: WorkshopId,
        key: &str,
        result: i64,
        now: Timestamp,
    ) -> Result<(), StoreError> {
        let of_workshop = Column::WorkshopId.eq(workshop.0);
        Entity::update_many()
            .col_expr(Column::Result, Expr::value(result))
            .filter(of_workshop.clone())
            .filter(Column::Key.eq(key))
            .exec(&self.0)
            .await?;
        Entity::delete_many()
            .filter(of_workshop)
            .filter(Column::AnsweredAt.lt(to_column(now - KEPT_FOR)?))
            .exec(&self.0)
            .await?;
        Ok(())
    }
}
